/** The counts that a session plans, by exercise and side, for telling practice by hand. */
import type { Session } from '$lib/offline/days.svelte'

export interface Row {
  item: number
  /** Both, for exercises that work the sides together. */
  side: 'right' | 'left' | 'both'
  sets: number
  reps: number
  ofSets: number
  ofReps: number
}

/** Sets and repetitions a set of every exercise, side by side where the sides take turns. */
export function planned(session: Session): Row[] {
  return session.items.flatMap(({ counts }, item) => {
    const { right, left } = counts
    const turns = session.cues.some((c) => c.item === item && c.side)
    const alike = right && left && right.sets === left.sets && right.reps === left.reps
    const rows =
      alike && !turns ? [['both', right] as const] : [['right', right] as const, ['left', left] as const]
    return rows.flatMap(([side, plan]) =>
      plan ? [{ item, side, sets: plan.sets, reps: plan.reps, ofSets: plan.sets, ofReps: plan.reps }] : []
    )
  })
}

/** The counts of an item by side, as they are handed in. */
export function told(rows: Row[], item: number): Record<string, { sets: number; reps: number }> {
  return Object.fromEntries(
    rows
      .filter((r) => r.item === item)
      .flatMap((r) =>
        (r.side === 'both' ? ['right', 'left'] : [r.side]).map((side) => [
          side,
          { sets: r.sets, reps: r.reps }
        ])
      )
  )
}
