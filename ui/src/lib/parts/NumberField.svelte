<script lang="ts">
  import { tick } from 'svelte'
  import type { HTMLInputAttributes } from 'svelte/elements'

  /** A number, typed, or a step more or less by pointer or finger; the arrow keys do the same. The steps keep to the least and most. */
  let {
    value = $bindable(),
    class: look = '',
    big = false,
    by = 1,
    ...rest
  }: Omit<HTMLInputAttributes, 'type' | 'value'> & {
    /** Empty text or null where nothing is typed. */
    value?: number | string | null
    class?: string
    /** For a finger at arm's length: a step stands on either side, as high as everything there. */
    big?: boolean
    /** How much a step is where any number may be typed (`step="any"`). */
    by?: number
  } = $props()
  let input = $state<HTMLInputElement | null>(null)

  async function step(up: boolean) {
    if (!input || input.disabled) return
    // What holds while nothing is typed is where a step begins.
    if (input.value === '' && Number(input.placeholder)) input.value = input.placeholder
    if (rest.step === 'any') {
      const next = (Number(input.value) || 0) + (up ? by : -by)
      const [least, most] = [Number(rest.min ?? -Infinity), Number(rest.max ?? Infinity)]
      input.valueAsNumber = Math.round(1000 * Math.min(most, Math.max(least, next))) / 1000
    } else if (up) input.stepUp()
    else input.stepDown()
    value = Number.isNaN(input.valueAsNumber) ? null : input.valueAsNumber
    await tick()
    input.dispatchEvent(new Event('input', { bubbles: true }))
    input.dispatchEvent(new Event('change', { bubbles: true }))
  }
</script>

{#snippet press(up: boolean, place: string)}
  <button
    type="button"
    tabindex="-1"
    aria-hidden="true"
    class="{place} text-action select-none hover:bg-band"
    onclick={() => step(up)}>{up ? '+' : '−'}</button
  >
{/snippet}

<span
  class="inline-flex field min-w-0 items-stretch !p-0 focus-within:outline-3 focus-within:outline-offset-2 focus-within:outline-action {big
    ? 'min-h-press'
    : ''} {look}"
>
  <input
    {...rest}
    bind:this={input}
    bind:value
    type="number"
    class="w-full min-w-0 bg-transparent outline-none {big ? 'order-2 px-1 text-center' : 'pl-[0.7rem]'}"
  />
  {#if big}
    {@render press(false, 'order-1 min-h-press w-touch shrink-0 text-big')}
    {@render press(true, 'order-3 min-h-press w-touch shrink-0 text-big')}
  {:else}
    {@render press(false, 'w-7 shrink-0 border-l border-rule')}
    {@render press(true, 'w-7 shrink-0 border-l border-rule')}
  {/if}
</span>
