/** Where sittings stand on the axis: none over another, and whether there is room for their words. */
import type { Schemas } from '../../api/client'
import { daysBetween } from '../../format'
import { LEFT, RIGHT, type Axis } from './axis'

export interface Stand {
  sitting: Schemas['SittingBrief']
  x: number
  words: boolean
}

export function stands(sittings: Schemas['SittingBrief'][], axis: Axis): Stand[] {
  const inside = sittings.filter(
    (s) => daysBetween(axis.start, s.taken_on) >= -14 && daysBetween(axis.start, s.taken_on) < axis.weeks * 7
  )
  const xs: number[] = []
  for (const s of inside)
    xs.push(Math.min(Math.max(axis.at(s.taken_on), LEFT + 4, (xs.at(-1) ?? -100) + 42), RIGHT - 36))
  return inside.map((sitting, i) => ({
    sitting,
    x: xs[i] ?? 0,
    words: Math.min(xs[i + 1] ?? 9999, RIGHT + 60) - (xs[i] ?? 0) > 110
  }))
}
