/**
 * What a page still had to do when it went. It is sent in that very moment; a browser may drop that, so the next page of the
 * same person asks again. What is asked twice changes nothing: a review has its id, a pause ends once.
 */
const PLACE = 'dimbo unfinished'
/** Older than this it is not carried out any more: the page shows the matter as open. */
const KEPT_MS = 60 * 60_000

export interface Request {
  path: string
  body: unknown
}

interface Left extends Request {
  person: string
  at: number
}

function read(): Left[] {
  try {
    return JSON.parse(localStorage.getItem(PLACE) ?? '[]') as Left[]
  } catch {
    return []
  }
}

export function leaveBehind(person: string, requests: Request[]): void {
  const at = Date.now()
  const left = [...read(), ...requests.map((r) => ({ ...r, person, at }))]
  if (left.length) localStorage.setItem(PLACE, JSON.stringify(left))
}

/** Ask for what an earlier page of this person left behind; what the server refuses is shown as open by the pages. */
export async function finishLeft(person: string): Promise<void> {
  const mine = read().filter((r) => r.person === person && Date.now() - r.at < KEPT_MS)
  localStorage.removeItem(PLACE)
  for (const { path, body } of mine) {
    const headers = { 'content-type': 'application/json', 'x-dimbo': '1' }
    try {
      await fetch(path, { method: 'POST', headers, body: JSON.stringify(body) })
    } catch {
      leaveBehind(person, [{ path, body }])
    }
  }
}
