<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { clock } from '$lib/format'

  /** A draft as it would be written: every row with its reason, what changed since the one before, and what was left out. */
  let {
    draft,
    before,
    drawing,
    leave
  }: {
    draft: Schemas['DraftView']
    before: Schemas['DraftView'] | null
    drawing: boolean
    leave?: (exercise: string) => void
  } = $props()

  const rows = $derived(draft.document.lines ?? [])
  const longest = (d: Schemas['DraftView']) => Math.max(0, ...d.sheet.weeks.map((w) => w.seconds))
  const names = (d: Schemas['DraftView']) => d.sheet.lines.map((l) => l.name)
  const first = (i: number) => rows[i]?.cells.find((c) => c) ?? ''
  const last = (i: number) => rows[i]?.cells.at(-1) || 'rest'
  const evening = (i: number) => rows[i]?.when === 'evening'
  const notes = $derived(draft.sheet.notes.filter((n) => n.weight === 'stop' || n.weight === 'watch'))
  const changed = $derived.by(() => {
    if (!before) return ''
    const [old, now] = [names(before), names(draft)]
    const [come, gone] = [now.filter((n) => !old.includes(n)), old.filter((n) => !now.includes(n))]
    const [a, b] = [longest(before), longest(draft)]
    const said = [
      come.length ? `New: ${come.join(', ')}.` : '',
      gone.length ? `Gone: ${gone.join(', ')}.` : '',
      Math.round(a) === Math.round(b) ? '' : `The longest session takes ${clock(b)} instead of ${clock(a)}.`
    ].filter(Boolean)
    return said.join(' ') || 'nothing.'
  })
</script>

<div class:opacity-60={drawing} aria-busy={drawing}>
  <h3 class="text-sub">{draft.title}</h3>
  <p class="text-small text-soft">
    {rows.length} exercises, {draft.document.weeks} weeks, the longest session {clock(longest(draft))}{draft
      .document.minutes
      ? ` of ${draft.document.minutes} min`
      : ''}
  </p>
  <p class="mt-1 min-h-5 text-small" aria-live="polite">
    {#if drawing}Drawing it anew …{:else if changed}<b>Changed:</b> {changed}{/if}
  </p>
  {#each draft.says as said (said)}<p class="mt-1 text-small text-watch">{said}</p>{/each}
  <ol class="mt-2 max-h-[46vh] overflow-y-auto">
    {#each draft.sheet.lines as l, i (l.id)}<li class="border-b border-rule py-1.5">
        <span class="grid grid-cols-[1fr_auto_auto] items-baseline gap-x-3"
          ><span
            ><b>{l.name}</b>{#if evening(i)}<span class="ml-2 text-small text-soft">evening</span>{/if}</span
          ><span class="dose text-row">{first(i)} → {last(i)}</span>
          {#if leave}<button
              type="button"
              class="text-small link"
              aria-label="Leave out {l.name}"
              onclick={() => leave(l.exercise)}>leave out</button
            >{/if}</span
        >
        {#if l.why}<span class="block max-w-[70ch] text-small text-soft">{l.why}</span>{/if}
      </li>{/each}
  </ol>
  {#if draft.left_out.length}<p class="mt-3 text-small">
      <b>Left out:</b>
      {draft.left_out.map((x) => `${x.name} (${x.reason})`).join('; ')}.
    </p>{/if}
  {#if notes.length}<p class="mt-2 text-small text-watch">
      {notes.length} to look at in the margin: {notes[0]?.text}
    </p>{/if}
</div>
