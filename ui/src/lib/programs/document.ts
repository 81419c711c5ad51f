/** The program document in the browser: ranges of cells, and what comes from and goes to a spreadsheet. */
import type { Schemas } from '$lib/api/client'

/** The document with everything present, as the server always sends it. */
export type Row = Required<Schemas['LineDocument']>
export type Doc = Omit<Required<Schemas['ProgramDocument']>, 'lines'> & { lines: Row[] }
/** The longest program, in weeks; the core refuses a longer one. */
export const MOST_WEEKS = 52
export type Place = { row: number; week: number }
export type Range = { top: number; bottom: number; first: number; last: number }
export type CellEdit = [row: number, week: number, text: string]

export const range = (a: Place, b: Place): Range => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  first: Math.min(a.week, b.week),
  last: Math.max(a.week, b.week)
})

export const inside = (r: Range, row: number, week: number) =>
  row >= r.top && row <= r.bottom && week >= r.first && week <= r.last

export function cellsOf(r: Range): [number, number][] {
  const out: [number, number][] = []
  for (let row = r.top; row <= r.bottom; row++)
    for (let week = r.first; week <= r.last; week++) out.push([row, week])
  return out
}

/** The document with some cells changed. */
export function withCells(d: Doc, edits: CellEdit[]): Doc {
  const rows = new Map<number, string[]>()
  for (const [row, week, text] of edits) {
    const line = d.lines[row]
    if (!line || week < 1 || week > d.weeks) continue
    const cells = rows.get(row) ?? [...line.cells]
    cells[week - 1] = text
    rows.set(row, cells)
  }
  return { ...d, lines: d.lines.map((l, i) => (rows.has(i) ? { ...l, cells: rows.get(i) ?? l.cells } : l)) }
}

/** The document with every dose as the core writes it, where it is still what the core has read. */
export function canonical(d: Doc, sheet: Schemas['SheetView']): Doc {
  const edits = d.lines.flatMap((line, row) =>
    line.cells.flatMap((text, i): CellEdit[] => {
      const read = sheet.lines[row]?.cells[i]
      return read?.canonical && read.text === text && read.canonical !== text
        ? [[row, i + 1, read.canonical]]
        : []
    })
  )
  return edits.length ? withCells(d, edits) : d
}

/** What pasted text changes, from the first cell of the selection on; one value fills the whole selection. */
export function pasted(text: string, at: Range, d: Doc): { cells: CellEdit[]; left: number } {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n')
  const table = lines.map((l) => l.split('\t').map((c) => c.trim().replace(/^'(?=[=+\-@])/, '')))
  if (table.length === 1 && table[0]?.length === 1)
    return { cells: cellsOf(at).map(([r, w]) => [r, w, table[0]?.[0] ?? '']), left: 0 }
  let left = 0
  const cells: CellEdit[] = []
  table.forEach((line, i) =>
    line.forEach((cell, j) => {
      const [row, week] = [at.top + i, at.first + j]
      if (row < d.lines.length && week <= d.weeks) cells.push([row, week, cell.slice(0, 120)])
      else left++
    })
  )
  return { cells, left }
}

/** A document with another number of weeks: new ones repeat the last, fewer cut it short. */
export function withWeeks(d: Doc, weeks: number): Doc {
  const grow = <T>(values: T[]): T[] =>
    Array.from({ length: weeks }, (_, i) => values[Math.min(i, values.length - 1)] as T)
  return {
    ...d,
    weeks,
    sessions: grow(d.sessions),
    lighter: d.lighter.filter((w) => w <= weeks),
    lines: d.lines.map((l) => ({ ...l, cells: grow(l.cells), days: l.days ? grow(l.days) : null }))
  }
}
