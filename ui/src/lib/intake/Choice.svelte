<script lang="ts" module>
  import Hint from '$lib/parts/Hint.svelte'
  /** Move to the question after (or before) this one in the page; false at the end. */
  export function walk(from: HTMLElement, step: 1 | -1): boolean {
    const all = [...document.querySelectorAll<HTMLElement>('[data-question]')]
    const next = all[all.indexOf(from) + step]
    next?.focus()
    next?.scrollIntoView({ block: 'nearest' })
    return !!next
  }

  export const YES_NO = [
    { value: 'yes', label: 'yes', key: 'y' },
    { value: 'no', label: 'no', key: 'n' },
    { value: 'unsure', label: 'not sure', key: 'u' }
  ]
</script>

<script lang="ts">
  /**
   * One question with a few answers. With the focus on it, an answer's key picks it and goes on to the next question;
   * up and down walk the questions, left and right the answers.
   */
  let {
    options,
    value,
    label,
    id,
    choose,
    big = false,
    tone,
    stay = false,
    takeBack = false,
    end
  }: {
    options: { value: string; label: string; key?: string; title?: string }[]
    value: string
    label: string
    /** Where "what to ask next" finds it. */
    id?: string
    choose: (value: string) => void
    /** For fingers. */
    big?: boolean
    tone?: 'right' | 'left'
    /** Keep the focus here after a key. */
    stay?: boolean
    /** Picking the chosen answer again takes it back. */
    takeBack?: boolean
    /** Called when a key answers the last question of the page. */
    end?: () => void
  } = $props()

  let root = $state<HTMLElement>()

  function pick(next: string, goOn: boolean) {
    choose(takeBack && next === value ? '' : next)
    if (goOn && !stay && root && !walk(root, 1)) end?.()
  }

  function press(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const found = options.find((o) => o.key === event.key.toLowerCase())
    if (found) {
      event.preventDefault()
      pick(found.value, true)
    } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      if (root) walk(root, event.key === 'ArrowDown' ? 1 : -1)
    } else if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      event.preventDefault()
      const place = options.findIndex((o) => o.value === value)
      const next =
        options[Math.min(options.length - 1, Math.max(0, place + (event.key === 'ArrowRight' ? 1 : -1)))]
      if (next && next.value !== value) choose(next.value)
    }
  }
  const chosenLook = $derived(
    tone === 'right'
      ? 'bg-side-right text-sheet border-side-right'
      : tone === 'left'
        ? 'bg-side-left text-sheet border-side-left'
        : 'bg-action text-sheet border-action'
  )
</script>

{#snippet button(o: (typeof options)[number], props: Record<string, unknown>)}
  <button
    {...props}
    type="button"
    role="radio"
    aria-checked={o.value === value}
    tabindex="-1"
    class="-ml-px border px-2 whitespace-nowrap first:ml-0 first:rounded-l-[4px] last:rounded-r-[4px] {big
      ? 'min-h-press min-w-[52px] px-3 text-sub'
      : 'min-h-chip min-w-[30px] text-small'} {o.value === value
      ? `z-10 font-bold ${chosenLook}`
      : 'border-edge bg-sheet'}"
    onclick={() => pick(o.value, false)}
  >
    {#if o.key && !big && o.key !== o.label && o.label.startsWith(o.key)}<span
        class="underline underline-offset-2">{o.key}</span
      >{o.label.slice(1)}{:else}{o.label}{/if}
  </button>
{/snippet}
<div
  bind:this={root}
  role="radiogroup"
  aria-label={label}
  tabindex="0"
  data-question={id ?? label}
  class="flex w-fit rounded-[4px]"
  onkeydown={press}
>
  {#each options as o (o.value)}
    {#if o.title}<Hint text={o.title}>{#snippet child({ props })}{@render button(o, props)}{/snippet}</Hint
      >{:else}{@render button(o, {})}{/if}
  {/each}
</div>
