<script lang="ts">
  import type { Snippet } from 'svelte'

  /** A sheet of paper laid over the page. What draws it is fetched when the first one opens. */
  let {
    open = $bindable(false),
    title,
    children,
    width = 460
  }: { open?: boolean; title: string; children: Snippet; width?: number } = $props()
  /** Once opened it stays, so that it closes in its own time and gives the focus back. */
  let wanted = $state(false)
  $effect(() => {
    if (open) wanted = true
  })
</script>

{#if wanted}{#await import('./DialogSheet.svelte') then { default: DialogSheet }}
    <DialogSheet bind:open {title} {width} {children} />
  {/await}{/if}
