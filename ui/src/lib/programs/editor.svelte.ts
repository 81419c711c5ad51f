/**
 * The sheet being edited: document, what the core says of it, selection, undo of everything, and saving without loss.
 * The same editor serves programs and templates; rules and remedies are the server's.
 */
import { api, ask, Problem, attempt, type Schemas, words } from '$lib/api/client'
import { meaningOf, pauseOf } from '$lib/offline/meaning'
import { offer } from '$lib/parts/undo.svelte'
import {
  canonical,
  cellsOf,
  pasted,
  range,
  withCells,
  type Doc,
  type Place,
  type Range,
  type Row
} from './document'
import { Paper, type Kind, type Stored } from './paper'

export type { Kind }
type Snapshot = { title: string; document: Doc }
type Edited = Schemas['EditedView']

/** A name is typed sign by sign; a rest of this long ends it. */
const TITLE_REST_MS = 700
const FIRST_RETRY_MS = 2000
const MOST_UNDO = 200

export class SheetEditor {
  readonly kind: Kind
  readonly id: string
  /** A template that ships can be looked at and copied, not changed. */
  fixed = $state(false)
  clientId = $state<string | null>(null)
  clientName = $state('')
  /** Where each week stands with whoever practises it. */
  standing = $state.raw<Schemas['WeekStandingView'][]>([])
  clientToday = $state('')
  title = $state('')
  document = $state.raw<Doc>({
    weeks: 1,
    sessions: [1],
    minutes: null,
    concern: null,
    mode: 'calendar',
    approach: 'balanced',
    lighter: [],
    circuits: [],
    expectations: '',
    review: {},
    lines: []
  })
  sheet = $state.raw<Schemas['SheetView'] | null>(null)
  version = $state(0)
  private revision = 0
  /** This open sheet. Never another's: a save that comes from the newest one's sheet is no conflict. */
  private readonly ownSheet: string = crypto.randomUUID()
  /** Under which sheet the next save goes: the one of unsaved work that was left here, for one try, in which its answer may
   * have been lost; then this one's own. The page that left it may still be open, and must not pass for this one. */
  private sheetId = this.ownSheet
  place = $state<Place>({ row: 0, week: 1 })
  /** The other corner of a selected range; null when one cell is selected. */
  corner = $state<Place | null>(null)
  saving = $state<'saved' | 'waiting' | 'saving' | 'failed' | 'refused'>('saved')
  remark = $state('')
  problem = $state('')
  conflict = $state('')
  private readonly paper: Paper
  private past: Snapshot[] = []
  private future: Snapshot[] = []
  private timer: ReturnType<typeof setTimeout> | undefined
  private failures = 0
  private checks = 0
  private sending: Promise<boolean> | null = null
  /** The cell that is being read; what asks the core next waits until it stands in its canonical form. */
  private typing: Promise<void> = Promise.resolve()

  constructor(kind: Kind, id: string) {
    this.kind = kind
    this.id = id
    this.paper = new Paper(kind, id)
  }

  /** What every question to the core carries. */
  private get body() {
    return {
      client_id: this.clientId,
      program_id: this.kind === 'program' ? this.id : null,
      document: this.document
    }
  }

  get selected(): Range {
    return range(this.place, this.corner ?? this.place)
  }

  /** What the next save, or going back to a version, is made over. */
  get base(): number {
    return this.revision
  }

  get weeks(): number {
    return this.document.weeks
  }

  /** The newest version at the server, with what is known around it. */
  private async fetch(): Promise<Stored> {
    const found = await this.paper.fetch()
    this.fixed = found.fixed
    this.clientId = found.client?.id ?? null
    this.clientName = found.client?.name ?? ''
    this.clientToday = found.client?.today ?? ''
    this.standing = found.standing
    return found
  }

  private get draft() {
    return { revision: this.revision, sheet: this.sheetId, title: this.title, document: this.document }
  }

  private lay(stored: Stored): void {
    this.version = stored.version
    this.revision = stored.revision
    this.title = stored.title
    this.show(stored.document)
    this.sheet = stored.sheet
  }

