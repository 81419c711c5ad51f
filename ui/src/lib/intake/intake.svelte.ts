/**
 * The intake being filled in. What is entered shows at once, is kept in this browser until the server has it, and is
 * sent again after a dropped connection or a reload; its id makes that harmless.
 */
import { api, ask, Problem, words, type Schemas } from '../api/client'

export type Kind = Schemas['EntryIn']['kind']
export type Entry = Schemas['EntryIn']
export type IntakeView = Schemas['IntakeView']
export type Tables = Schemas['IntakeTablesView']

const RETRY_MS = 4000
const TYPING_MS = 600

/** Kinds of which several may stand beside each other; all others replace what waits under the same key. */
const ADDING: Kind[] = ['clearance', 'note']

export class Intake {
  view = $state<IntakeView | null>(null)
  tables = $state<Tables | null>(null)
  waiting = $state<Entry[]>([])
  offline = $state(false)
  sending = $state(false)
  failure = $state('')
  /** What was refused, by kind and key; the typed value stays in the page. */
  problems = $state<Record<string, { message: string; field: string | null }>>({})
  #timer: ReturnType<typeof setTimeout> | undefined
  #stopped = false

  constructor(readonly client: string) {
    this.waiting = this.#kept()
  }

  get #place() {
    return `dimbo intake ${this.client}`
  }

  #kept(): Entry[] {
    try {
      return JSON.parse(localStorage.getItem(this.#place) ?? '[]') as Entry[]
    } catch {
      return []
    }
  }

  #keep() {
    if (this.waiting.length) localStorage.setItem(this.#place, JSON.stringify(this.waiting))
    else localStorage.removeItem(this.#place)
  }

  async load() {
    try {
      const path = { path: { client_id: this.client } }
      const [tables, view] = await Promise.all([
        ask(api.GET('/api/intake-tables')),
        ask(api.GET('/api/clients/{client_id}/intake', { params: path }))
      ])
      this.tables = tables
      this.#show(view)
      if (this.waiting.length) void this.#flush()
    } catch (error) {
      this.failure = words(error)
    }
  }

  /** Show the server's view, with what it has not heard of yet laid over it. */
  #show(view: IntakeView) {
    for (const entry of this.waiting) lay(view, entry)
    this.view = view
    this.offline = false
  }

  /** Enter a fact. Typed text may wait a moment for more of it; everything else goes at once. */
  enter(kind: Kind, key: string, value: Record<string, unknown>, typing = false) {
    const entry: Entry = { id: crypto.randomUUID(), kind, key, value }
    const first = this.sending ? 1 : 0
    const same = (e: Entry, i: number) =>
      i >= first && e.kind === kind && e.key === key && !ADDING.includes(kind)
    this.waiting = [...this.waiting.filter((e, i) => !same(e, i)), entry]
    delete this.problems[`${kind} ${key}`]
    this.#keep()
    if (this.view) lay(this.view, entry)
    this.#later(typing ? TYPING_MS : 0)
  }

  problem(kind: Kind, key: string): string {
    return this.problems[`${kind} ${key}`]?.message ?? ''
  }

  #later(wait: number) {
    clearTimeout(this.#timer)
    if (!this.#stopped) this.#timer = setTimeout(() => void this.#flush(), wait)
  }

  async #flush() {
    if (this.sending) return
    while (this.waiting.length) {
      const batch = this.waiting.slice(0, 1)
      this.sending = true
      try {
        const view = await ask(
          api.POST('/api/clients/{client_id}/facts', {
            params: { path: { client_id: this.client } },
            body: { entries: batch }
          })
        )
        this.#drop(batch)
        this.#show(view)
      } catch (error) {
        if (!(error instanceof Problem) || error.status === 0 || error.status >= 500) {
          this.offline = true
          this.sending = false
          this.#later(RETRY_MS)
          return
        }
        this.#drop(batch)
        const [refused] = batch
        if (refused)
          this.problems[`${refused.kind} ${refused.key}`] = { message: error.message, field: error.field }
        await this.#again()
      }
      this.sending = false
    }
  }

  /** After a refusal the page goes back to what holds. */
  async #again() {
    try {
      this.#show(
        await ask(
          api.GET('/api/clients/{client_id}/intake', { params: { path: { client_id: this.client } } })
        )
      )
    } catch {
      this.offline = true
    }
  }

  #drop(sent: Entry[]) {
    const ids = new Set(sent.map((e) => e.id))
    this.waiting = this.waiting.filter((e) => !ids.has(e.id))
    this.#keep()
  }

  /** Do something that answers with the whole intake; the message says why not. */
  async run(work: Promise<IntakeView>): Promise<string> {
    try {
      this.#show(await work)
      return ''
    } catch (error) {
      return words(error)
    }
  }

  /** The page is left; what waits is sent at the next visit. */
  stop() {
    this.#stopped = true
    clearTimeout(this.#timer)
    if (this.waiting.length) void this.#flush()
  }
}

/** Lay an entry over a view, so that the page shows what was entered before the server answers. */
function lay(view: IntakeView, entry: Entry) {
  const { kind, key } = entry
  const value = entry.value as Record<string, never>
  if (kind === 'rating') view.ratings[key] = value as unknown as Schemas['RatingView']
  else if (kind === 'answer') {
    if (value['answer']) view.answers[key] = value['answer']
    else delete view.answers[key]
  } else if (kind === 'cause') {
    if (value['cause']) view.causes[key] = value['cause']
    else delete view.causes[key]
  } else if (kind === 'test') {
    if (value['answer'])
      view.results[key] = { answer: value['answer'], noted_on: view.today, measured: false }
    else delete view.results[key]
  } else if (kind === 'caution') {
    view.cautions[key] = { regions: [], event_on: null, note: '', ...(value as object) } as never
  } else if (kind === 'profile') {
    Object.assign(view.profile, { [key]: value['value'] })
  }
}
