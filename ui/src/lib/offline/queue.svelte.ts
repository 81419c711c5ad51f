/**
 * Everything that a client tells goes through here: it is kept in the browser first, under an id made there, and handed
 * in in order, as often as it takes. The server keeps each once.
 */
import { api, ask, Problem, type Schemas } from '../api/client'
import { db, type Entry, type Waiting } from './db'

/** Most entries in one delivery. */
const MOST = 50

export const queue = $state<{
  /** What waits, the oldest first. */
  waiting: Waiting[]
  refused: Waiting[]
  /** What the server said of the last entries that it took. */
  said: string[]
  sending: boolean
  /** Why nothing can be handed in now: no connection, or nobody is signed in. */
  held: 'offline' | 'signed-out' | ''
}>({ waiting: [], refused: [], said: [], sending: false, held: '' })

let account = ''
let running: Promise<void> | null = null

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

/** Hand in all that waits, oldest first; what does not get through stays. */
export function handIn(): Promise<void> {
  running ??= deliver().finally(() => (running = null))
  return running
}

/** One delivery. An entry that makes the whole of it unreadable is found by sending one at a time, and set aside. */
async function send(batch: Waiting[]): Promise<Schemas['HandedIn'][]> {
  try {
    const body = { sent_at: new Date().toISOString(), entries: batch.map((w) => w.entry) }
    return (await ask(api.POST('/api/hand-in', { body }))).results
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 422) throw error
    if (batch.length > 1) return send(batch.slice(0, 1))
    return batch.map((w) => ({ id: w.entry.id, state: 'refused', said: [error.message] }))
  }
}

async function deliver(): Promise<void> {
  queue.sending = true
  try {
    for (;;) {
      await read()
      const batch = queue.waiting.slice(0, MOST)
      if (!batch.length) {
        queue.held = ''
        return
      }
      const results = await send(batch)
      const store = await db()
      for (const result of results) {
        const mine = batch.find((w) => w.entry.id === result.id)
        if (!mine?.seq) continue
        if (result.state === 'refused')
          await store.put('queue', { ...$state.snapshot(mine), refused: result.said.join(' ') } as Waiting)
        else await store.delete('queue', mine.seq)
        if (result.state === 'kept') queue.said = [...queue.said, ...result.said]
      }
    }
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    queue.held = error.status === 401 || error.status === 403 ? 'signed-out' : 'offline'
  } finally {
    queue.sending = false
    await read()
  }
}

/** Take a refused entry away, once the client has read why. */
export async function forget(entry: Waiting): Promise<void> {
  if (entry.seq) await (await db()).delete('queue', entry.seq)
  await read()
}

export function heard(): void {
  queue.said = []
}

if (typeof window !== 'undefined') {
  const again = () => account && void handIn()
  window.addEventListener('online', again)
  document.addEventListener('visibilitychange', () => document.visibilityState === 'visible' && again())
  setInterval(() => queue.waiting.length && again(), 30_000)
}
