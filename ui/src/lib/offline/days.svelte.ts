/** The client's days: fresh from the server when there is a connection, else as they were kept on this device; with what
 * still waits to be handed in counted in. */
import { api, ask, Problem, type Schemas } from '../api/client'
import { db, type Days } from './db'
import { handIn, queue } from './queue.svelte'

export type Day = Schemas['DayView']
export type Session = Schemas['SessionView']

export const days = $state<{ view: Days | null; offline: boolean; problem: string }>({
  view: null,
  offline: false,
  problem: ''
})

/** Read the days; hands in first, so that what was done is in them. */
export async function load(account: string): Promise<void> {
  days.problem = ''
  const kept = await (await db()).get('days', account)
  if (kept && !days.view) days.view = kept
  await handIn()
  try {
    const fresh = await ask(api.GET('/api/my-days'))
    days.view = fresh
    days.offline = false
    await (await db()).put('days', fresh, account)
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 0) throw error
    days.offline = true
    if (!kept)
      days.problem =
        'No connection, and this phone has no plan yet. Open this page once while you are online.'
  }
}

/** The day that it is now by this device's clock, of those that were kept; none when they have run out. */
export function now(view: Days, at = Date.now()): Day | undefined {
  if (!days.offline) return view.days[0]
  return view.days.find((d) => at >= Date.parse(d.opens_at) && at < Date.parse(d.closes_at))
}

/** Whether a session is done, by the server or by what waits here. */
export function done(day: Day, part: Day['parts'][number]): boolean {
  const waits = queue.waiting.some(
    ({ entry }) => entry.kind === 'log' && entry.day === day.day && entry.part === part.part
  )
  return part.done_at !== null || waits
}

/** The hour from which the evening's session is offered first; a morning that was missed is not made up. */
const EVENING_FROM = 15

/** The session to practise next on a day: the first that is not done, but in the evening the evening's. */
export function due(
  view: Days,
  day: Day,
  at = new Date()
): { part: Day['parts'][number]; session: Session } | null {
  const open = day.parts.flatMap((part) => {
    const session = part.session ? view.sessions[part.session] : undefined
    return session && !done(day, part) ? [{ part, session }] : []
  })
  const hour = Number(
    new Intl.DateTimeFormat('en-GB', { hour: 'numeric', hourCycle: 'h23', timeZone: view.time_zone }).format(
      at
    )
  )
  const late = hour >= EVENING_FROM || hour < 3
  return (late && open.find((o) => o.part.part === 'evening')) || open[0] || null
}

/** How often a habit was done, with the ticks that wait. */
export function count(day: Day, habit: Day['habits'][number]): number {
  const waits = queue.waiting.reduce(
    (sum, { entry }) =>
      entry.kind === 'habit' &&
      entry.exercise_id === habit.exercise_id &&
      entry.assignment_id === habit.assignment_id &&
      Date.parse(entry.said_at) >= Date.parse(day.opens_at)
        ? sum + entry.amount
        : sum,
    0
  )
  return Math.max(0, habit.count + waits)
}
