<script lang="ts">
  import { columnOf, LEAD } from './columns'
  import { tick } from 'svelte'
  import { inside } from './document'
  import type { SheetEditor } from './editor.svelte'
  import Glyph from './Glyph.svelte'
  import Head from './Head.svelte'

  let {
    editor,
    insert,
    help,
    details,
    order,
    remedy
  }: {
    editor: SheetEditor
    insert: () => void
    help: () => void
    details: () => void
    order: () => void
    /** Take the remedy of a number in the margin, counted from 1. */
    remedy: (number: number) => void
  } = $props()

  let editing = $state<string | null>(null)
  let table = $state<HTMLTableElement>()
  let input = $state<HTMLInputElement>()
  const sheet = $derived(editor.sheet)
  const weeks = $derived(editor.weeks)
  const column = $derived(columnOf(weeks))
  const chosen = $derived(editor.selected)

  /** Seconds that a row's cells stand for, so that a longer dose looks longer along its row. */
  const scales = $derived(
    sheet?.lines.map((l) =>
      Math.max(10, ...l.cells.map((c) => (c.train === null ? 0 : (sheet.trains[c.train]?.total_s ?? 0))))
    ) ?? []
  )
  const stageStart = (row: number) => sheet?.lines[row - 1]?.stage !== sheet?.lines[row]?.stage
  const stageRows = (row: number) => {
    let n = 1
    while (sheet?.lines[row + n] && sheet.lines[row + n]?.stage === sheet.lines[row]?.stage) n++
    return n
  }

  /** The cell of a row and week; a row has one or two headers before its cells. */
  function cellAt(row: number, week: number): HTMLElement | undefined {
    const cells = table?.tBodies[0]?.rows[row]?.cells
    return cells?.[cells.length - weeks + week - 1]
  }

  /** The chosen cell is marked by hand: a move touches two cells, not every cell of a large sheet. */
  $effect(() => {
    void sheet
    const cell = cellAt(editor.place.row, editor.place.week)
    if (!cell) return
    cell.tabIndex = 0
    cell.dataset.here = 'true'
    return () => {
      cell.tabIndex = -1
      delete cell.dataset.here
    }
  })

  async function focus() {
    await tick()
    cellAt(editor.place.row, editor.place.week)?.focus()
  }
  export { focus }

  async function begin(text: string) {
    editing = text
    await tick()
    input?.focus()
    input?.setSelectionRange(text.length, text.length)
  }

  async function commit(stay = true) {
    if (editing === null) return
    const text = editing
    editing = null
    const typed = editor.type(editor.place.row, editor.place.week, text)
    if (stay) await focus() // at once, so that the next key finds its cell
    await typed
  }

  const clamp = (row: number, week: number) => ({
    row: Math.max(0, Math.min(editor.document.lines.length - 1, row)),
    week: Math.max(1, Math.min(weeks, week))
  })

  function step(rows: number, columns: number) {
    editor.remark = ''
    editor.corner = null
    editor.place = clamp(editor.place.row + rows, editor.place.week + columns)
    void focus()
  }

  function extend(rows: number, columns: number) {
    const from = editor.corner ?? editor.place
    editor.corner = clamp(from.row + rows, from.week + columns)
  }

  const arrows: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1]
  }
  const NEXT_SIDE = { level: 'right', right: 'left', left: 'level' } as const

  /** The side that a row gives more to now, in the first week that gives any. */
  function sideNow(row: number): 'right' | 'left' | 'level' {
    for (const c of sheet?.lines[row]?.cells ?? []) {
      const runs = c.train === null ? [] : (sheet?.trains[c.train]?.runs ?? [])
      const right = runs.filter((r) => r === 'right').length
      const left = runs.filter((r) => r === 'left').length
      if (right !== left) return right > left ? 'right' : 'left'
    }
    return 'level'
  }

  function withAlt(event: KeyboardEvent): (() => unknown) | undefined {
    if (event.key === 'ArrowUp') return () => editor.move(-1).then(focus)
    if (event.key === 'ArrowDown') return () => editor.move(1).then(focus)
    if (/^Digit[1-9]$/.test(event.code)) return () => remedy(Number(event.code.slice(5)))
    switch (event.code) {
      case 'KeyO':
        return order
      case 'KeyL':
        return () => editor.lighter().then(focus)
      case 'KeyS':
        return () => editor.sides(editor.place.row, NEXT_SIDE[sideNow(editor.place.row)]).then(focus)
      case 'KeyF':
        return () => editor.flow().then(focus)
      case 'KeyR': {
        const rounds = sheet?.lines[editor.place.row]?.rounds ?? 1
        return () => editor.circuit(rounds >= 3 ? 1 : rounds + 1).then(focus)
      }
    }
    return undefined
  }

  function withCommand(event: KeyboardEvent): (() => unknown) | undefined {
    const key = event.key.toLowerCase()
    if (key === 'arrowright') return () => editor.fill().then(focus)
    if (key === 'z') return () => (event.shiftKey ? editor.redo() : editor.undo()).then(focus)
    if (key === 'y') return () => editor.redo().then(focus)
    return undefined
  }

  function plain(event: KeyboardEvent): (() => unknown) | undefined {
    const arrow = arrows[event.key]
    if (arrow) return () => (event.shiftKey ? extend(...arrow) : step(...arrow))
    const text = editor.row()?.cells[editor.place.week - 1] ?? ''
    switch (event.key) {
      case 'Home':
        return () => step(0, -weeks)
      case 'End':
        return () => step(0, weeks)
      case 'PageUp':
        return () => step(-8, 0)
      case 'PageDown':
        return () => step(8, 0)
      case 'Enter':
        return event.shiftKey ? details : () => begin(text)
      case 'F2':
        return () => begin(text)
      case 'Delete':
        return () => (event.shiftKey ? editor.remove(editor.place.row) : editor.clear()).then(focus)
      case 'Backspace':
        return () => editor.clear().then(focus)
      case 'Insert':
      case '+':
        return insert
      case '?':
        return help
      case 'Escape':
        return () => (editor.corner = null)
      case '=': {
        const meant = sheet?.lines[editor.place.row]?.cells[editor.place.week - 1]?.error?.instead
        if (meant) return () => editor.type(editor.place.row, editor.place.week, meant).then(focus)
      }
    }
    return event.key.length === 1 && event.key !== ' ' ? () => begin(event.key) : undefined
  }

  function keys(event: KeyboardEvent) {
    const inCell = (event.target as HTMLElement).getAttribute('role') === 'gridcell'
    if (!inCell) return
    const act = event.altKey
      ? withAlt(event)
      : event.ctrlKey || event.metaKey
        ? withCommand(event)
        : plain(event)
    if (!act) return
    event.preventDefault()
    void act()
  }

  function inputKeys(event: KeyboardEvent) {
    event.stopPropagation()
    if (event.key === 'Escape') {
      editing = null
      void focus()
    } else if (event.key === 'Enter') void commit()
    else if (event.key === 'Tab') {
      event.preventDefault()
      void commit(false).then(() => step(0, event.shiftKey ? -1 : 1))
    } else if (event.ctrlKey && event.key === 'ArrowRight') {
      event.preventDefault()
      void commit(false)
        .then(() => editor.fill())
        .then(focus)
    }
  }

  function copy(event: ClipboardEvent, cut: boolean) {
    if (editing !== null) return
    event.preventDefault()
    event.clipboardData?.setData('text/plain', editor.copied())
    if (cut) void editor.clear().then(focus)
  }

  function paste(event: ClipboardEvent) {
    if (editing !== null) return
    event.preventDefault()
    void editor.paste(event.clipboardData?.getData('text/plain') ?? '').then(focus)
  }

  function pick(event: MouseEvent, row: number, week: number) {
    if (event.shiftKey) editor.corner = { row, week }
    else {
      editor.corner = null
      editor.place = { row, week }
    }
    void focus()
  }
  /** A dose line cut where a side is named, each side in its colour. */
  function sided(line: string): { text: string; ink: string }[] {
    return (line.match(/[RL]\d+ ?|[^RL]+/g) ?? [line]).map((text) => ({
      text,
      ink: /^R\d/.test(text) ? 'text-side-right' : /^L\d/.test(text) ? 'text-side-left' : ''
    }))
  }
  const partWord = (when: string) => (when === 'both' ? 'morning and evening' : when)
  /** Names of more signs than this are set in the narrow width, so that they stand whole. */
  const LONG = 27
