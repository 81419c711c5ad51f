import { describe, expect, test } from 'vitest'
import { inside, pasted, range, withCells, withWeeks, type Doc } from './document'

const doc = (rows: string[][]): Doc =>
  ({
    weeks: rows[0]?.length ?? 0,
    sessions: rows[0]?.map((_, i) => i + 1) ?? [],
    lighter: [2, 3],
    lines: rows.map((cells, i) => ({ id: `r${i}`, cells, days: i ? null : cells.map(() => 2) }))
  }) as unknown as Doc
const cells = (d: Doc) => d.lines.map((l) => l.cells)
const D = doc([
  ['a', 'b', 'c'],
  ['d', 'e', 'f']
])

describe('cells', () => {
  test('a range is the same from whichever corner it was drawn', () => {
    const r = range({ row: 1, week: 3 }, { row: 0, week: 2 })
    expect(r).toEqual({ top: 0, bottom: 1, first: 2, last: 3 })
    expect([inside(r, 0, 2), inside(r, 1, 3), inside(r, 0, 1), inside(r, 2, 2)]).toEqual([
      true,
      true,
      false,
      false
    ])
  })

  test('a change touches its cells only, and leaves the document it was made from alone', () => {
    const changed = withCells(D, [
      [0, 2, 'X'],
      [9, 1, 'nowhere'],
      [1, 4, 'nowhere']
    ])
    expect(cells(changed)).toEqual([
      ['a', 'X', 'c'],
      ['d', 'e', 'f']
    ])
    expect(cells(D)[0]).toEqual(['a', 'b', 'c'])
    expect(changed.lines[1]).toBe(D.lines[1])
  })
})

describe('pasting', () => {
  const at = (row: number, week: number) => range({ row, week }, { row, week })

  test('one value fills the whole selection', () => {
    const all = range({ row: 0, week: 1 }, { row: 1, week: 2 })
    expect(pasted('2×8', all, D)).toEqual({
      cells: [
        [0, 1, '2×8'],
        [0, 2, '2×8'],
        [1, 1, '2×8'],
        [1, 2, '2×8']
      ],
      left: 0
    })
  })

  test.each([['x\ty\nz\tw'], ['x\ty\r\nz\tw\r\n'], ['x\ty\rz\tw']])(
    'a table of any line ends is laid from the first cell on',
    (text) => {
      const { cells: changed, left } = pasted(text, at(0, 2), D)
      expect(changed).toEqual([
        [0, 2, 'x'],
        [0, 3, 'y'],
        [1, 2, 'z'],
        [1, 3, 'w']
      ])
      expect(left).toBe(0)
    }
  )

  test('what does not fit is counted, and a guarded sign loses its guard', () => {
    expect(pasted("'+1\ty", at(1, 3), D)).toEqual({ cells: [[1, 3, '+1']], left: 1 })
  })
})

describe('another number of weeks', () => {
  test('new ones repeat the last, in every row, its days and the sessions', () => {
    const longer = withWeeks(D, 5)
    expect(cells(longer)[1]).toEqual(['d', 'e', 'f', 'f', 'f'])
    expect(longer.lines[0]?.days).toEqual([2, 2, 2, 2, 2])
    expect(longer.sessions).toEqual([1, 2, 3, 3, 3])
  })

  test('fewer cut it short, and lighter weeks that are gone with it', () => {
    const shorter = withWeeks(D, 2)
    expect([cells(shorter), shorter.lighter, shorter.weeks]).toEqual([
      [
        ['a', 'b'],
        ['d', 'e']
      ],
      [2],
      2
    ])
  })
})
