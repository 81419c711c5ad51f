<script lang="ts">
  import Dialog from '$lib/parts/Dialog.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** Everything of a row besides its doses: stage, time of day, days, sides, circuit, note, and why it is here. */
  let { open = $bindable(false), editor }: { open?: boolean; editor: SheetEditor } = $props()
  const row = $derived(editor.row())
  const shown = $derived(editor.sheet?.lines[editor.place.row])
  const stages = [
    'prepare',
    'loosen',
    'wake',
    'work',
    'release',
    'drain',
    'close',
    'through the day'
  ] as const
  const parts = [
    ['morning', 'morning'],
    ['evening', 'evening'],
    ['both', 'both']
  ] as const
  const most = $derived(Math.max(...editor.document.sessions))
  const days = $derived(row?.days?.[editor.place.week - 1] ?? null)

  /** Days of this row in a number of weeks; it never has more than the program. */
  async function setDays(value: number | null, from: number) {
    if (!row) return
    const old = row.days ?? editor.document.sessions
    const next = value === null ? null : old.map((d, i) => (i + 1 >= from ? value : d))
    await editor.setRow(editor.place.row, { days: next })
  }
</script>

<Dialog bind:open title={shown?.name ?? ''} width={560}>
  {#if row && shown}
    {@const at = editor.place.row}
    <div class="grid gap-4">
      {#if row.why}<p class="border-l-[3px] border-action pl-3">{row.why}</p>{/if}
      <div class="grid grid-cols-2 gap-4">
        <label class="grid gap-1"
          >Stage<select
            class="field"
            value={row.stage}
            onchange={(e) => editor.setRow(at, { stage: e.currentTarget.value as (typeof stages)[number] })}
          >
            {#each stages as s (s)}<option value={s}>{s}</option>{/each}
          </select></label
        >
        <fieldset class="grid gap-1">
          <legend>Session</legend>
          <div class="flex gap-2">
            {#each parts as [value, name] (value)}
              <button
                type="button"
                class="act px-3 {row.when === value ? '' : 'act-quiet'}"
                aria-pressed={row.when === value}
                onclick={() => editor.setRow(at, { when: value })}>{name}</button
              >
            {/each}
          </div>
        </fieldset>
      </div>
      <fieldset>
        <legend>Days a week, from week {editor.place.week} on</legend>
        <div class="mt-1 flex flex-wrap gap-1.5">
          <button
            type="button"
            class="act px-3 {days === null ? '' : 'act-quiet'}"
            aria-pressed={days === null}
            onclick={() => setDays(null, 1)}>as the program</button
          >
          {#each Array.from({ length: Math.floor(most) }, (_, i) => i + 1) as n (n)}
            <button
              type="button"
              class="act min-w-[38px] px-2 {days === n ? '' : 'act-quiet'}"
              aria-pressed={days === n}
              aria-label="{n} {n === 1 ? 'day' : 'days'}"
              onclick={() => setDays(n, editor.place.week)}>{n}</button
            >
          {/each}
        </div>
        <p class="mt-1 text-small text-soft">Spaced as far apart as the week allows.</p>
      </fieldset>
      {#if at > 0}
        <label class="flex items-start gap-2"
          ><input
            type="checkbox"
            class="mt-1"
            checked={row.flows}
            onchange={(e) => editor.setRow(at, { flows: e.currentTarget.checked })}
          /><span
            >Flows on from the row above, without a change-over
            <span class="block text-small text-soft"
              >Oil that comes in or is washed off still takes its time.</span
            ></span
          ></label
        >
      {/if}
      {#if shown.sides !== 'together'}
        <fieldset>
          <legend>Sides</legend>
          <div class="mt-1 flex flex-wrap gap-1.5">
            <button type="button" class="act px-3 act-quiet" onclick={() => editor.sides(at, 'right')}
              >right more</button
            >
            <button type="button" class="act px-3 act-quiet" onclick={() => editor.sides(at, 'left')}
              >left more</button
            >
            <button type="button" class="act px-3 act-quiet" onclick={() => editor.sides(at, 'level')}
              >both alike</button
            >
          </div>
          <p class="mt-1 text-small text-soft">
            As the approach lays an uneven face out: three to two, or one side only.
          </p>
        </fieldset>
      {/if}
      <label class="grid gap-1"
        >Note for the client<textarea
          class="field min-h-wet py-2"
          maxlength="400"
          value={row.note}
          onchange={(e) => editor.setRow(at, { note: e.currentTarget.value })}></textarea></label
      >
    </div>
  {/if}
</Dialog>
