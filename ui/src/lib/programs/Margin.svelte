<script lang="ts">
  import { tick } from 'svelte'
  import type { Schemas } from '$lib/api/client'
  import Mark from '$lib/parts/Mark.svelte'
  import MissingAnswers from '$lib/parts/MissingAnswers.svelte'
  import type { SheetEditor } from './editor.svelte'

  /**
   * The margin: what the checks say, each note beside the row that it speaks of, general ones on top. Notes with a remedy
   * are numbered; Alt and the number takes it.
   */
  let { editor, board }: { editor: SheetEditor; board: HTMLElement | undefined } = $props()
  type Noted = Schemas['NoteView']
  const notes = $derived(editor.sheet?.notes ?? [])
  const order = $derived(new Map(editor.document.lines.map((l, i) => [l.id, i])))
  /** From so many rows on, what one rule says of them is said once. */
  const MANY = 3
  const alike = (n: Noted) => notes.filter((x) => x.rule === n.rule && x.line)
  /** General notes and what is gathered first, then by row. */
  const sorted = $derived(
    notes
      .filter((n) => !n.line || alike(n).length < MANY || alike(n)[0] === n)
      .toSorted((a, b) => place(a) - place(b))
  )
  const place = (n: Noted) => (n.line && alike(n).length < MANY ? (order.get(n.line) ?? 0) : -1)
  const others = (n: Noted) => (n.line && alike(n).length >= MANY ? alike(n).slice(1) : [])
  const nameOf = (n: Noted) => editor.sheet?.lines.find((l) => l.id === n.line)?.name ?? ''
  function goTo(n: Noted) {
    editor.place = { row: order.get(n.line ?? '') ?? 0, week: editor.place.week }
  }
  const numbered = $derived(new Map(sorted.filter((n) => n.fix).map((n, i) => [n, i + 1])))
  let root = $state<HTMLElement>()
  let tops = $state<number[]>([])
  let tall = $state(0)

  export function remedy(number: number): Noted | undefined {
    return [...numbered].find(([, n]) => n === number)?.[0]
  }

  async function lay() {
    await tick()
    if (!root || !board) return
    const top = root.getBoundingClientRect().top
    const rows = new Map(
      [...board.querySelectorAll<HTMLElement>('[data-row]')].map((r) => [
        r.dataset.row,
        r.getBoundingClientRect().top - top
      ])
    )
    let below = 0
    const next: number[] = []
    for (const [i, note] of sorted.entries()) {
      const height = (root.children[i] as HTMLElement | undefined)?.offsetHeight ?? 0
      const wanted = note.line && place(note) >= 0 ? (rows.get(note.line) ?? below) : 0
      next.push(Math.max(below, wanted))
      below = (next.at(-1) ?? 0) + height + 12
    }
    tops = next
    tall = below
  }
  $effect(() => {
    void sorted
    void board
    void lay()
  })
</script>

<svelte:window onresize={lay} />
<div bind:this={root} class="relative print:!min-h-0" style="min-height:{tall}px" aria-live="polite">
  {#each sorted as n, i (`${n.rule} ${n.line ?? ''} ${n.text}`)}
    <div
      class="absolute inset-x-0 flex gap-2 text-small leading-[1.36] print:static {n.line &&
      editor.document.lines[editor.place.row]?.id === n.line
        ? 'shadow-[-6px_0_0_var(--color-paper),-8px_0_0_var(--color-action)]'
        : ''}"
      style="top:{tops[i] ?? 0}px"
    >
      <Mark weight={n.weight} />
      <div class="min-w-0">
        <p>
          {n.text}
          {#if n.remedy}<b class="font-semibold">{n.remedy}</b>{/if}
        </p>
        {#if n.ways.length && editor.clientId}<MissingAnswers client={editor.clientId} />{/if}
        {#if n.fix}
          <button class="text-left link" onclick={() => editor.fix(n)}
            >{n.fix}{#if (numbered.get(n) ?? 10) <= 9}&nbsp;<kbd class="text-note font-normal no-underline"
                >Alt {numbered.get(n)}</kbd
              >{/if}</button
          >
        {/if}
        {#if others(n).length}
          <details class="mt-1" ontoggle={lay}>
            <summary class="min-h-6 link">The same of {others(n).length} more rows</summary>
            <ul class="mt-1 grid gap-1.5">
              {#each others(n) as o (`${o.line} ${o.text}`)}<li>
                  <button class="text-left font-semibold underline" onclick={() => goTo(o)}
                    >{nameOf(o)}</button
                  >
                  {o.text}
                  {#if o.fix}<button class="text-left link" onclick={() => editor.fix(o)}>{o.fix}</button
                    >{/if}
                </li>{/each}
            </ul>
          </details>
        {/if}
      </div>
    </div>
  {:else}
    <div class="flex gap-2 text-small leading-[1.36]">
      <Mark weight="fine" />
      <p>No warnings: minutes, ceilings, rises and order are within their limits.</p>
    </div>
  {/each}
</div>
