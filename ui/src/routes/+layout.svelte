<script lang="ts">
  import '../app.css'
  import { page } from '$app/state'
  import type { Snippet } from 'svelte'
  let { children }: { children: Snippet } = $props()
  /** Pages of clients and of links follow the system's dark appearance. */
  const reader = $derived(!page.route.id?.startsWith('/(coach)'))
</script>

<div class={reader ? 'reader' : ''} style="display: contents">{@render children()}</div>
