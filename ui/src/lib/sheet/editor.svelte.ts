/** The program sheet being edited: document, what the core says of it, selection, undo, and saving without loss. */
import { api, ask, Problem, words, type Schemas } from '../api/client'

/** The document with everything present, as the server always sends it. */
type Row = Required<Schemas['LineDocument']>
type Doc = Omit<Required<Schemas['ProgramDocument']>, 'lines'> & { lines: Row[] }

export interface Place {
  row: number
  week: number
}

const SAVE_AFTER_MS = 700

export class SheetEditor {
  id: string
  clientId = ''
  clientName = $state('')
  clientToday = $state('')
  title = $state('')
  document = $state<Doc>({ weeks: 1, sessions: [1], minutes: null, concern: null, lines: [] })
  sheet = $state<Schemas['SheetView'] | null>(null)
  version = $state(0)
  place = $state<Place>({ row: 0, week: 1 })
  saving = $state<'saved' | 'waiting' | 'saving' | 'failed'>('saved')
  remark = $state('')
  problem = $state('')
  conflict = $state('')
  private past: string[] = []
  private future: string[] = []
  private timer: ReturnType<typeof setTimeout> | undefined
  private checks = 0

  constructor(id: string) {
    this.id = id
  }

  private get path() {
    return { path: { program_id: this.id } }
  }

  private get stash() {
    return `dimbo-program-${this.id}`
  }

  async load(): Promise<void> {
    const found = await ask(api.GET('/api/programs/{program_id}', { params: this.path }))
    this.clientId = found.client_id
    this.clientName = found.client_name
    this.clientToday = found.client_today
    this.version = found.version
    this.title = found.title
    this.document = found.document as Doc
    this.sheet = found.sheet
    const kept = localStorage.getItem(this.stash)
    if (kept) {
      const mine = JSON.parse(kept) as { version: number; title: string; document: Doc }
      this.title = mine.title
      this.document = mine.document
      await this.check()
      if (mine.version === found.version) this.saveSoon()
      else
        this.conflict = `You left unsaved work here, and ${found.saved_by} has saved version ${found.version} since.`
    }
  }

  /** Change the document; the state before can be had back. */
  async change(edit: (document: Doc) => Doc): Promise<void> {
    this.past.push(JSON.stringify($state.snapshot(this.document)))
    this.future = []
    await this.put(edit($state.snapshot(this.document) as Doc))
  }

  private async put(document: Doc): Promise<void> {
    this.document = document
    this.place = {
      row: Math.max(0, Math.min(this.place.row, document.lines.length - 1)),
      week: Math.min(this.place.week, document.weeks)
    }
    this.saveSoon()
    await this.check()
  }

  async undo(): Promise<void> {
    await this.step(this.past, this.future)
  }

  async redo(): Promise<void> {
    await this.step(this.future, this.past)
  }

  private async step(from: string[], to: string[]): Promise<void> {
    const state = from.pop()
    if (!state) return
    to.push(JSON.stringify($state.snapshot(this.document)))
    await this.put(JSON.parse(state) as Doc)
  }

  /** Ask the core; an answer that was overtaken by a later edit is dropped. */
  async check(): Promise<void> {
    const mine = ++this.checks
    try {
      const body = { client_id: this.clientId, document: $state.snapshot(this.document) as Doc }
      const sheet = await ask(api.POST('/api/sheet/check', { body }))
      if (mine === this.checks) {
        this.sheet = sheet
        this.problem = ''
      }
    } catch (error) {
      if (mine === this.checks) this.problem = words(error)
    }
  }

