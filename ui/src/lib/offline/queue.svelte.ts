/**
 * Everything that a client tells goes through here: it is kept in the browser first, under an id made there, and handed
 * in in order, as often as it takes. The server keeps each once.
 */
import { api, ask, Problem, type Schemas } from '../api/client'
import { db, type Entry, type Waiting } from './db'

/** Most entries in one delivery. */
const MOST = 50
/** How long an entry rests that the server could not take, and a server that does not answer: doubled each time. */
const FIRST_PAUSE_MS = 30_000
const LONGEST_PAUSE_MS = 15 * 60_000
const pauseOf = (tries: number) => Math.min(FIRST_PAUSE_MS * 2 ** Math.max(0, tries - 1), LONGEST_PAUSE_MS)

export const queue = $state<{
  /** What waits, the oldest first. */
  waiting: Waiting[]
  refused: Waiting[]
  /** What the server said of the last entries that it took. */
  said: string[]
  sending: boolean
  /** Why nothing can be handed in now: no connection, the server does not answer, or nobody is signed in. */
  held: 'offline' | 'server' | 'signed-out' | ''
}>({ waiting: [], refused: [], said: [], sending: false, held: '' })

let account = ''
let running: Promise<void> | null = null
/** How often in a row nobody answered, and the moment before which nobody is asked again by the clock alone. */
let silent = 0
let quietUntil = 0

async function read(): Promise<void> {
  const all = await (await db()).getAllFromIndex('queue', 'account', account)
  queue.waiting = all.filter((w) => !w.refused)
  queue.refused = all.filter((w) => w.refused)
}

/** Whose queue it is; called when a client is known, signed in or not. */
export async function begin(of: string): Promise<void> {
  account = of
  await read()
  await handIn()
}

/** Keep an entry on this device, then try to hand it in. Resolves when it is kept. */
export async function put(entry: Entry): Promise<void> {
  await (await db()).add('queue', { account, entry: JSON.parse(JSON.stringify(entry)) as Entry })
  await read()
}

/** Where what a client tells is kept. */
export type Keep = (entry: Entry) => Promise<void>

/** Keep an entry on this device and hand it in as soon as there is a connection. */
export const keepHere: Keep = async (entry) => {
  await put(entry)
  void handIn()
}

/** Hand in all that waits, oldest first; what does not get through stays. */
export function handIn(): Promise<void> {
  running ??= deliver().finally(() => (running = null))
  return running
}

type Result = Schemas['HandedIn']
const alike = (batch: Waiting[], state: Result['state'], said: string): Result[] =>
  batch.map((w) => ({ id: w.entry.id, state, said: [said] }))

/**
 * One delivery. An entry that makes the whole of it unreadable, or that trips the server up, is found by sending one at a
 * time: what cannot be is set aside, what fails for a fault of the server rests and is tried again, the others go on.
 */
async function send(batch: Waiting[]): Promise<Result[]> {
  try {
    const body = { sent_at: new Date().toISOString(), entries: batch.map((w) => w.entry) }
    return (await ask(api.POST('/api/hand-in', { body }))).results
  } catch (error) {
    const status = error instanceof Problem ? error.status : -1
    const about = status === 422 || status === 413 || (status >= 500 && status !== 502 && status !== 503)
    if (!about) throw error
    if (batch.length > 1) return send(batch.slice(0, 1))
    return alike(batch, status >= 500 ? 'later' : 'refused', (error as Problem).message)
  }
}

async function settle(batch: Waiting[], results: Result[]): Promise<void> {
  const store = await db()
  for (const result of results) {
    const mine = batch.find((w) => w.entry.id === result.id)
    if (!mine?.seq) continue
    const kept = $state.snapshot(mine) as Waiting
    if (result.state === 'refused') await store.put('queue', { ...kept, refused: result.said.join(' ') })
    else if (result.state === 'later') {
      const tries = (kept.tries ?? 0) + 1
      await store.put('queue', { ...kept, tries, after: Date.now() + pauseOf(tries) })
    } else await store.delete('queue', mine.seq)
    if (result.state === 'kept') queue.said = [...queue.said, ...result.said]
  }
}

async function deliver(): Promise<void> {
  queue.sending = true
  try {
    for (;;) {
      await read()
      const due = queue.waiting.filter((w) => (w.after ?? 0) <= Date.now())
      if (!due.length) {
        queue.held = queue.waiting.length ? 'server' : ''
        silent = 0
        return
      }
      const batch = due.slice(0, MOST)
      await settle(batch, await send(batch))
    }
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    queue.held =
      error.status === 401 || error.status === 403 ? 'signed-out' : error.status === 0 ? 'offline' : 'server'
    quietUntil = Date.now() + pauseOf(++silent)
  } finally {
    queue.sending = false
    await read()
  }
}

/** Take a refused entry away, once the client has read why; returns what brings it back. */
export async function forget(entry: Waiting): Promise<() => Promise<void>> {
  const kept = $state.snapshot(entry) as Waiting
  if (entry.seq) await (await db()).delete('queue', entry.seq)
  await read()
  return async () => {
    await (await db()).put('queue', kept)
    await read()
  }
}

export function heard(): void {
  queue.said = []
}

if (typeof window !== 'undefined') {
  const again = () => account && void handIn()
  window.addEventListener('online', again)
  document.addEventListener('visibilitychange', () => document.visibilityState === 'visible' && again())
  setInterval(() => queue.waiting.length && Date.now() >= quietUntil && again(), 30_000)
}
