/**
 * What waits to be handed in: kept first, under an id made here, then sent in order, as often as it takes; the server keeps
 * each once. Store, sending, clock and the lock between tabs are handed in, so that all of it is tested without a browser.
 */
import { Problem } from '../api/client'
import { FIRST_PAUSE_MS, meaningOf, pauseOf } from './meaning'

/** An entry as it is kept, in the order in which it was made; `refused` holds the server's words once it would not take it. */
export interface Kept<T> {
  seq?: number
  entry: T
  refused?: string
  /** How often the server could not take it for a fault of its own, and the moment (ms) before which it is not tried again. */
  tries?: number
  after?: number
}

export interface Result {
  id: string
  state: 'kept' | 'had' | 'refused' | 'later'
  said: string[]
}

/** Where entries are kept, in their order. `change` leaves one alone that is gone meanwhile. */
export interface Store<T> {
  all(): Promise<Kept<T>[]>
  add(kept: Kept<T>): Promise<void>
  change(kept: Kept<T>): Promise<void>
  remove(kept: Kept<T>): Promise<void>
}

/** Why nothing can be handed in now; `storage` says that this device could not keep it, so the page must stay open. */
export type Held = 'offline' | 'server' | 'signed-out' | 'storage' | ''

export interface State<T> {
  /** What waits, the oldest first. */
  waiting: Kept<T>[]
  refused: Kept<T>[]
  /** What the server said of the last entries that it took. */
  said: string[]
  sending: boolean
  held: Held
}

export interface Given<T> {
  store: Store<T>
  /** One delivery. Throws a Problem when it did not come to an answer for each entry. */
  send(entries: T[]): Promise<Result[]>
  /** Called with the state whenever it is another one. */
  changed(state: State<T>): void
  /** Most entries in one delivery. */
  most?: number
  /** The first rest after nothing came of it (ms); the next ones are twice as long each. */
  firstPauseMs?: number
  now?(): number
  /** Runs work while no other tab runs its own. */
  alone?<R>(work: () => Promise<R>): Promise<R>
}

const HELD = { unreachable: 'offline', 'signed-out': 'signed-out' } as const

export class Outbox<T extends { id: string }> {
  #state: State<T> = { waiting: [], refused: [], said: [], sending: false, held: '' }
  #running: Promise<void> | null = null
  /** What this device had no room to keep. */
  #homeless: Kept<T>[] = []
  #silent = 0
  #quietUntil = 0
  readonly #given: Required<Given<T>>

  constructor(given: Given<T>) {
    this.#given = { most: 50, firstPauseMs: FIRST_PAUSE_MS, now: Date.now, alone: (work) => work(), ...given }
  }

  get state(): State<T> {
    return this.#state
  }

