/** The one horizontal axis of a course: days to places, from its first day over all its weeks. */
import type { Schemas } from '../../api/client'
import { addDays, daysBetween } from '../../format'

export const LEFT = 128
export const RIGHT = 1002
/** Top and bottom of each track. */
export const ROWS = {
  dose: [34, 92],
  practice: [92, 152],
  feel: [152, 208],
  sittings: [208, 270],
  reading: [270, 330]
} as const
export const HEIGHT = 332

export interface Axis {
  start: string
  weeks: number
  /** Width of a week and of a day. */
  span: number
  day: number
  /** Place of the middle of a day. */
  at: (iso: string) => number
  /** Place at which a week (1-based) begins, and its first day. */
  begins: (week: number) => number
  first: (week: number) => string
  holds: (iso: string) => boolean
}

export function axisOf(start: string, weeks: number): Axis {
  const span = (RIGHT - LEFT) / Math.max(weeks, 1)
  const day = span / 7
  return {
    start,
    weeks,
    span,
    day,
    at: (iso) => LEFT + (daysBetween(start, iso) + 0.5) * day,
    begins: (week) => LEFT + (week - 1) * span,
    first: (week) => addDays(start, (week - 1) * 7),
    holds: (iso) => daysBetween(start, iso) >= 0 && daysBetween(start, iso) < weeks * 7
  }
}

/** Which week numbers there is room for. */
export function labelled(axis: Axis, week: number): boolean {
  const every = axis.span > 22 ? 1 : axis.span > 12 ? 4 : 8
  return every === 1 || week === 1 || week % every === 0
}

/** Whether nothing in a course contracts, so that its dose is the time that hands work. */
export const handsOnly = (course: Schemas['CourseView']): boolean =>
  course.days.every((d) => d.right_s + d.left_s === 0) && course.days.some((d) => d.hands_on_s > 0)
