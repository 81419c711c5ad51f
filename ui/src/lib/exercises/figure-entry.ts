/** A figure as it is written in an exercise, and as it is drawn. */
import type { FigureData } from '$lib/signature/figure'

export interface HandEntry {
  with: string
  path: string[]
  do: string
  other: boolean
}
/** States are written as `oval` or `rest > oval`. */
export interface FigureEntry {
  view: 'front' | 'behind' | 'side'
  mouth: string
  eyes: string
  brows: string
  head: string
  hands: HandEntry[]
  moves: string[][]
  sides: 'both' | 'one'
  breath: boolean
}
export const FEATURES = ['mouth', 'eyes', 'brows', 'head'] as const
export type Feature = (typeof FEATURES)[number]

export const RESTING: Record<Feature, string> = { mouth: 'rest', eyes: 'rest', brows: 'rest', head: 'level' }

/** A figure with everything that was left out. */
export const whole = (given: Partial<FigureEntry>): FigureEntry => ({
  view: 'front',
  ...RESTING,
  hands: [],
  moves: [],
  sides: 'both',
  breath: false,
  ...given
})

export const states = (text: string): string[] =>
  text
    .split('>')
    .map((s) => s.trim())
    .filter(Boolean)
export const written = (first: string, then: string): string =>
  then && then !== first ? `${first} > ${then}` : first

/** As it is drawn; hands and moves without a place are left out until they have one. */
export const drawing = (f: FigureEntry): FigureData => ({
  view: f.view,
  mouth: states(f.mouth),
  eyes: states(f.eyes),
  brows: states(f.brows),
  head: states(f.head),
  hands: f.hands
    .filter((h) => h.path.length)
    .map((h) => ({ tool: h.with, path: [...h.path], does: h.do, other: h.other })),
  moves: f.moves.filter((m) => m.length > 1).map((m) => [...m]),
  one_side: f.sides === 'one',
  breath: f.breath,
  words: []
})

/** The same seen from elsewhere: places that are not seen from there go. */
export function seenFrom(
  f: FigureEntry,
  view: FigureEntry['view'],
  known: Record<string, string>
): FigureEntry {
  const kept = (path: string[]) => path.filter((p) => p in known)
  return {
    ...f,
    view,
    sides: view === 'side' ? 'both' : f.sides,
    hands: f.hands.map((h) => ({ ...h, path: kept(h.path) })),
    moves: f.moves.map(kept)
  }
}
