<script lang="ts">
  import { tick } from 'svelte'
  import type { HTMLInputAttributes } from 'svelte/elements'
  import { atClock, here } from '$lib/format'

  /** A day or a time of day. It is typed in the browser's own segments, so in the order and clock that the reader is used to, with
   * the form's own checks; a finger gets the system's wheels, and a pointer or Alt and the arrow down a calendar, or a list of times. */
  let {
    value = $bindable(''),
    type = 'date',
    class: look = 'field',
    onchange,
    ...rest
  }: Omit<HTMLInputAttributes, 'type' | 'value'> & {
    /** Year-month-day or hour:minute; empty while nothing whole is typed. */
    value?: string | null
    type?: 'date' | 'time'
    class?: string
  } = $props()
  let input = $state<HTMLInputElement | null>(null)
  let open = $state(false)
  let list = $state<HTMLElement | null>(null)

  /** Of the list: what is agreed on for practice is a quarter of an hour. */
  const STEP_MIN = 15
  const TIMES = Array.from({ length: (24 * 60) / STEP_MIN }, (_, i) => {
    const two = (n: number) => String(n).padStart(2, '0')
    return `${two(Math.floor((i * STEP_MIN) / 60))}:${two((i * STEP_MIN) % 60)}`
  })
  /** What is chosen goes the way of what is typed, so that the form and whoever listens hear the same events. */
  async function take(text: string) {
    if (!input) return
    value = text
    await tick()
    input.dispatchEvent(new Event('input', { bubbles: true }))
    input.dispatchEvent(new Event('change', { bubbles: true }))
    open = false
  }
  /** The list opens at the time that is chosen. */
  $effect(() => {
    if (!list) return
    const near = TIMES.findLast((t) => t <= (value || '07:00'))
    const at = list.querySelector<HTMLElement>(`[data-time="${near}"]`)
    at?.scrollIntoView({ block: 'center' })
    at?.focus()
  })
  function walk(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 4, PageUp: -4 }[event.key]
    if (!step) return
    event.preventDefault()
    const all = [...(list?.querySelectorAll<HTMLElement>('button') ?? [])]
    const at = all.indexOf(document.activeElement as HTMLElement)
    all[Math.max(0, Math.min(all.length - 1, at + step))]?.focus()
  }
</script>

<span class="when relative block min-w-0">
  <input
    {...rest}
    bind:this={input}
    bind:value
    {type}
    class="{look} pointer-fine:pr-9"
    {onchange}
    onkeydown={(e) => {
      if (!e.altKey || e.key !== 'ArrowDown') return
      e.preventDefault()
      open = true
    }}
  />
  <button
    type="button"
    tabindex="-1"
    aria-hidden="true"
    class="absolute inset-y-0 right-0 hidden w-9 items-center justify-center text-action pointer-fine:flex"
    onclick={() => (open = !open)}
    ><svg viewBox="0 0 16 16" class="size-4" fill="none" stroke="currentColor" stroke-width="1.5">
      {#if type === 'date'}<path d="M1.8 3.2h12.4v11H1.8zM1.8 6.6h12.4M5 1v3.4M11 1v3.4" />{:else}<circle
          cx="8"
          cy="8"
          r="6.3"
        /><path d="M8 4v4.2l2.8 1.6" />{/if}
    </svg></button
  >
  {#if open}{#await import('./Opened.svelte') then { default: Opened }}
      <Opened bind:open anchor={input} focusInside={false} focusAfter={input} class="p-2">
        {#if type === 'time'}
          <div
            bind:this={list}
            role="listbox"
            tabindex="-1"
            aria-label="Times"
            class="max-h-[260px] w-[124px] overflow-y-auto"
            onkeydown={walk}
          >
            {#each TIMES as t (t)}<button
                type="button"
                role="option"
                aria-selected={t === value}
                data-time={t}
                tabindex="-1"
                class="block min-h-chip w-full px-3 text-left focus:outline-2 focus:-outline-offset-2 focus:outline-action {t ===
                value
                  ? 'bg-action text-sheet'
                  : t.endsWith(':00')
                    ? ''
                    : 'text-soft'}"
                onclick={() => take(t)}>{atClock(t)}</button
              >{/each}
          </div>
        {:else}
          {#await import('./MonthPanel.svelte') then { default: MonthPanel }}
            <MonthPanel
              value={value ?? ''}
              near={String(rest.min ?? here())}
              min={String(rest.min ?? '')}
              max={String(rest.max ?? '')}
              {take}
            />
          {/await}
        {/if}
      </Opened>
    {/await}{/if}
</span>

<style>
  @media (pointer: fine) {
    .when input::-webkit-calendar-picker-indicator {
      display: none;
    }
  }
</style>