  async load(): Promise<void> {
    const found = await this.fetch()
    const now =
      found.standing.find((w) => w.state === 'now') ?? found.standing.find((w) => w.state === 'ahead')
    if (now) this.place = { row: this.place.row, week: now.week }
    this.lay(found)
    const mine = this.paper.kept()
    if (!mine) return
    this.title = mine.title
    this.document = mine.document
    this.revision = mine.revision
    this.sheetId = mine.sheet
    await this.save()
  }

  /** Save as soon as the connection is back. Returns how to stop listening. */
  listen(): () => void {
    const back = () => {
      if (this.saving === 'failed' && !this.conflict) void this.save()
    }
    window.addEventListener('online', back)
    return () => {
      window.removeEventListener('online', back)
      clearTimeout(this.timer)
    }
  }

  private remember() {
    this.past.push({ title: this.title, document: this.document })
    if (this.past.length > MOST_UNDO) this.past.shift()
    this.future = []
  }

  /** Change the document; the state before can be had back. */
  async change(edit: (document: Doc) => Doc): Promise<void> {
    if (this.fixed) {
      this.remark = 'This template ships and stays as it is. Copy it to change it.'
      return
    }
    this.remember()
    await this.put(edit(this.document))
  }

  /** A document that the core has changed, with its checks; it is saved behind them. */
  private take(edited: Edited): void {
    this.remember()
    this.checks++
    this.show(edited.document as Doc)
    this.sheet = edited.sheet
    this.problem = ''
    void this.save()
  }

  private show(document: Doc) {
    this.document = document
    const rows = Math.max(0, document.lines.length - 1)
    this.place = {
      row: Math.max(0, Math.min(this.place.row, rows)),
      week: Math.min(this.place.week, document.weeks)
    }
    this.corner = null
  }

  private async put(document: Doc): Promise<void> {
    const { corner } = this
    this.show(document)
    this.corner = corner
    await this.save()
  }

  retitle(title: string): void {
    this.remember()
    this.title = title
    this.paper.keep(this.draft)
    this.saving = 'waiting'
    this.saveIn(TITLE_REST_MS)
  }

