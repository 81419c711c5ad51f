<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { clock, shortDay } from '$lib/format'
  import type { SheetEditor } from './editor.svelte'

  /** Minutes of a session over each week, with the client's minutes as a line, and days a week to change. */
  let { editor, column }: { editor: SheetEditor; column: number } = $props()
  const sheet = $derived(editor.sheet)
  const budget = $derived((editor.document.minutes ?? 0) * 60)
  const most = $derived(Math.max(budget * 1.15, 60, ...(sheet?.weeks.map((w) => w.seconds) ?? [])))
  const tall = 36
  const bar = (s: number) => (s / most) * tall
  const stands = (week: number) => editor.standing.find((w) => w.week === week)
  type State = Schemas['WeekStandingView']['state']
  const SAYS: Record<State, string> = {
    practised: 'done',
    'eased back': 'eased',
    missed: 'missed',
    now: 'now',
    ahead: '',
    draft: 'draft'
  }
  /** Practised is full, eased back half full, missed hollow, now in the colour of what is done next, ahead thin, a draft dashed. */
  const BARS: Record<State, string> = {
    practised: 'bg-ink',
    'eased back': 'border border-ink bg-linear-to-b from-transparent from-50% to-ink to-50%',
    missed: 'border border-faint',
    now: 'bg-action',
    ahead: 'border-b border-ink',
    draft: 'border-b-2 border-dashed border-mark-watch'
  }
  const said = (week: number) => {
    const at = stands(week)
    if (!at) return ''
    const day = at.first ? `, from ${shortDay(at.first)}` : ''
    return at.state === 'draft' ? `a draft: this version does not hold yet${day}` : `${at.state}${day}`
  }
  const DAYS = [1, 2, 3, 3.5, 4, 5, 6, 7]
  const name = (n: number) => (n === 3.5 ? 'alt. days' : n === 7 ? 'daily' : n === 1 ? '1 day' : `${n} days`)
</script>

<thead>
  <tr class="border-b border-ink">
    <th colspan="2" class="sticky left-0 z-10 bg-paper pb-1 text-left align-bottom">
      <span class="block font-head text-base">Minutes a session</span>
      <span class="block text-note font-normal text-soft"
        >{budget ? `has ${editor.document.minutes} minutes a day` : 'no minutes noted'}</span
      >
    </th>
    {#each sheet?.weeks ?? [] as w (w.number)}
      {@const over = w.over}
      <th
        class="relative border-l border-rule pb-1 align-bottom font-normal {editor.place.week === w.number
          ? 'bg-sheet shadow-[inset_1px_0_0_var(--color-ink),inset_-1px_0_0_var(--color-ink),inset_0_1px_0_var(--color-ink)]'
          : ''}"
      >
        {#if budget}<span
            class="absolute right-0 left-0 border-t border-dashed border-mark-watch"
            style="bottom:{bar(budget) + 4}px"
          ></span>{/if}
        <div class="flex items-end gap-1.5 pl-1.5" style="height:{tall + 6}px">
          <span
            class="relative w-[9px] shrink-0 {w.lighter ? 'border border-ink bg-sheet' : 'bg-ink'}"
            style="height:{bar(Math.min(w.seconds, budget || w.seconds))}px"
          >
            {#if over}<span
                class="absolute bottom-full left-0 w-full bg-mark-watch"
                style="height:{bar(w.seconds - budget)}px"
              ></span>{/if}
          </span>
          <span
            class="relative min-w-0 text-left leading-[15px] {editor.place.week === w.number
              ? 'bg-sheet'
              : 'bg-paper'}"
          >
            <b class="block text-row {over ? 'text-watch' : ''}">{clock(w.seconds)}</b>
            <select
              class="block w-full appearance-none bg-transparent text-note text-soft"
              style="max-width:{column - 22}px"
              aria-label="Days in week {w.number}"
              value={w.sessions}
              onchange={(e) => editor.sessions(w.number, Number(e.currentTarget.value))}
            >
              {#each DAYS as n (n)}<option value={n}>{name(n)}</option>{/each}
            </select>
          </span>
        </div>
      </th>
    {/each}
  </tr>
  <tr class="border-b border-ink text-small">
    <th colspan="2" class="sticky left-0 z-10 bg-paper py-0.5 text-left font-normal text-soft">Week</th>
    {#each sheet?.weeks ?? [] as w (w.number)}
      <th
        class="border-l border-rule pl-1.5 text-left font-head text-base {editor.place.week === w.number
          ? 'bg-sheet shadow-[inset_1px_0_0_var(--color-ink),inset_-1px_0_0_var(--color-ink)]'
          : ''}"
        >{w.number}{#if w.lighter}<span class="pl-1 font-sans text-note font-normal text-soft">lighter</span
          >{:else if stands(w.number)}<span
            class="pl-1 font-sans text-note {stands(w.number)?.state === 'now'
              ? 'font-bold text-action'
              : 'font-normal text-soft'}">{SAYS[stands(w.number)?.state ?? 'ahead']}</span
          >{/if}{#if stands(w.number)}<span class="block h-[5px] {BARS[stands(w.number)?.state ?? 'ahead']}"
            ><span class="sr-only">{said(w.number)}</span></span
          >{/if}</th
      >
    {/each}
  </tr>
</thead>
