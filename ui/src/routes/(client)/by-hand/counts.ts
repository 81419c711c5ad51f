/** The counts that a session plans, by exercise and side, for telling practice by hand. */
import type { Session } from '$lib/offline/days.svelte'

export interface Row {
  item: number
  side: 'right' | 'left'
  sets: number
  reps: number
  ofSets: number
  ofReps: number
}

/** Sets and repetitions a set of every exercise and side, as the compiled timeline has them. */
export function planned(session: Session): Row[] {
  return session.items.flatMap((_, item) =>
    (['right', 'left'] as const).flatMap((side) => {
      const cues = session.cues.filter((c) => c.item === item && c.rep > 0 && c.side !== other(side))
      if (!cues.length) return []
      const sets = new Set(cues.map((c) => c.set_number)).size
      const reps = new Set(cues.map((c) => `${c.set_number} ${c.phase} ${c.direction} ${c.rep}`)).size
      const each = Math.max(1, Math.round(reps / sets))
      return [{ item, side, sets, reps: each, ofSets: sets, ofReps: each }]
    })
  )
}

const other = (side: 'right' | 'left') => (side === 'right' ? 'left' : 'right')