  private saveIn(ms: number): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.save(), ms)
  }

  async undo(): Promise<void> {
    await this.step(this.past, this.future)
  }

  async redo(): Promise<void> {
    await this.step(this.future, this.past)
  }

  private async step(from: Snapshot[], to: Snapshot[]): Promise<void> {
    const snapshot = from.pop()
    if (!snapshot) {
      this.remark = from === this.past ? 'Nothing to undo.' : 'Nothing to redo.'
      return
    }
    to.push({ title: this.title, document: this.document })
    this.title = snapshot.title
    await this.put(snapshot.document)
  }

  /** Ask the core without saving: for work that cannot be saved as it stands. An answer that was overtaken is dropped. */
  private async check(): Promise<void> {
    const mine = ++this.checks
    try {
      const sheet = await ask(api.POST('/api/sheet/check', { body: this.body }))
      if (mine === this.checks) this.sheet = sheet
    } catch (error) {
      if (mine === this.checks) this.problem = `${words(error)} The checks wait; what you type is kept.`
    }
  }

  /** Have what stands here checked and saved, in one question. One is under way at a time; what changed meanwhile follows it. */
  save(): Promise<boolean> {
    clearTimeout(this.timer)
    if (this.fixed) return Promise.resolve(false)
    this.paper.keep(this.draft)
    if (this.conflict) return this.check().then(() => false)
    return (this.sending ??= this.send())
  }

  private async send(): Promise<boolean> {
    for (;;) {
      this.saving = 'saving'
      const sent = this.draft
      this.sheetId = this.ownSheet
      try {
        const answer = await this.paper.save(sent)
        this.version = answer.version
        this.revision = answer.revision
        this.failures = 0
        this.problem = ''
        if (this.document === sent.document && this.title === sent.title) {
          this.settle(answer.sheet)
          this.sending = null
          return true
        }
        this.paper.keep(this.draft)
      } catch (error) {
        this.sending = null
        await this.unsaved(error)
        return false
      }
    }
  }

  /** Everything is kept: the doses stand here as they are kept, in their canonical form. */
  private settle(sheet: Schemas['SheetView']): void {
    this.checks++
    this.sheet = sheet
    this.document = canonical(this.document, sheet)
    this.saving = 'saved'
    this.paper.forget()
  }

  /** What stands here could not be saved. It stays in this browser, and is sent again where that can help. */
  private async unsaved(error: unknown): Promise<void> {
    this.saving = 'refused'
    if (error instanceof Problem && error.status === 409) this.conflict = error.message
    else {
      this.problem = `${words(error)} What you wrote is kept in this browser.`
      if (meaningOf(error) !== 'refused') {
        this.saving = 'failed'
        this.saveIn(pauseOf(++this.failures, FIRST_RETRY_MS))
        return
      }
    }
    await this.check()
  }

  /** After a conflict: mine becomes the next version (theirs stays among the versions), or theirs is taken. */
  async resolve(keep: 'mine' | 'theirs'): Promise<void> {
    const newest = await this.fetch()
    this.conflict = ''
    this.version = newest.version
    this.revision = newest.revision
    if (keep === 'mine') {
      await this.save()
      return
    }
    const mine = this.document
    this.paper.forget()
    this.remember()
    this.lay(newest)
    this.saving = 'saved'
    offer('Yours is dropped; theirs stands on the sheet.', () => this.change(() => mine))
  }

  /** Show a version that was made the newest elsewhere. */
  async reload(): Promise<void> {
    const newest = await this.fetch()
    this.remember()
    this.lay(newest)
  }

  row(at = this.place.row): Row | undefined {
    return this.document.lines[at]
  }

  /** Type into one cell; what can be read is put into its canonical form. */
  type(row: number, week: number, text: string): Promise<void> {
    this.typing = this.change((d) => withCells(d, [[row, week, text]]))
    return this.typing
  }

  async clear(): Promise<void> {
    await this.change((d) =>
      withCells(
        d,
        cellsOf(this.selected).map(([r, w]) => [r, w, ''])
      )
    )
  }

  /** The selected range as text that spreadsheets read: tabs between weeks, lines between rows. */
  copied(): string {
    const { top, bottom, first, last } = this.selected
    return this.document.lines
      .slice(top, bottom + 1)
      .map((line) => line.cells.slice(first - 1, last).join('\t'))
      .join('\n')
  }

  /** Paste text from a spreadsheet at the selection; one value fills the whole selection. */
  async paste(text: string): Promise<void> {
    const { cells, left } = pasted(text, this.selected, this.document)
    if (!cells.length) return
    await this.change((d) => withCells(d, cells))
    this.remark = left ? `${left} cells did not fit the sheet and were left away.` : ''
  }

  private async edit(request: () => Promise<Edited>): Promise<void> {
    if (this.fixed) {
      this.remark = 'This template ships and stays as it is. Copy it to change it.'
      return
    }
    await this.typing
    const before = this.document
    await attempt(
      (why) => (this.remark = why),
      async () => {
        const edited = await request()
        if (this.document === before) this.take(edited)
        else this.remark = 'The sheet changed meanwhile, so this was not done. Press it again.'
      }
    )
  }

  async fix(note: Schemas['NoteView']): Promise<void> {
    await this.edit(() =>
      ask(api.POST('/api/sheet/fix', { body: { ...this.body, rule: note.rule, line: note.line } }))
    )
    if (note.fix) this.remark = `${note.fix}: done. Ctrl Z takes it back.`
  }

  async lighter(week = this.place.week): Promise<void> {
    await this.edit(() => ask(api.POST('/api/sheet/lighter', { body: { ...this.body, week } })))
  }

  async order(): Promise<Schemas['PlacedView'][]> {
    let places: Schemas['PlacedView'][] = []
    await this.edit(async () => {
      const ordered = await ask(api.POST('/api/sheet/order', { body: this.body }))
      places = ordered.places
      return ordered
    })
    return places
  }

  async sides(row: number, side: 'right' | 'left' | 'level'): Promise<void> {
    const line = this.row(row)?.id
    if (line) await this.edit(() => ask(api.POST('/api/sheet/sides', { body: { ...this.body, line, side } })))
  }

  async fill(): Promise<void> {
    const { row, week } = this.place
    await this.typing
    const line = this.row(row)
    if (!line) return
    await attempt(
      (why) => (this.remark = why),
      async () => {
        const body = { ...this.body, line: line.id, week }
        const filled = await ask(api.POST('/api/sheet/fill', { body }))
        if (!this.document.lines.includes(line)) {
          this.remark = 'The row changed meanwhile, so it was not filled. Press it again.'
          return
        }
        this.remark = filled.remark
        await this.change((d) => ({
          ...d,
          lines: d.lines.map((l) => (l.id === line.id ? { ...l, cells: filled.cells } : l))
        }))
      }
    )
  }

  async add(exercise: string, stages: string[]): Promise<void> {
    const made = await ask(api.POST('/api/sheet/line', { body: { ...this.body, exercise } }))
    const line = {
      ...made,
      when: this.row()?.when ?? 'morning',
      days: null,
      note: '',
      why: '',
      flows: false
    } as Row
    const order = (l: Row) => stages.indexOf(l.stage)
    let at = this.document.lines.findIndex((l) => order(l) > order(line))
    if (at < 0) at = this.document.lines.length
    const done = this.change((d) => ({ ...d, lines: [...d.lines.slice(0, at), line, ...d.lines.slice(at)] }))
    this.place = { row: at, week: 1 }
    await done
  }

  async remove(row: number): Promise<void> {
    const gone = this.row(row)?.id
    await this.change((d) => ({
      ...d,
      lines: d.lines.filter((_, i) => i !== row),
      circuits: d.circuits
        .map((c) => ({ ...c, lines: c.lines.filter((l) => l !== gone) }))
        .filter((c) => c.lines.length)
    }))
  }

  async move(by: number): Promise<void> {
    const { row, week } = this.place
    const to = row + by
    if (to < 0 || to >= this.document.lines.length) return
    const done = this.change((d) => {
      const lines = [...d.lines]
      const [taken] = lines.splice(row, 1)
      if (taken) lines.splice(to, 0, taken)
      return { ...d, lines, circuits: d.circuits.filter((c) => together(c.lines, lines)) }
    })
    this.place = { row: to, week } // at once, so that the next key moves the same row
    await done
  }

  async setRow(row: number, values: Partial<Row>): Promise<void> {
    await this.change((d) => ({
      ...d,
      lines: d.lines.map((l, i) => (i === row ? { ...l, ...values } : l))
    }))
  }

  async setFrame(values: Partial<Doc>): Promise<void> {
    await this.change((d) => ({ ...d, ...values }))
  }

  async sessions(week: number, days: number): Promise<void> {
    await this.change((d) => ({ ...d, sessions: d.sessions.map((s, i) => (i === week - 1 ? days : s)) }))
  }

  /** The selected rows as one flow without change-overs, each going on from the one above; or no longer. A single row flows on itself. */
  async flow(): Promise<void> {
    const { top, bottom } = this.selected
    const first = Math.max(top === bottom ? top : top + 1, 1)
    const block = this.document.lines.slice(first, bottom + 1)
    if (!block.length) return
    const flows = !block.every((l) => l.flows)
    const ids = block.map((l) => l.id)
    await this.change((d) => ({
      ...d,
      lines: d.lines.map((l) => (ids.includes(l.id) ? { ...l, flows } : l))
    }))
  }

  /** The selected rows as a circuit of so many rounds; one round takes the circuit away. */
  async circuit(rounds: number): Promise<void> {
    const { top, bottom } = this.selected
    const ids = this.document.lines.slice(top, bottom + 1).map((l) => l.id)
    await this.change((d) => {
      const others = d.circuits.filter((c) => !c.lines.some((l) => ids.includes(l)))
      return { ...d, circuits: rounds > 1 ? [...others, { lines: ids, rounds }] : others }
    })
  }
}

/** Whether the rows of a circuit still stand together. */
function together(circuit: string[], lines: Row[]): boolean {
  const at = lines.findIndex((l) => l.id === circuit[0])
  return circuit.every((id, i) => lines[at + i]?.id === id)
}
