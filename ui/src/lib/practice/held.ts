/**
 * What was told on this device and has not been handed in yet holds here at once: a change of health, pain, soreness. On the
 * safe side; the server says it exactly as soon as it knows.
 */
import type { Days, Entry, Pain } from '../offline/db'
import type { Session } from './lay'

/** For so long a check-in that waits speaks of today. */
const A_DAY_MS = 20 * 3600_000

/** Whether pain ends the session, and the sudden signs are asked. */
export const endsSession = (view: Days, pain: Pain): boolean =>
  pain.level >= view.grave_level || view.grave_places.includes(pain.where)

/** Exercises of a session that wait together with one that hurt. */
export function stopsWith(view: Days, session: Session, exercise: string, where: string): string[] {
  const own = session.items.filter((i) => i.exercise === exercise).flatMap((i) => i.stops_with ?? [])
  return [...new Set([...own, ...(view.at_place?.[where] ?? [])])].filter((id) => id !== exercise)
}

/** Exercises of a session that wait because of what still waits to be handed in, and why. */
export function heldBack(view: Days, session: Session, waiting: readonly Entry[]): Map<string, string> {
  const out = new Map<string, string>()
  const here = new Set(session.items.map((i) => i.exercise))
  const add = (ids: Iterable<string>, why: string) => {
    for (const id of ids) if (here.has(id) && !out.has(id)) out.set(id, why)
  }
  for (const entry of waiting) {
    if (entry.kind === 'answer' && entry.answer !== 'no') {
      const told = view.changes?.find((c) => c.id === entry.caution)
      if (told) add(told.reaches, `you told of ${told.name.toLowerCase()}`)
    } else if (entry.kind === 'log') {
      for (const item of entry.items.filter((i) => i.hurt)) {
        const exercise = view.sessions
          ? Object.values(view.sessions)
              .flatMap((s) => s.items)
              .find((i) => i.line_id === item.line_id && i.assignment_id === item.assignment_id)?.exercise
          : undefined
        if (!exercise) continue
        add([exercise], 'it hurt, and waits for your coach')
        add(stopsWith(view, session, exercise, item.pain_where ?? ''), 'it shares what hurt')
      }
    } else if (
      entry.kind === 'check-in' &&
      entry.soreness > view.sore_above &&
      Date.now() - Date.parse(entry.said_at) < A_DAY_MS
    ) {
      const strength = session.items.filter((i) => i.strength).map((i) => i.exercise)
      add(strength, 'you are sore, so strength rests today')
    }
  }
  return out
}