</script>

{#if sheet}
  <table
    bind:this={table}
    role="grid"
    aria-label="Program sheet"
    aria-multiselectable="true"
    class="table-fixed border-collapse"
    style="width:{LEAD + column * weeks}px"
    onkeydown={editing === null ? keys : undefined}
    oncopy={(e) => copy(e, false)}
    oncut={(e) => copy(e, true)}
    onpaste={paste}
  >
    <colgroup
      ><col class="w-[22px]" /><col class="w-[206px]" />{#each sheet.weeks as w (w.number)}<col
          class={editor.place.week === w.number && !w.lighter ? 'bg-sheet' : ''}
          style="width:{column}px"
        />{/each}</colgroup
    >
    <Head {editor} {column} />
    <tbody>
      {#each sheet.lines as line, row (line.id)}
        <tr
          data-row={line.id}
          class="{stageStart(row)
            ? 'border-t border-ink/60'
            : 'border-t border-rule'} last:border-b last:border-b-ink/60"
        >
          {#if stageStart(row)}
            <th
              rowspan={stageRows(row)}
              class="sticky left-0 z-10 bg-paper align-middle text-note leading-none font-bold whitespace-nowrap"
              ><span class="mx-auto block rotate-180 [writing-mode:vertical-rl]"
                >{stageRows(row) > 1 ? `${line.stage[0]?.toUpperCase()}${line.stage.slice(1)}` : ''}</span
              ></th
            >
          {/if}
          <th
            scope="row"
            class="sticky left-[22px] z-10 truncate border-l border-ink/60 bg-paper pl-2 text-left font-normal"
            ondblclick={() => {
              editor.place = { row, week: editor.place.week }
              details()
            }}
          >
            <span
              class="block truncate leading-[15px] font-bold {line.name.length > LONG
                ? 'font-head text-note tracking-[-0.02em] [font-stretch:75%]'
                : 'text-small'}">{line.name}</span
            >
            <span class="block truncate text-note leading-[14px] text-soft"
              >{line.flows ? '↳ flows on, ' : ''}{stageRows(row) === 1 && stageStart(row)
                ? `${line.stage}: `
                : ''}{line.family}{line.sides === 'together' ? '' : ', each side apart'}{sheet.parts.length >
              1
                ? `, ${partWord(line.when)}`
                : ''}{line.rounds > 1 ? `, ${line.rounds} rounds` : ''}{line.days
                ? `, ${line.days[editor.place.week - 1]} days`
                : ''}</span
            >
          </th>
          {#each line.cells as cell, i (i)}
            {@const shown = cell.canonical ?? cell.text}
            {@const before = line.cells[i - 1]}
            {@const changed = i === 0 || (before?.canonical ?? before?.text) !== shown}
            {@const many = editor.corner !== null && inside(chosen, row, i + 1)}
            <td
              role="gridcell"
              tabindex="-1"
              aria-selected={many}
              aria-label="{line.name}, week {i + 1}: {shown || 'rest'}{cell.error
                ? `. ${cell.error.message}${cell.error.instead ? `. Press = to write ${cell.error.instead}` : ''}`
                : ''}{cell.over_ceiling ? '. Over the daily ceiling' : ''}"
              aria-invalid={!!cell.error || cell.over_ceiling}
              class="relative h-[31px] scroll-ml-[232px] border-l border-rule px-[3px] align-top outline-none {cell.over_ceiling ||
              cell.error
                ? 'bg-stop-wash'
                : many
                  ? 'bg-action-wash'
                  : sheet.weeks[i]?.lighter
                    ? 'bg-band-wash'
                    : ''} data-[here]:shadow-[inset_0_0_0_2px_var(--color-action)]"
              onfocus={() => {
                if (editor.place.row !== row || editor.place.week !== i + 1)
                  editor.place = { row, week: i + 1 }
              }}
              ondblclick={() => begin(shown)}
              onmousedown={(e) => {
                if (editing === null) pick(e, row, i + 1)
              }}
            >
              {#if editing !== null && editor.place.row === row && editor.place.week === i + 1}
                <input
                  bind:this={input}
                  bind:value={editing}
                  onkeydown={inputKeys}
                  onblur={() => commit(false)}
                  class="absolute top-0 left-0 z-10 h-[31px] min-w-full bg-sheet px-1 dose text-base outline-2 outline-action"
                  style="width:{Math.max(column, editing.length * 9 + 20)}px"
                  aria-label="Dose of {line.name}, week {i + 1}"
                />
              {:else if cell.error}
                <span class="block truncate dose text-small leading-[16px] text-stop"
                  >{cell.text.slice(0, cell.error.start)}<mark
                    class="bg-transparent text-stop underline decoration-wavy"
                    >{cell.text.slice(cell.error.start, cell.error.end) || '…'}</mark
                  >{cell.text.slice(cell.error.end)}</span
                >
                {#if cell.error.instead}<button
                    class="block w-full truncate text-left dose text-note leading-[13px] text-action underline"
                    tabindex="-1"
                    onmousedown={(e) => e.stopPropagation()}
                    onclick={() => void editor.type(row, i + 1, cell.error?.instead ?? '').then(focus)}
                    >→ {cell.error.instead}</button
                  >{/if}
              {:else}
                <span
                  class="block overflow-hidden dose text-note leading-[16px] tracking-[-0.025em] [font-stretch:75%] {changed
                    ? 'text-ink'
                    : 'text-soft'}"
                >
                  {#if shown}{#each sided(shown) as part, k (k)}<span class={part.ink}>{part.text}</span
                      >{/each}{:else}rest{/if}
                </span>
                {#if cell.train !== null}{@const train = sheet.trains[cell.train]}{#if train}<Glyph
                      {train}
                      width={column - 7}
                      seconds={scales[row] ?? 0}
                      faded={!changed}
                    />{/if}{/if}
              {/if}
            </td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
