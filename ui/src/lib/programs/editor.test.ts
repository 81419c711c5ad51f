import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { Problem } from '../api/client'

type Saved = {
  base_revision: number
  sheet: string
  title: string
  document: { lines: { id: string; cells: string[] }[] }
}
/** A server that keeps what it is sent, and answers when the test says so. */
class Server {
  saved: Saved[] = []
  checked = 0
  waiting: (() => void)[] = []
  refuse: Problem | null = null
  manual = false
  stored = { revision: 1, title: 'Eyes', cells: ['1×5 h3', '1×6 h3'] }
  /** Where the weeks stand with whoever practises them. */
  standing: { week: number; state: string; first: string | null }[] = []

  private sheetOf(body: { document: Saved['document'] }) {
    const read = (text: string) => ({ text, canonical: text.replace(/ *x */, '×') })
    return { lines: body.document.lines.map((l) => ({ id: l.id, cells: l.cells.map(read) })), notes: [] }
  }
  async put(body: Saved) {
    this.saved.push(body)
    if (this.manual) await new Promise<void>((go) => this.waiting.push(go))
    if (this.refuse) throw this.refuse
    return { version: 2, revision: ++this.stored.revision, sheet: this.sheetOf(body) }
  }
  check(body: { document: Saved['document'] }) {
    this.checked++
    return this.sheetOf(body)
  }
  get() {
    const document = {
      weeks: 2,
      sessions: [3, 3],
      lighter: [],
      circuits: [],
      lines: [{ id: 'a', exercise: 'lift', cells: this.stored.cells, days: null }]
    }
    const more = {
      client_id: 'c',
      client_name: 'Ada',
      client_today: '2026-03-02',
      standing: this.standing,
      saved_by: 'Ada',
      version: 1
    }
    return {
      ...more,
      revision: this.stored.revision,
      title: this.stored.title,
      document,
      sheet: this.sheetOf({ document })
    }
  }
}

let server: Server
const shelf = new Map<string, string>()
vi.mock('$lib/api/client', async () => {
  const real = await vi.importActual<typeof import('../api/client')>('../api/client')
  return {
    ...real,
    ask: (answer: unknown) => answer,
    api: {
      GET: async () => server.get(),
      PUT: async (_: string, { body }: { body: Saved }) => server.put(body),
      POST: async (_: string, { body }: { body: Saved }) => server.check(body)
    }
  }
})
vi.stubGlobal('localStorage', {
  getItem: (k: string) => shelf.get(k) ?? null,
  setItem: (k: string, v: string) => shelf.set(k, v),
  removeItem: (k: string) => shelf.delete(k)
})

const { SheetEditor } = await import('./editor.svelte')

beforeEach(() => {
  server = new Server()
  shelf.clear()
  vi.useFakeTimers()
})
afterEach(() => vi.useRealTimers())

async function opened() {
  const editor = new SheetEditor('program', 'p')
  await editor.load()
  return editor
}
const cells = (d: { lines: { cells: string[] }[] }) => d.lines[0]?.cells

