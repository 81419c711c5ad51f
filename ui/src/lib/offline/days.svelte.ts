/** The client's days: fresh from the server when there is a connection, else as they were kept on this device; with what
 * still waits to be handed in counted in. */
import { api, ask, Problem, type Schemas } from '../api/client'
import { Lay } from '../practice/lay'
import { db, type Days } from './db'
import { handIn, queue } from './queue.svelte'
import { keep } from './shown.svelte'

export type Day = Schemas['DayView']
export type Session = Schemas['SessionView']

/** What is known of the days. The view comes and goes as a whole and is never written into: with every cue of two weeks watched apart,
 * a slow telephone stood still for half a second. */
class Known {
  view = $state.raw<Days | null>(null)
  offline = $state(false)
  problem = $state('')
}
export const days = new Known()

/** How far this device's clock is off (ms to be added), as it was when the server last told the time. */
let off = 0

/** The moment that the page shows (ms, by this device's clock); it goes on by itself, so that a page that stays open, or is
 * looked at again without a connection, shows the day that it is. */
let moment = $state(Date.now())
const TICK_MS = 20_000

/** Keep the moment going while a page is shown; returns how to stop. */
export function goOn(): () => void {
  const tick = setInterval(() => (moment = Date.now()), TICK_MS)
  return () => clearInterval(tick)
}

/** Read the days; hands in first, so that what was done is in them. When there is no connection, or no server or database
 * behind it, they are shown as they were kept. */
export async function load(account: string): Promise<void> {
  days.problem = ''
  moment = Date.now()
  const kept = await (await db()).get('days', account)
  if (kept && !days.view) {
    days.view = kept.view
    off = kept.off
  }
  await handIn()
  try {
    const fresh = await ask(api.POST('/api/my-days'))
    days.view = fresh
    days.offline = false
    off = Date.parse(fresh.made_at) - Date.now()
    await (await db()).put('days', { view: fresh, off }, account)
    void keep(account, fresh)
  } catch (error) {
    if (!(error instanceof Problem) || (error.status !== 0 && error.status < 500)) throw error
    days.offline = true
    if (kept) void keep(account, kept.view)
    if (!kept)
      days.problem =
        error.status === 0
          ? 'No connection, and this phone has no plan yet. Open this page once while you are online.'
          : 'Your practice’s server does not answer, and this phone has no plan yet. Try again in a few minutes.'
  }
}

/** The day that it is now, of those that were kept, by this device's clock set right; none when they have run out. */
export function now(view: Days, at = moment + off): Day | undefined {
  if (!days.offline) return view.days[0]
  return view.days.find((d) => at >= Date.parse(d.opens_at) && at < Date.parse(d.closes_at))
}

/** What is said of a sudden sign that was told on this device and has not been handed in: it stops everything at once. */
function stopped(view: Days): string {
  const told = queue.waiting.flatMap(({ entry }) =>
    entry.kind === 'answer' && entry.answer !== 'no' ? view.signs.filter((s) => s.id === entry.caution) : []
  )
  return told.find((s) => !s.same_day)?.stop_words ?? told[0]?.stop_words ?? ''
}

/** Why nothing may be practised now; empty when it may. */
export const haltOf = (view: Days) => view.halt || stopped(view)

/** What waits here of a session. */
const waitingLog = (day: Day, part: Day['parts'][number]) =>
  queue.waiting.find(({ entry }) => entry.kind === 'log' && entry.day === day.day && entry.part === part.part)

export type Begun = NonNullable<Day['parts'][number]['begun']>

/** The part of a session that was handed in, or waits to be, and is not the whole: where it goes on. */
export function begun(view: Days, day: Day, part: Day['parts'][number]): Begun | null {
  const entry = waitingLog(day, part)?.entry
  const session = view.sessions[part.session ?? '']
  if (entry?.kind !== 'log' || !session) return part.begun
  const last = entry.stretches?.at(-1)
  if (!last || new Lay(session).left(last.to_s, new Set()) < 1) return null
  return { log: entry.id, at_s: last.to_s, done: [] }
}

/** Whether a session is done, by the server or by what waits here; one that was mostly left out is not. */
export function done(view: Days, day: Day, part: Day['parts'][number]): boolean {
  if (part.done_at !== null) return true
  const entry = waitingLog(day, part)?.entry
  if (entry?.kind !== 'log') return false
  const session = view.sessions[part.session ?? '']
  if (entry.source === 'manual' || !session) return true
  return (
    (entry.stretches ?? []).reduce((sum, s) => sum + s.to_s - s.from_s, 0) >=
    (view.done_from ?? 0.5) * session.seconds
  )
}

/** The session to practise next on a day: the first that is not done, but in the evening the evening's. */
export function due(
  view: Days,
  day: Day,
  at = new Date(moment + off)
): { part: Day['parts'][number]; session: Session } | null {
  const open = day.parts.flatMap((part) => {
    const session = part.session ? view.sessions[part.session] : undefined
    return session && !done(view, day, part) ? [{ part, session }] : []
  })
  const hour = Number(
    new Intl.DateTimeFormat('en-GB', { hour: 'numeric', hourCycle: 'h23', timeZone: view.time_zone }).format(
      at
    )
  )
  // Days that an earlier version kept have no hours; all sessions are offered in their order then.
  const late = hour >= (view.evening_from ?? 24) || hour < (view.day_closes ?? 0)
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
