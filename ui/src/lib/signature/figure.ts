/** Geometry of figures: where hands come from, what a hand looks like, and where it is at a moment of the cycle. */
import art from './face-figure.json'

export type Point = [number, number]
export type FigureHand = { tool: string; path: string[]; does: string; other: boolean }
export type FigureData = {
  view: string
  mouth: string[]
  eyes: string[]
  brows: string[]
  head: string[]
  hands: FigureHand[]
  moves: string[][]
  one_side: boolean
  /** Whether the breath is drawn. */
  breath: boolean
  words: string[]
}

type Reach = {
  within?: { x?: number[]; y?: number[] }
  tools?: string[]
  not?: string[]
  angle: number
}
const { fingers, reaches, heads, breath } = art.hands as unknown as {
  /** Of every tool: where a finger begins along and across the hand, its length, width, and turn in radians. */
  fingers: Record<string, [number, number, number, number, number][]>
  reaches: Reach[]
  heads: Record<string, { features: number[]; head: number[] }>
  breath: string
}
/** The breath on one side: waves that go out from the nose. */
export const BREATH = breath

/** Seconds of one cycle of a figure. */
export const CYCLE_S = 5

export const places = (view: string, names: string[]): Point[] => {
  const known = art.places[view as keyof typeof art.places] as unknown as Record<string, Point>
  return names.map((n) => known[n] ?? [0, 0])
}

/** A smooth line through points, as SVG path data. */
export function curve(points: Point[]): string {
  const at = (i: number) => points[Math.max(0, Math.min(points.length - 1, i))] as Point
  let out = `M${at(0).join(' ')}`
  for (let i = 0; i < points.length - 1; i++) {
    const [b, f, t, a] = [at(i - 1), at(i), at(i + 1), at(i + 2)]
    const c = (p: Point, q: Point, r: Point, s: number): Point => [
      q[0] + ((r[0] - p[0]) / 6) * s,
      q[1] + ((r[1] - p[1]) / 6) * s
    ]
    out += `C${c(b, f, t, 1).join(' ')} ${c(f, t, a, -1).join(' ')} ${t.join(' ')}`
  }
  return out
}

/** The point at a share (0 to 1) of a line of straight pieces. */
export function along(points: Point[], share: number): Point {
  const lengths = points.slice(1).map((p, i) => Math.hypot(p[0] - points[i]![0], p[1] - points[i]![1]))
  let left = share * lengths.reduce((a, b) => a + b, 0)
  for (const [i, length] of lengths.entries()) {
    if (left <= length || i === lengths.length - 1) {
      const u = length ? Math.min(1, left / length) : 0
      const [p, q] = [points[i]!, points[i + 1]!]
      return [p[0] + (q[0] - p[0]) * u, p[1] + (q[1] - p[1]) * u]
    }
    left -= length
  }
  return points[0] ?? [0, 0]
}

/** How far a hand reaches below and beside the place that it touches. */
const HAND = { down: 44, out: 52 }

/** What is drawn of the whole: [x, y, width, height], the face alone where that is enough. */
export function frame(figure: FigureData, whole: boolean): [number, number, number, number] {
  if (figure.view === 'side') return [-16, -24, 300, 450]
  const paths = [...figure.hands.map((h) => h.path), ...figure.moves].flat()
  if (whole || paths.some((p) => /shoulder|collarbone-outer|blade/.test(p))) return [-205, -16, 410, 462]
  const hands = places(figure.view, figure.hands.map((h) => h.path).flat())
  const moves = places(figure.view, figure.moves.flat())
  const bottom = Math.max(
    0,
    ...hands.map(([, y]) => (y > 180 ? y + HAND.down : y)),
    ...moves.map(([, y]) => y + 10)
  )
  const half = Math.max(140, ...hands.map(([x]) => x + HAND.out))
  if (figure.view === 'behind' || bottom > 372)
    return [-Math.max(half, 155), -14, 2 * Math.max(half, 155), 464]
  if (bottom > 318) return [-half, -14, 2 * half, 388]
  return [-half, -14, 2 * half, 332]
}

const ease = (u: number) => u * u * (3 - 2 * u)

/** How far a figure has gone from its first state to its second: there, wait, and back. */
export function swing(phase: number): number {
  if (phase < 0.3) return ease(phase / 0.3)
  if (phase < 0.65) return 1
  return phase < 0.9 ? 1 - ease((phase - 0.65) / 0.25) : 0
}

/** Where practice stands in an exercise: the beat, how far it has gone (0 to 1) and for how many seconds, the seconds from one soft beat
 * of the movement to the next (0 for none), and the repetition. */
export type Count = {
  beat: string
  progress: number
  seconds: number
  every: number
  rep: number
  reps: number
}

