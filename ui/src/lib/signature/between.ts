/** Shapes between two drawn states of a feature: their paths are built alike, so that number follows number. */
import art from './face-figure.json'
import type { Point } from './figure'

type Numbers = { signs: string[]; values: number[] }
const known = new Map<string, Numbers>()

function numbers(path: string): Numbers {
  let kept = known.get(path)
  if (!kept) {
    kept = {
      signs: path.split(/-?\d+(?:\.\d+)?/),
      values: (path.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
    }
    known.set(path, kept)
  }
  return kept
}

/** The path at a share (0 to 1) of the way from one to the other; the nearer one where they are not built alike. */
export function between(from: string, to: string, share: number): string {
  if (share <= 0 || from === to) return from
  if (share >= 1) return to
  const [a, b] = [numbers(from), numbers(to)]
  if (a.values.length !== b.values.length) return share < 0.5 ? from : to
  let out = a.signs[0] ?? ''
  for (const [i, value] of a.values.entries())
    out += Math.round(10 * (value + (b.values[i]! - value) * share)) / 10 + (a.signs[i + 1] ?? '')
  return out
}

type Mouth = { lips: string; dark: string; lines: string; shut: number; tongue: string; crease: string }
type Eye = { white: string; lines: string; iris: Point; shut: number }
const mouths = art.mouths as Record<string, Mouth>
const eyes = art.eyes as unknown as Record<string, Eye>
const brows = art.brows as Record<string, string>
const mix = (a: number, b: number, share: number) => a + (b - a) * share

/** Two states of a feature and how far it has gone from the first to the second. */
export type Way = [from: string, to: string, share: number]

/** A mouth on its way; ``open`` says how clearly the dark of the opening is seen, ``tongue`` and ``crease`` how clearly they are. */
export function mouthAt([from, to, share]: Way) {
  const [a, b] = [mouths[from] ?? mouths.rest!, mouths[to] ?? mouths.rest!]
  const part = (key: 'tongue' | 'crease') => ({
    path: a[key] || b[key],
    seen: mix(a[key] ? 1 : 0, b[key] ? 1 : 0, share)
  })
  return {
    lips: between(a.lips, b.lips, share),
    dark: between(a.dark, b.dark, share),
    lines: between(a.lines, b.lines, share),
    open: Math.min(1, 3 * mix(1 - a.shut, 1 - b.shut, share)),
    tongue: part('tongue'),
    crease: part('crease')
  }
}

/** An eye on its way; ``open`` says how clearly the iris is seen. */
export function eyeAt([from, to, share]: Way) {
  const [a, b] = [eyes[from] ?? eyes.rest!, eyes[to] ?? eyes.rest!]
  return {
    white: between(a.white, b.white, share),
    lines: between(a.lines, b.lines, share),
    iris: [mix(a.iris[0], b.iris[0], share), mix(a.iris[1], b.iris[1], share)] as Point,
    open: Math.max(0, Math.min(1, 2.5 * mix(1 - a.shut, 1 - b.shut, share)))
  }
}

/** A brow on its way. */
export const browAt = ([from, to, share]: Way): string =>
  between(brows[from] ?? brows.rest!, brows[to] ?? brows.rest!, share)
