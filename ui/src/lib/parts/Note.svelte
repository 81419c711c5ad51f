<script lang="ts">
  import type { Snippet } from 'svelte'
  import Mark from './Mark.svelte'
  let { weight, children }: { weight: 'fine' | 'watch' | 'stop' | 'remark'; children: Snippet } = $props()
</script>

<div class="flex gap-2 text-small leading-[1.38]">
  <Mark {weight} />
  <div>{@render children()}</div>
</div>
