/**
 * A session as it is played, kept on this device so that a reload, a call, a dead battery or an update of the application
 * loses nothing. It is written often to the database, and once more, at once, when the page goes.
 */
import { db, type Play } from '../offline/db'

const place = (account: string) => `dimbo play ${account}`

/** Keep a play; the newest of an account holds. */
export async function keep(play: Play): Promise<void> {
  await (await db()).put('plays', play, play.account)
}

/** Keep it in the moment in which the page goes: what is written here is there even when nothing later runs. */
export function keepNow(play: Play): void {
  try {
    localStorage.setItem(place(play.account), JSON.stringify(play))
  } catch {
    // A full or forbidden store: the copy in the database is at most a second old.
  }
  void keep(play)
}

/** The session that was begun and not handed in, if there is one. */
export async function recall(account: string): Promise<Play | null> {
  const kept = await (await db()).get('plays', account)
  const text = localStorage.getItem(place(account))
  const last = text ? (JSON.parse(text) as Play) : null
  if (!kept) return last
  return last && last.written > kept.written ? last : kept
}

export async function drop(account: string): Promise<void> {
  localStorage.removeItem(place(account))
  await (await db()).delete('plays', account)
}

/** Seconds that were played of it. */
export const playedOf = (play: Play) =>
  play.stretches.reduce((sum, s) => sum + Math.max(0, s.to_s - s.from_s), 0)

/** How long a page that wants to play waits for one that is just going, or looks through what was left. */
const PATIENCE_MS = 2000

/**
 * Only one page of this device plays at a time. Resolves with what gives the place back, or with null when another page
 * still has it after a moment. A browser without locks lets everybody in; the server counts what overlaps once.
 */
export function alone(account: string, patience = PATIENCE_MS): Promise<(() => void) | null> {
  if (!navigator.locks) return Promise.resolve(() => undefined)
  const how = patience ? { signal: AbortSignal.timeout(patience) } : { ifAvailable: true }
  return new Promise((resolve) => {
    navigator.locks
      .request(`dimbo practice ${account}`, how, (lock) => {
        if (!lock) return resolve(null)
        return new Promise<void>((free) => resolve(() => free()))
      })
      .catch(() => resolve(null))
  })
}
