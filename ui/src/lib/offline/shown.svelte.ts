/** Clips and pictures of the exercises ahead, kept on the device so that they are seen without a connection, and no longer than they
 * are in what is ahead. By account, because a phone may be shared. */
import { db, type Days } from './db'

/** Addresses of what is kept here, by hash; the still of a clip under its hash and `-still`. */
export const shown = $state<{ at: Record<string, string> }>({ at: {} })

/** What the sessions of the days ahead show: its name here, and where it comes from. */
export function wanted(view: Pick<Days, 'sessions'>): Map<string, string> {
  const out = new Map<string, string>()
  for (const session of Object.values(view.sessions)) {
    for (const { clip, picture } of session.items) {
      if (clip) {
        out.set(`${clip.hash}-still`, `/api/exercise-media/${clip.hash}/still.jpg`)
        out.set(clip.hash, `/api/exercise-media/${clip.hash}/clip.mp4`)
      }
      if (picture) out.set(picture, `/api/exercise-media/${picture}/still.jpg`)
    }
  }
  return out
}

let running: Promise<void> = Promise.resolve()

/** Make what is kept what is wanted. What is here is seen at once; the rest goes, and what is missing is fetched, one after the other.
 * Without a connection what is here stays; the next look at the days goes on. */
export function keep(account: string, view: Pick<Days, 'sessions'>): Promise<void> {
  const list = wanted(view)
  const here = offerKept(account, list).catch(() => undefined)
  running = running.then(() => fetchMissing(account, list)).catch(() => undefined)
  return here.then(() => running)
}

const keyOf = (account: string, name: string) => `${account}/${name}`

/** Names of what is kept for an account. */
async function names(account: string): Promise<string[]> {
  const mine = keyOf(account, '')
  const keys = await (await db()).getAllKeys('shown')
  return keys.filter((k) => k.startsWith(mine)).map((k) => k.slice(mine.length))
}

async function offerKept(account: string, list: Map<string, string>): Promise<void> {
  for (const name of await names(account))
    if (list.has(name) && !shown.at[name]) offer(name, await (await db()).get('shown', keyOf(account, name)))
}

/** After so long a file that does not come is left for the next time: nothing behind it waits for ever. */
const PATIENCE_MS = 120_000

async function fetchMissing(account: string, list: Map<string, string>): Promise<void> {
  const here = new Set(await names(account))
  for (const name of here) if (!list.has(name)) await drop(account, name)
  for (const [name, address] of list) {
    if (here.has(name)) {
      // It may have come just now, from a page that was left while it loaded.
      if (!shown.at[name]) offer(name, await (await db()).get('shown', keyOf(account, name)))
      continue
    }
    const answer = await fetch(address, { signal: AbortSignal.timeout(PATIENCE_MS) })
    if (!answer.ok) continue
    const blob = await answer.blob()
    await (await db()).put('shown', blob, keyOf(account, name))
    offer(name, blob)
  }
}

function offer(name: string, blob: Blob | undefined): void {
  if (blob) shown.at[name] ??= URL.createObjectURL(blob)
}

async function drop(account: string, name: string): Promise<void> {
  await (await db()).delete('shown', keyOf(account, name))
  const address = shown.at[name]
  if (address) URL.revokeObjectURL(address)
  delete shown.at[name]
}

/** Everything that is kept for an account goes. */
export async function forget(account: string): Promise<void> {
  await running
  for (const name of await names(account)) await drop(account, name)
}
