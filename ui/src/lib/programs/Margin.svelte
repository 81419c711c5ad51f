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
  /** General notes first, then by row. */
  const sorted = $derived(
    [...notes].sort(
      (a, b) => (a.line ? (order.get(a.line) ?? 0) : -1) - (b.line ? (order.get(b.line) ?? 0) : -1)
    )
  )
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
      const wanted = note.line ? (rows.get(note.line) ?? below) : 0
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
<div bind:this={root} class="relative" style="min-height:{tall}px" aria-live="polite">
  {#each sorted as n, i (`${n.rule} ${n.line ?? ''} ${n.text}`)}
    <div
      class="absolute inset-x-0 flex gap-2 text-small leading-[1.36] {n.line &&
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
      </div>
    </div>
  {:else}
    <div class="flex gap-2 text-small leading-[1.36]">
      <Mark weight="fine" />
      <p>No warnings: minutes, ceilings, rises and order are within their limits.</p>
    </div>
  {/each}
</div>