describe('saving a sheet', () => {
  test('one question checks and saves, and the dose stands in its canonical form', async () => {
    const editor = await opened()
    await editor.type(0, 1, '1 x 8 h3')
    expect(server.saved.length).toBe(1)
    expect(server.checked).toBe(0)
    expect([cells(editor.document), editor.saving, editor.version]).toEqual([
      ['1×8 h3', '1×6 h3'],
      'saved',
      2
    ])
    expect(shelf.size).toBe(0)
  })

  test('what is changed while a save is under way follows it, over its revision, as one', async () => {
    const editor = await opened()
    server.manual = true
    const first = editor.type(0, 1, 'one')
    const more = [editor.type(0, 1, 'two'), editor.type(0, 2, 'three')]
    expect(server.saved.length).toBe(1)
    server.waiting[0]?.()
    await vi.waitFor(() => expect(server.saved.length).toBe(2))
    server.waiting[1]?.()
    await Promise.all([first, ...more])
    expect(server.saved.map((s) => [s.base_revision, cells(s.document)])).toEqual([
      [1, ['one', '1×6 h3']],
      [2, ['two', 'three']]
    ])
    expect(editor.saving).toBe('saved')
  })

  test('without a connection the work is kept here and sent again under the same sheet', async () => {
    const editor = await opened()
    server.refuse = new Problem('No connection.', 0, null)
    await editor.type(0, 1, 'one')
    expect([editor.saving, server.checked, shelf.size]).toEqual(['failed', 0, 1])
    server.refuse = null
    await vi.advanceTimersByTimeAsync(60_000)
    expect(editor.saving).toBe('saved')
    expect(new Set(server.saved.map((s) => s.sheet)).size).toBe(1)
  })

  test('the sheet opens at the week that runs now, at the next one before it begins, and a draft at the first', async () => {
    expect((await opened()).place.week).toBe(1)
    server.standing = [
      { week: 1, state: 'practised', first: '2026-02-20' },
      { week: 2, state: 'now', first: '2026-03-01' }
    ]
    expect((await opened()).place.week).toBe(2)
    server.standing = [
      { week: 1, state: 'practised', first: '2026-02-20' },
      { week: 2, state: 'ahead', first: '2026-03-09' }
    ]
    expect((await opened()).place.week).toBe(2)
  })

  test('unsaved work of the page before goes on as the same sheet', async () => {
    const before = await opened()
    server.refuse = new Problem('Busy.', 503, null)
    await before.type(0, 1, 'one')
    server.refuse = null
    const after = await opened()
    expect(cells(after.document)?.[0]).toBe('one')
    expect(server.saved.at(-1)?.sheet).toBe(server.saved[0]?.sheet)
    expect(after.saving).toBe('saved')
    await after.type(0, 1, 'two')
    expect(server.saved.at(-1)?.sheet).not.toBe(server.saved[0]?.sheet)
  })

  test('another tab never passes for the one whose unsaved work it found, not even when its own save fails', async () => {
    const first = await opened()
    server.refuse = new Problem('Busy.', 503, null)
    await first.type(0, 1, 'one')
    const second = await opened()
    await second.type(0, 2, 'two')
    const [mine, found, own] = server.saved.map((s) => s.sheet)
    expect(found).toBe(mine)
    expect(own).not.toBe(mine)
  })

  test('a conflict stops saving, goes on checking, and mine can be kept over theirs', async () => {
    const editor = await opened()
    server.refuse = new Problem('Ben saved version 2.', 409, null)
    await editor.type(0, 1, 'mine')
    expect([editor.conflict, server.checked]).toEqual(['Ben saved version 2.', 1])
    server.refuse = null
    await editor.type(0, 2, 'too')
    expect([server.saved.length, server.checked]).toEqual([1, 2])
    server.stored.revision = 7
    await editor.resolve('mine')
    expect([server.saved.at(-1)?.base_revision, cells(editor.document)]).toEqual([7, ['mine', 'too']])
  })

  test('what is refused is said, checked all the same, and not sent again by itself', async () => {
    const editor = await opened()
    server.refuse = new Problem('Give the program a name.', 422, 'title')
    editor.retitle('')
    await vi.advanceTimersByTimeAsync(120_000)
    expect(editor.problem).toContain('Give the program a name.')
    expect([editor.saving, server.saved.length, server.checked]).toEqual(['refused', 1, 1])
  })

  test('undo takes back what was typed, not how it is written', async () => {
    const editor = await opened()
    await editor.type(0, 1, '1 x 8 h3')
    await editor.undo()
    expect(cells(editor.document)?.[0]).toBe('1×5 h3')
    await editor.redo()
    expect(cells(editor.document)?.[0]).toBe('1×8 h3')
  })
})
