/** The list of clients: who is shown, and in which order. */
import type { Schemas } from '../api/client'

export type Listed = Schemas['ListedClient']
export type Column = 'name' | 'at' | 'practised' | 'photographs' | 'week'
export const STATES: [Listed['at'], string][] = [
  ['running', 'Running'],
  ['beginning', 'To begin'],
  ['paused', 'Paused'],
  ['finished', 'Finished'],
  ['enquiry', 'Enquiry'],
  ['archived', 'Archived']
]
const ORDER = STATES.map(([state]) => state)
/** A day that is not there comes last, whichever way round. */
const NEVER = '9999'

const keyOf: Record<Column, (r: Listed) => string | number> = {
  name: (r) => r.name.toLocaleLowerCase(),
  at: (r) => ORDER.indexOf(r.at),
  practised: (r) => r.last_practised ?? NEVER,
  photographs: (r) => r.photographs ?? NEVER,
  week: (r) => (r.week.planned ? r.week.done / r.week.planned : 2)
}

/** Clients by a column, ascending or not; those who are alike by name. */
export function sorted(rows: Listed[], by: Column, down: boolean): Listed[] {
  const key = keyOf[by]
  const missing = (r: Listed) => key(r) === NEVER || (by === 'week' && key(r) === 2)
  const name = (r: Listed) => r.name.toLocaleLowerCase()
  const order = (a: string | number, b: string | number) => (a < b ? -1 : a > b ? 1 : 0)
  return rows.toSorted(
    (a, b) =>
      Number(missing(a)) - Number(missing(b)) ||
      (down ? -1 : 1) * order(key(a), key(b)) ||
      order(name(a), name(b))
  )
}

export interface Chosen {
  find: string
  at: string
  whose: string
}

/** Those who fit: by name or concern, where they are (all but the archive without a choice), and whose they are. */
export function chosen(rows: Listed[], { find, at, whose }: Chosen): Listed[] {
  const wanted = find.trim().toLocaleLowerCase()
  return rows.filter(
    (r) =>
      (at ? r.at === at : r.at !== 'archived') &&
      (!whose || r.coach_id === whose) &&
      [r.name, ...r.concerns].some((t) => t.toLocaleLowerCase().includes(wanted))
  )
}
