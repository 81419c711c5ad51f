<script lang="ts">
  import { tick } from 'svelte'
  import PulseTrain from '../signature/PulseTrain.svelte'
  import type { SheetEditor } from './editor.svelte'
  import Head from './Head.svelte'

  let { editor, insert, help }: { editor: SheetEditor; insert: () => void; help: () => void } = $props()

  let editing = $state<string | null>(null)
  let table = $state<HTMLTableElement>()
  let input = $state<HTMLInputElement>()
  const sheet = $derived(editor.sheet)
  const weeks = $derived(editor.document.weeks)
  const column = $derived(Math.max(67, Math.min(186, Math.floor(770 / weeks))))

  /** Seconds that a row's cells stand for, so that a longer dose looks longer along its row. */
  const scale = (row: number) =>
    Math.max(10, ...(sheet?.lines[row]?.cells.map((c) => c.train?.total_s ?? 0) ?? []))
  const stageStart = (row: number) => sheet?.lines[row - 1]?.stage !== sheet?.lines[row]?.stage
  const stageRows = (row: number) => {
    let n = 1
    while (sheet?.lines[row + n]?.stage === sheet?.lines[row]?.stage) n++
    return n
  }

  async function focus() {
    await tick()
    table?.querySelector<HTMLElement>('[data-here="true"]')?.focus()
  }

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

  function step(rows: number, columns: number) {
    editor.remark = ''
    editor.place = {
      row: Math.max(0, Math.min(editor.document.lines.length - 1, editor.place.row + rows)),
      week: Math.max(1, Math.min(weeks, editor.place.week + columns))
    }
    void focus()
  }

  const arrows: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1]
  }

  function keys(event: KeyboardEvent) {
    const command = event.ctrlKey || event.metaKey
    const text = editor.document.lines[editor.place.row]?.cells[editor.place.week - 1] ?? ''
    const done = () => event.preventDefault()
    if (event.key in arrows) {
      done()
      const [r, c] = arrows[event.key] as [number, number]
      if (event.altKey && r) void editor.move(r).then(focus)
      else if (command && c > 0) void editor.fill().then(focus)
      else if (!command) step(r, c)
    } else if (command && event.key.toLowerCase() === 'z') {
      done()
      void (event.shiftKey ? editor.redo() : editor.undo()).then(focus)
    } else if (command && event.key.toLowerCase() === 'y') {
      done()
      void editor.redo().then(focus)
    } else if (event.key === 'Enter' || event.key === 'F2') {
      done()
      void begin(text)
    } else if (event.key === 'Delete' && event.shiftKey) {
      done()
      void editor.remove(editor.place.row).then(focus)
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      done()
      void editor.type(editor.place.row, editor.place.week, '').then(focus)
    } else if (event.key === 'Insert' || event.key === '+') {
      done()
      insert()
    } else if (event.key === '?') {
      done()
      help()
    } else if (event.key.length === 1 && !command && !event.altKey && event.key !== ' ') {
      done()
      void begin(event.key)
    }
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
</script>

{#if sheet}
  <table
    bind:this={table}
    role="grid"
    aria-label="Program sheet"
    class="border-collapse"
    onkeydown={editing === null ? keys : undefined}
  >
    <colgroup
      ><col class="w-[22px]" /><col class="w-[206px]" />{#each sheet.weeks as w (w.number)}<col
          style="width:{column}px"
        />{/each}</colgroup
    >
    <Head {editor} {column} />
    <tbody>
      {#each sheet.lines as line, row (line.id)}
        <tr
          class="{stageStart(row)
            ? 'border-t border-ink/60'
            : 'border-t border-rule'} last:border-b last:border-b-ink/60"
        >
          {#if stageStart(row)}
            <th rowspan={stageRows(row)} class="align-middle text-[12px] font-bold whitespace-nowrap"
              ><span class="mx-auto block rotate-180 [writing-mode:vertical-rl]"
                >{line.stage[0]?.toUpperCase()}{line.stage.slice(1)}</span
              ></th
            >
          {/if}
          <th scope="row" class="border-l border-ink/60 pl-2 text-left font-normal">
            <span class="block text-[13px] leading-[15px] font-bold">{line.name}</span>
            <span class="block text-[12px] leading-[14px] text-soft"
              >{line.family}{line.sides === 'together' ? '' : ', each side apart'}</span
            >
          </th>
          {#each line.cells as cell, i (i)}
            {@const here = editor.place.row === row && editor.place.week === i + 1}
            {@const shown = cell.canonical ?? cell.text}
            {@const before = line.cells[i - 1]}
            {@const changed = i === 0 || (before?.canonical ?? before?.text) !== shown}
            <td
              role="gridcell"
              tabindex={here ? 0 : -1}
              data-here={here}
              aria-label="{line.name}, week {i + 1}: {shown || 'rest'}{cell.error
                ? `. ${cell.error.message}`
                : ''}{cell.over_ceiling ? '. Over the daily ceiling' : ''}"
              aria-invalid={!!cell.error || cell.over_ceiling}
              class="relative h-[34px] border-l border-rule px-1 align-top outline-none {editor.place.week ===
              i + 1
                ? 'bg-sheet'
                : ''} {cell.over_ceiling || cell.error ? 'bg-[#f6d9d6]' : ''} {here
                ? 'shadow-[inset_0_0_0_2px_var(--color-action)]'
                : ''}"
              onfocus={() => (editor.place = { row, week: i + 1 })}
              ondblclick={() => begin(shown)}
              onclick={() => focus()}
            >
              {#if here && editing !== null}
                <input
                  bind:this={input}
                  bind:value={editing}
                  onkeydown={inputKeys}
                  onblur={() => commit(false)}
                  class="absolute top-0 left-0 z-10 h-[34px] min-w-full bg-sheet px-1 dose text-[15px] outline-2 outline-action"
                  style="width:{Math.max(column, editing.length * 9 + 20)}px"
                  aria-label="Dose of {line.name}, week {i + 1}"
                />
              {:else}
                <span
                  class="block dose text-[14px] leading-[17px] {changed ? '' : 'text-soft'} {cell.error
                    ? 'text-stop underline decoration-wavy'
                    : ''}"
                >
                  {#if shown}{#each shown.split(/(R\d+|L\d+)/) as part, k (k)}<span
                        class={/^R\d/.test(part)
                          ? 'text-side-right'
                          : /^L\d/.test(part)
                            ? 'text-side-left'
                            : ''}>{part}</span
                      >{/each}{:else}rest{/if}
                </span>
                {#if cell.train}<PulseTrain
                    train={cell.train}
                    width={column - 9}
                    height={13}
                    seconds={scale(row)}
                    faded={!changed}
                    label="pulse train of {shown}"
                  />{/if}
              {/if}
            </td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
