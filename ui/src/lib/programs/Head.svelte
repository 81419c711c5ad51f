<script lang="ts">
  import { clock } from '$lib/format'
  import type { SheetEditor } from './editor.svelte'

  /** Minutes of a session over each week, with the client's minutes as a line, and days a week to change. */
  let { editor, column }: { editor: SheetEditor; column: number } = $props()
  const sheet = $derived(editor.sheet)
  const budget = $derived((editor.document.minutes ?? 0) * 60)
  const most = $derived(Math.max(budget * 1.15, 60, ...(sheet?.weeks.map((w) => w.seconds) ?? [])))
  const tall = 36
  const bar = (s: number) => (s / most) * tall
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
          >{/if}</th
      >
    {/each}
  </tr>
</thead>
