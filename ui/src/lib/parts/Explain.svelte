<script lang="ts">
  import type { Snippet } from 'svelte'

  /** A word with what it means behind it: by pointer, key or finger. The dotted line says that there is more. */
  let { text, children, class: look = '' }: { text: string; children: Snippet; class?: string } = $props()
  const id = $props.id()
  let word = $state<HTMLElement | null>(null)
  let open = $state(false)
  /** So long a pointer rests on the word before it is explained. */
  const REST_MS = 350
  let timer = 0
  const rest = (event: PointerEvent) => {
    if (event.pointerType === 'mouse') timer = window.setTimeout(() => (open = true), REST_MS)
  }
  const go = (event: PointerEvent) => {
    clearTimeout(timer)
    if (event.pointerType === 'mouse') open = false
  }
</script>

<span class="contents">
  <button
    type="button"
    bind:this={word}
    aria-expanded={open}
    aria-describedby={id}
    class="cursor-help text-left underline decoration-dotted underline-offset-3 {look}"
    onpointerenter={rest}
    onpointerleave={go}
    onclick={() => {
      clearTimeout(timer)
      open = !open
    }}
    onkeydown={(e) => e.key === 'Escape' && (open = false)}>{@render children()}</button
  ><span {id} hidden>{text}</span>
</span>
{#if open}{#await import('./Opened.svelte') then { default: Opened }}
    <Opened bind:open anchor={word} focusInside={false} class="max-w-card px-3 py-2 text-small leading-snug"
      >{text}</Opened
    >
  {/await}{/if}
