<script lang="ts">
  import type { Days } from '$lib/offline/db'
  import Dialog from '$lib/parts/Dialog.svelte'
  import Signs from './Signs.svelte'

  /** The way to the sudden signs, wherever something is told. */
  let { view, words = 'Something sudden: face, arm, speech, sight?' }: { view: Days; words?: string } =
    $props()
  let open = $state(false)
</script>

<button
  class="inline-flex min-h-touch items-center text-left font-semibold text-stop underline"
  onclick={() => (open = true)}>{words}</button
>
<Dialog bind:open title="A sudden sign">
  <Signs {view} told={() => (open = false)} back={() => (open = false)} />
</Dialog>