  saveSoon(): void {
    const mine = { version: this.version, title: this.title, document: $state.snapshot(this.document) }
    localStorage.setItem(this.stash, JSON.stringify(mine))
    this.saving = 'waiting'
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.save(), SAVE_AFTER_MS)
  }

  async save(): Promise<boolean> {
    clearTimeout(this.timer)
    if (this.conflict) return false
    this.saving = 'saving'
    const document = $state.snapshot(this.document) as Doc
    const text = JSON.stringify(document) + this.title
    try {
      const body = { base_version: this.version, title: this.title, document }
      const saved = await ask(api.PUT('/api/programs/{program_id}', { params: this.path, body }))
      this.version = saved.version
      if (JSON.stringify($state.snapshot(this.document)) + this.title === text) {
        this.saving = 'saved'
        localStorage.removeItem(this.stash)
      } else this.saveSoon()
      this.problem = ''
      return true
    } catch (error) {
      this.saving = 'failed'
      if (error instanceof Problem && error.status === 409) this.conflict = error.message
      else this.problem = `${words(error)} What you wrote is kept in this browser.`
      return false
    }
  }

  /** After a conflict: mine becomes the next version (theirs stays among the versions), or theirs is taken. */
  async resolve(keep: 'mine' | 'theirs'): Promise<void> {
    const newest = await ask(api.GET('/api/programs/{program_id}', { params: this.path }))
    this.conflict = ''
    this.version = newest.version
    if (keep === 'mine') {
      await this.save()
      return
    }
    localStorage.removeItem(this.stash)
    this.title = newest.title
    this.document = newest.document as Doc
    this.sheet = newest.sheet
    this.saving = 'saved'
  }

  async type(row: number, week: number, text: string): Promise<void> {
    await this.change((d) => ({
      ...d,
      lines: d.lines.map((l, i) => (i === row ? withCell(l, week, text) : l))
    }))
    const answer = this.sheet?.lines[row]?.cells[week - 1]
    const line = this.document.lines[row]
    if (
      answer?.text !== text ||
      line?.cells[week - 1] !== text ||
      !answer.canonical ||
      answer.canonical === text
    )
      return
    this.document.lines[row] = withCell($state.snapshot(line) as Row, week, answer.canonical)
    this.saveSoon()
  }

  async fill(): Promise<void> {
    const line = this.document.lines[this.place.row]
    if (!line) return
    try {
      const body = {
        client_id: this.clientId,
        exercise: line.exercise,
        cells: [...line.cells],
        week: this.place.week
      }
      const filled = await ask(api.POST('/api/sheet/fill', { body }))
      this.remark = filled.remark
      const row = this.place.row
      await this.change((d) => ({
        ...d,
        lines: d.lines.map((l, i) => (i === row ? { ...l, cells: filled.cells } : l))
      }))
    } catch (error) {
      this.remark = words(error)
    }
  }

  async add(exercise: string, stages: string[]): Promise<void> {
    const body = { client_id: this.clientId, exercise, weeks: this.document.weeks }
    const made = (await ask(api.POST('/api/sheet/line', { body }))) as Row
    const order = (l: Row) => stages.indexOf(l.stage)
    let at = this.document.lines.findIndex((l) => order(l) > order(made))
    if (at < 0) at = this.document.lines.length
    await this.change((d) => ({ ...d, lines: [...d.lines.slice(0, at), made, ...d.lines.slice(at)] }))
    this.place = { row: at, week: 1 }
  }

  async remove(row: number): Promise<void> {
    await this.change((d) => ({ ...d, lines: d.lines.filter((_, i) => i !== row) }))
  }

  async move(by: number): Promise<void> {
    const { row, week } = this.place
    const to = row + by
    if (to < 0 || to >= this.document.lines.length) return
    await this.change((d) => {
      const lines = [...d.lines]
      const [taken] = lines.splice(row, 1)
      if (taken) lines.splice(to, 0, taken)
      return { ...d, lines }
    })
    this.place = { row: to, week }
  }

  async sessions(week: number, count: number): Promise<void> {
    await this.change((d) => ({ ...d, sessions: d.sessions.map((s, i) => (i === week - 1 ? count : s)) }))
  }
}

function withCell(line: Row, week: number, text: string): Row {
  return { ...line, cells: line.cells.map((c, i) => (i === week - 1 ? text : c)) }
}
