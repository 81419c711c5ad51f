/**
 * The intake being filled in. What is entered shows at once, is kept in this browser until the server has it, and is
 * sent again after a dropped connection or a reload; its id makes that harmless.
 */
import { api, ask, Problem, attempt, type Schemas, words } from '../api/client'
import { meaningOf } from '../offline/meaning'
import { listen, oneTab, Outbox, type Held, type Result } from '../offline/outbox'
import { listStore } from '../offline/stores'

export type Kind = Schemas['EntryIn']['kind']
export type Entry = Schemas['EntryIn']
export type IntakeView = Schemas['IntakeView']
export type Tables = Schemas['IntakeTablesView']

const TYPING_MS = 600
/** A coach who types waits for nobody: the first try again comes soon. */
const SOON_MS = 4000

/** Kinds of which several may stand beside each other; all others replace what waits under the same key. */
const ADDING: Kind[] = ['clearance', 'note']

export class Intake {
  view = $state<IntakeView | null>(null)
  tables = $state<Tables | null>(null)
  waiting = $state<Entry[]>([])
  /** Why nothing that waits can be sent now. */
  held = $state<Held>('')
  sending = $state(false)
  failure = $state('')
  /** What was refused, by kind and key; the typed value stays in the page. */
  problems = $state<Record<string, { message: string; field: string | null }>>({})
  #timer: ReturnType<typeof setTimeout> | undefined
  #stop: () => void
  #outbox: Outbox<Entry>
  /** Entries are kept and sent one after the other, whatever the browser's storage does meanwhile. */
  #kept: Promise<unknown>

  constructor(readonly client: string) {
    this.#outbox = new Outbox<Entry>({
      store: listStore<Entry>(`dimbo intake ${client}`),
      send: (entries) => this.#send(entries),
      changed: ({ waiting, sending, held }) => {
        this.waiting = waiting.map((k) => k.entry)
        this.sending = sending
        this.held = held
      },
      // One at a time: a refusal is about the one that was entered, and the page shows what holds after each.
      most: 1,
      firstPauseMs: SOON_MS,
      alone: oneTab(`dimbo intake ${client}`)
    })
    this.#stop = listen(this.#outbox, window as never, SOON_MS)
    this.#kept = this.#outbox.read()
  }

  async load() {
    await attempt(
      (why) => (this.failure = why),
      async () => {
        const path = { path: { client_id: this.client } }
        const [tables, view] = await Promise.all([
          ask(api.GET('/api/intake-tables')),
          ask(api.GET('/api/clients/{client_id}/intake', { params: path })),
          this.#kept
        ])
        this.tables = tables
        this.#show(view)
        if (this.waiting.length) void this.#outbox.deliver()
      }
    )
  }

  /** Show the server's view, with what it has not heard of yet laid over it. */
  #show(view: IntakeView, heard: Entry[] = []) {
    const had = new Set(heard.map((e) => e.id))
    for (const entry of this.waiting) if (!had.has(entry.id)) lay(view, entry)
    this.view = view
  }

  /** Enter a fact. Typed text may wait a moment for more of it; everything else goes at once. */
  enter(kind: Kind, key: string, value: Record<string, unknown>, typing = false) {
    const entry: Entry = { id: crypto.randomUUID(), kind, key, value }
    const first = this.sending ? this.waiting[0]?.id : undefined
    const older = (e: Entry) => e.kind === kind && e.key === key && e.id !== first && !ADDING.includes(kind)
    delete this.problems[`${kind} ${key}`]
    this.#kept = this.#kept.then(() => this.#outbox.drop(older)).then(() => this.#outbox.put(entry))
    if (this.view) lay(this.view, entry)
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.#kept.then(() => this.#outbox.deliver()), typing ? TYPING_MS : 0)
  }

  /** Whether what was entered has arrived, in words. */
  get state(): string {
    const n = this.waiting.length
    const kept = `${n} ${n === 1 ? 'entry is' : 'entries are'} kept here`
    if (!n) return 'Everything is saved.'
    if (this.held === 'offline') return `No connection: ${kept} and go out when it is back.`
    if (this.held === 'server') return `The server does not answer: ${kept} and sent again.`
    if (this.held === 'signed-out') return `You are signed out: ${kept} and go out when you sign in again.`
    return this.held === 'storage'
      ? 'This browser has no room left: leave this page open until all is saved.'
      : 'Saving …'
  }

  problem(kind: Kind, key: string): string {
    return this.problems[`${kind} ${key}`]?.message ?? ''
  }

  async #send(entries: Entry[]): Promise<Result[]> {
    const params = { path: { client_id: this.client } }
    try {
      this.#show(
        await ask(api.POST('/api/clients/{client_id}/facts', { params, body: { entries } })),
        entries
      )
    } catch (error) {
      const [refused] = entries
      if (!(error instanceof Problem) || meaningOf(error) !== 'refused' || !refused) throw error
      this.problems[`${refused.kind} ${refused.key}`] = { message: error.message, field: error.field }
      await this.#again(entries)
    }
    // What was refused is in the page still, beside the reason; it need not be kept.
    return entries.map((e) => ({ id: e.id, state: 'kept', said: [] }))
  }

  /** After a refusal the page goes back to what holds. */
  async #again(refused: Entry[]) {
    const params = { path: { client_id: this.client } }
    this.#show(await ask(api.GET('/api/clients/{client_id}/intake', { params })), refused)
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

  /** The page is left; what waits is sent now, or at the next visit. */
  stop() {
    this.#stop()
    clearTimeout(this.#timer)
    void this.#kept.then(() => (this.waiting.length ? this.#outbox.deliver() : undefined))
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
