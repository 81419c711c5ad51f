/**
 * The pulse train as geometry: where every repetition of a dose lies in time. Pure, so that the cell, the card, the
 * timeline and practice draw the same thing. Right lies above the line, left below, both together around it.
 */
import type { Schemas } from '../api/client'

export type Train = Schemas['TrainView']
export type Lane = 'right' | 'left' | 'both'
export type Shape = 'work' | 'stroke' | 'breath' | 'tap'

export interface Pulse {
  start: number
  lead: number
  hold: number
  release: number
  lane: Lane
}

/** A timed stretch of strokes or circles has no count; it is drawn as strokes of this length. */
const STROKE_S = 2.5
const SOFT = new Set(['strokes', 'circles', 'spots'])
const DASHED = new Set(['tap', 'press'])

export function shapeOf(kind: string): Shape {
  if (kind === 'breaths') return 'breath'
  if (SOFT.has(kind)) return 'stroke'
  return DASHED.has(kind) ? 'tap' : 'work'
}

/** Every repetition in order, in seconds from the start of the first run. */
export function pulses(train: Train): Pulse[] {
  const out: Pulse[] = []
  let now = 0
  train.runs.forEach((lane, run) => {
    if (run) now += train.rest_s
    for (const phase of (lane === 'left' && train.left_phases) || train.phases) {
      const each = phase.lead_s + phase.hold_s + phase.release_s
      if (phase.kind === 'pause') {
        now += each
        continue
      }
      const drawn =
        SOFT.has(phase.kind) && phase.reps === 1 ? Math.max(1, Math.round(each / STROKE_S)) : phase.reps
      const share = (phase.reps * each) / drawn / (each || 1)
      for (let i = 0; i < drawn * phase.directions; i++) {
        out.push({
          start: now,
          lead: phase.lead_s * share,
          hold: phase.hold_s * share,
          release: phase.release_s * share,
          lane
        })
        now += each * share
      }
    }
  })
  return out
}

/** A trapezoid: slope in, plateau, slope out. `up` and `down` are heights above and below the line. */
export function trapezoid(p: Pulse, scale: number, middle: number, height: number): string {
  const x0 = p.start * scale
  const x1 = x0 + p.lead * scale
  const x2 = x1 + p.hold * scale
  const x3 = x2 + Math.min(p.release * 0.7, p.release) * scale
  const up = p.lane === 'left' ? 0 : height
  const down = p.lane === 'right' ? 0 : height
  const half = p.lane === 'both' ? 0.5 : 1
  return `M${x0} ${middle}L${x1} ${middle - up * half}L${x2} ${middle - up * half}L${x3} ${middle}L${x2} ${middle + down * half}L${x1} ${middle + down * half}Z`
}

/** An open curve for strokes, circles and breath. */
export function curve(p: Pulse, scale: number, middle: number, height: number): string {
  const x0 = p.start * scale
  const x3 = (p.start + p.lead + p.hold + p.release) * scale
  const peak = middle + (p.lane === 'left' ? 1 : -1) * height * 0.85
  const mid = x0 + (p.lead + p.hold) * scale
  return `M${x0} ${middle}Q${(x0 + mid) / 2} ${peak} ${mid} ${middle + (peak - middle) * 0.45}T${x3} ${middle}`
}
