<script lang="ts">
  import { close, takeBack, undo } from './undo.svelte'

  /** The last things that were done and can be taken back; Ctrl+Z takes back the newest where nothing else uses it. */
  let { big = false }: { big?: boolean } = $props()
  const seconds = (ms: number) => Math.max(1, Math.ceil(ms / 1000))

  function keys(event: KeyboardEvent) {
    const newest = undo.offers[0]
    if (!newest || event.key !== 'z' || !(event.ctrlKey || event.metaKey) || event.shiftKey) return
    if (event.defaultPrevented || (event.target as HTMLElement).closest('input, textarea, [role=grid]'))
      return
    event.preventDefault()
    void takeBack(newest)
  }
</script>

<svelte:window onkeydown={keys} />
<div
  class="pointer-events-none fixed inset-x-0 bottom-0 z-[60] flex flex-col items-center gap-1 pb-4"
  aria-live="polite"
>
  {#each undo.offers.slice(0, 3) as offer (offer.id)}
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <div
      class="pointer-events-auto flex max-w-[92vw] items-center gap-4 bg-ink px-4 text-paper {big
        ? 'min-h-hand text-sub'
        : 'min-h-touch text-base'}"
      onpointerenter={() => (offer.held = true)}
      onpointerleave={() => (offer.held = false)}
      onfocusin={() => (offer.held = true)}
      onfocusout={() => (offer.held = false)}
    >
      <span>{offer.problem || offer.says}</span>
      <button class="min-h-touch shrink-0 font-bold underline" onclick={() => takeBack(offer)}
        >{offer.failed ? 'Back to it' : offer.problem ? 'Try again' : 'Undo'}<span class="font-normal"
          >{offer.problem ? '' : `, ${seconds(offer.left)} s`}</span
        ></button
      >
      <button class="min-h-touch shrink-0 px-1" aria-label="Close this" onclick={() => close(offer)}
        ><svg viewBox="0 0 12 12" class="size-3" aria-hidden="true"
          ><path d="M1 1 11 11M11 1 1 11" stroke="currentColor" stroke-width="1.8" /></svg
        ></button
      >
    </div>
  {/each}
</div>
