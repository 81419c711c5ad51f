/** What may still be repeated of a session before the ceilings of the day are reached: of each exercise, and of what it loads. */
import type { Sides } from '../offline/db'
import type { Cue, Item } from './lay'

const SIDES = ['right', 'left'] as const
const none = (): Sides => ({ right: 0, left: 0 })

/** What something takes: time that counts toward the exercise's ceiling, and time that loads its muscles, by side. */
export interface Taken {
  cost: Sides
  load: Sides
}

/** What playing from one second to another takes. */
export function taken(cues: readonly Cue[], from: number, to: number): Taken {
  const [cost, load] = [none(), none()]
  for (const cue of cues) {
    const played = Math.min(cue.start_s + cue.length_s, to) - Math.max(cue.start_s, from)
    if (played <= 0) continue
    for (const side of SIDES) {
      if (cue.works && cue.works !== side) continue
      if (cue.counts) cost[side] += played
      if (cue.loads) load[side] += played
    }
  }
  return { cost, load }
}

/** What holding the running moment so many seconds longer takes. */
export function held(cue: Cue, seconds: number): Taken {
  const cost = none()
  for (const side of SIDES) if (!cue.works || cue.works === side) cost[side] = seconds
  return { cost, load: none() }
}

/** What one thing takes beyond another, never below nothing. */
export function beyond(a: Taken, b: Taken): Taken {
  const over = (x: Sides, y: Sides): Sides => ({
    right: Math.max(0, x.right - y.right),
    left: Math.max(0, x.left - y.left)
  })
  return { cost: over(a.cost, b.cost), load: over(a.load, b.load) }
}

export class Spare {
  /** What was repeated beyond the session, in seconds: of each exercise's ceiling, and of each muscle. */
  readonly spent = new Map<string, Sides>()
  readonly worked = new Map<string, Sides>()

  /** Whether so much more of an exercise would pass its ceiling, or that of something it loads, on either side. */
  passes(item: Item, { cost, load }: Taken): boolean {
    const had = this.spent.get(item.exercise) ?? none()
    if (SIDES.some((s) => cost[s] > 0 && had[s] + cost[s] > (item.spare_s[s] ?? 0))) return true
    return Object.entries(item.spare_muscles).some(([muscle, spare]) => {
      const worked = this.worked.get(muscle) ?? none()
      const share = item.muscles[muscle] ?? 0
      return SIDES.some((s) => load[s] > 0 && worked[s] + share * load[s] > (spare[s] ?? 0))
    })
  }

  spend(item: Item, { cost, load }: Taken): void {
    const had = this.spent.get(item.exercise) ?? none()
    this.spent.set(item.exercise, { right: had.right + cost.right, left: had.left + cost.left })
    for (const [muscle, share] of Object.entries(item.muscles)) {
      const worked = this.worked.get(muscle) ?? none()
      this.worked.set(muscle, {
        right: worked.right + share * load.right,
        left: worked.left + share * load.left
      })
    }
  }
}
