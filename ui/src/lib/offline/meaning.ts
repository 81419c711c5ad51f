/** What it means for something that waits when it could not be sent. One table, whoever sends. */
import { Problem } from '../api/client'

export type Meaning =
  /** Nobody answered: no connection, or it broke. */
  | 'unreachable'
  /** Nobody is signed in, or somebody else is. */
  | 'signed-out'
  /** The server, or what it stands on, cannot take anything just now. */
  | 'busy'
  /** The server tripped over this very thing. */
  | 'fault'
  /** It was read and will never be taken as it is. */
  | 'refused'

const BUSY = new Set([408, 425, 429, 502, 503, 504])

export function meaningOf(error: unknown): Meaning {
  if (!(error instanceof Problem)) throw error
  const { status } = error
  if (status === 0) return 'unreachable'
  if (status === 401 || status === 403) return 'signed-out'
  if (BUSY.has(status)) return 'busy'
  return status >= 500 ? 'fault' : 'refused'
}

export const FIRST_PAUSE_MS = 30_000
const LONGEST_PAUSE_MS = 15 * 60_000

/** How long to rest after so many tries in a row that came to nothing: doubled each time, so that a server that comes back is
 * not met by all that waited at once. */
export const pauseOf = (tries: number, firstMs = FIRST_PAUSE_MS) =>
  Math.min(firstMs * 2 ** Math.max(0, tries - 1), LONGEST_PAUSE_MS)