/** How far a figure has gone from its first state to its second, by the count: it lifts through the lead, stays through the hold, sinks
 * through the release. */
export function pacedShare(count: Count): number {
  if (count.beat === 'lead') return ease(count.progress)
  if (count.beat === 'hold') return 1
  if (count.beat === 'release') return 1 - ease(count.progress)
  return count.beat === 'move' ? swing((count.seconds / (count.every || CYCLE_S)) % 1) : 0
}

/** How many soft beats of a movement one cycle of a hand has, as `handAt` draws it. */
const BEATS: Record<string, number> = { circle: 2, tap: 16, press: 4 }

/** The phase of a hand by the count: it strokes through the lead and lifts off through the release; what is walked goes on with every
 * repetition; a timed movement goes at its own pace. */
export function pacedHand(count: Count, does: string): number {
  if (does === 'circle' || does === 'tap' || count.beat === 'move')
    return (count.seconds / ((count.every || CYCLE_S / (BEATS[does] ?? 1)) * (BEATS[does] ?? 1))) % 1
  if (does === 'walk' && count.reps > 1) return (0.75 * (count.rep - 1)) / (count.reps - 1)
  if (count.beat === 'lead') return 0.75 * count.progress
  if (count.beat === 'hold') return does === 'press' ? 0.125 : 0.74
  return count.beat === 'release' ? 0.75 + 0.24 * count.progress : 0
}

/** Where a hand is at a phase (0 to 1) of the cycle, and how clearly it is shown while it lifts off to begin again. */
export function handAt(hand: FigureHand, path: Point[], phase: number): { at: Point; show: number } {
  const first = path[0] ?? [0, 0]
  if (hand.does === 'circle') {
    const turn = phase * 4 * Math.PI
    return { at: [first[0] + 5 * Math.cos(turn), first[1] + 5 * Math.sin(turn)], show: 1 }
  }
  if (hand.does === 'press') {
    const wave = path.length > 1 ? along(path, Math.min(0.999, Math.floor(phase * 4) / 3)) : first
    return { at: wave, show: 0.7 + 0.3 * Math.abs(Math.sin(phase * 4 * Math.PI)) }
  }
  if (hand.does === 'tap') {
    const hop = Math.abs(Math.sin(phase * 16 * Math.PI))
    const there = path.length > 1 ? along(path, phase < 0.5 ? phase * 2 : 2 - phase * 2) : first
    return { at: [there[0] + 3 * hop, there[1] - 4 * hop], show: 1 }
  }
  if (path.length < 2 || hand.does === 'still') return { at: first, show: 1 }
  const go = Math.min(1, phase / 0.75)
  const steps = hand.does === 'walk' ? Math.round(go * 8) / 8 : ease(go)
  return { at: along(path, steps), show: phase < 0.75 ? 1 : 1 - (phase - 0.75) / 0.25 }
}

const finger = (x: number, y: number, length: number, width: number, angle: number): string => {
  const r = width / 2
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const p = (u: number, v: number) => `${(x + u * c - v * s).toFixed(1)} ${(y + u * s + v * c).toFixed(1)}`
  return `M${p(0, -r)}A${r} ${r} 0 0 0 ${p(0, r)}L${p(length, r * 1.12)}A${r * 1.12} ${r * 1.12} 0 0 0 ${p(length, -r * 1.12)}Z`
}

/**
 * A hand as outlines, its touch at the origin. `angle` points from the touch back to the wrist, so that hands come from
 * outside and below.
 */
export function handShape(tool: string, angle: number): string[] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  return (fingers[tool] ?? []).map(([u, v, length, width, turn]) =>
    finger(u * c - v * s, u * s + v * c, length, width, angle + turn)
  )
}

/** The direction from a touch back to its wrist, in radians: of the first entry that is met. */
export function reach([x, y]: Point, tool: string): number {
  const within = (value: number, limits?: number[]) => !limits || (value >= limits[0]! && value < limits[1]!)
  const met = reaches.find(
    (r) =>
      (!r.tools || r.tools.includes(tool)) &&
      !r.not?.includes(tool) &&
      within(x, r.within?.x) &&
      within(y, r.within?.y)
  )
  return met?.angle ?? 0
}

/** How a state of the head moves its features and itself: [dx, dy, scale x, scale y]; [dx, dy, scale, turn in degrees]. */
export const HEAD_POSE = heads

/** A pose between two states of the head. */
export function pose(states: string[], share: number) {
  const first = HEAD_POSE[states[0] ?? 'level'] ?? HEAD_POSE.level!
  const second = HEAD_POSE[states.at(-1) ?? 'level'] ?? first
  const mix = (a: number[], b: number[]) => a.map((v, i) => v + ((b[i] ?? v) - v) * share)
  return { features: mix(first.features, second.features), head: mix(first.head, second.head) }
}