  #change(part: Partial<State<T>>) {
    this.#state = { ...this.#state, ...part }
    this.#given.changed(this.#state)
  }

  /** Read what is kept; other tabs may have added to it. */
  async read(): Promise<void> {
    const all = [...(await this.#given.store.all()), ...this.#homeless]
    this.#change({ waiting: all.filter((k) => !k.refused), refused: all.filter((k) => k.refused) })
  }

  /** Keep an entry; it is handed in by `deliver`. When the device has no room it waits in this page only, and `held` says so. */
  async put(entry: T): Promise<void> {
    const kept: Kept<T> = { entry: JSON.parse(JSON.stringify(entry)) as T }
    try {
      await this.#given.store.add(kept)
    } catch {
      this.#homeless = [...this.#homeless, kept]
      this.#change({ held: 'storage' })
    }
    await this.read()
  }

  /** Take away what waits and is not needed any more, as when something newer says the same. */
  async drop(unwanted: (entry: T) => boolean): Promise<void> {
    for (const kept of await this.#given.store.all())
      if (unwanted(kept.entry)) await this.#given.store.remove(kept)
    this.#homeless = this.#homeless.filter((k) => !unwanted(k.entry))
    await this.read()
  }

  /** Hand in all that waits, oldest first; what does not get through stays. Asked twice at once it is done once. */
  deliver(): Promise<void> {
    this.#running ??= this.#given.alone(() => this.#deliver()).finally(() => (this.#running = null))
    return this.#running
  }

  /** Try again, asked by the clock alone: not while somebody who did not answer is left in peace. */
  async tick(): Promise<void> {
    if (this.#state.waiting.length && this.#given.now() >= this.#quietUntil) await this.deliver()
  }

  async #deliver(): Promise<void> {
    this.#change({ sending: true })
    try {
      for (;;) {
        await this.read()
        const due = this.#state.waiting.filter((k) => (k.after ?? 0) <= this.#given.now())
        if (!due.length) {
          this.#silent = 0
          this.#change({
            held: this.#homeless.length ? 'storage' : this.#state.waiting.length ? 'server' : ''
          })
          return
        }
        const batch = due.slice(0, this.#given.most)
        await this.#settle(batch, await this.#send(batch))
      }
    } catch (error) {
      const meaning = meaningOf(error)
      this.#quietUntil = this.#given.now() + pauseOf(++this.#silent, this.#given.firstPauseMs)
      this.#change({ held: meaning === 'unreachable' || meaning === 'signed-out' ? HELD[meaning] : 'server' })
    } finally {
      this.#change({ sending: false })
      await this.read()
    }
  }

  /**
   * One delivery. An entry that makes the whole of it unreadable, or that trips the server up, is found by sending one at a
   * time: what cannot be is set aside, what fails for a fault of the server rests and is tried again, the others go on.
   */
  async #send(batch: Kept<T>[]): Promise<Result[]> {
    try {
      return await this.#given.send(batch.map((k) => k.entry))
    } catch (error) {
      const meaning = meaningOf(error)
      if (meaning !== 'refused' && meaning !== 'fault') throw error
      if (batch.length > 1) return this.#send(batch.slice(0, 1))
      const state = meaning === 'fault' ? 'later' : 'refused'
      return batch.map((k) => ({ id: k.entry.id, state, said: [(error as Problem).message] }))
    }
  }

  async #settle(batch: Kept<T>[], results: Result[]): Promise<void> {
    for (const { id, state, said } of results) {
      const mine = batch.find((k) => k.entry.id === id)
      if (!mine) continue
      if (state === 'refused')
        await this.#replace(mine, { ...mine, refused: said.join(' ') || 'It was refused.' })
      else if (state === 'later') {
        const tries = (mine.tries ?? 0) + 1
        await this.#replace(mine, {
          ...mine,
          tries,
          after: this.#given.now() + pauseOf(tries, this.#given.firstPauseMs)
        })
      } else await this.#remove(mine)
      if (state === 'kept' && said.length) this.#change({ said: [...this.#state.said, ...said] })
    }
  }

  async #replace(old: Kept<T>, by: Kept<T>): Promise<void> {
    if (old.seq === undefined)
      this.#homeless = this.#homeless.map((k) => (k.entry.id === old.entry.id ? by : k))
    else await this.#given.store.change(by)
  }

  async #remove(kept: Kept<T>): Promise<void> {
    if (kept.seq === undefined) this.#homeless = this.#homeless.filter((k) => k.entry.id !== kept.entry.id)
    else await this.#given.store.remove(kept)
  }

  /** Take a refused entry away, once its words were read; returns what brings it back. */
  async forget(kept: Kept<T>): Promise<() => Promise<void>> {
    await this.#remove(kept)
    await this.read()
    return async () => {
      await this.#given.store.add(kept)
      await this.read()
    }
  }

  heard(): void {
    this.#change({ said: [] })
  }
}

/** The page as far as an outbox needs it. */
export interface Page {
  addEventListener(type: string, heard: () => void): void
  removeEventListener(type: string, heard: () => void): void
  document: {
    visibilityState: string
    addEventListener: Page['addEventListener']
    removeEventListener: Page['removeEventListener']
  }
  setInterval(work: () => void, ms: number): number
  clearInterval(id: number): void
}

/** Try again when a connection comes back, when the page is looked at again, and now and then. Returns how to stop. */
export function listen(
  outbox: Pick<Outbox<{ id: string }>, 'deliver' | 'tick'>,
  page: Page,
  lookMs = 30_000
): () => void {
  const again = () => void outbox.deliver()
  const seen = () => page.document.visibilityState === 'visible' && again()
  page.addEventListener('online', again)
  page.document.addEventListener('visibilitychange', seen)
  const timer = page.setInterval(() => void outbox.tick(), lookMs)
  return () => {
    page.removeEventListener('online', again)
    page.document.removeEventListener('visibilitychange', seen)
    page.clearInterval(timer)
  }
}

/** One tab at a time, by a name; a browser without locks sends what it must, and the server keeps each entry once. */
export function oneTab(name: string): NonNullable<Given<never>['alone']> {
  return async (work) => {
    if (!globalThis.navigator?.locks) return work()
    return navigator.locks.request(name, work)
  }
}
