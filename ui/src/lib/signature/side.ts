/** The head from the side, facing to the right of the picture, as points that head and jaw move. */
import art from './face-figure.json'
import { curve, type Point } from './figure'

type Head = { turn: number; shift: Point }
type Mouth = {
  open: number
  slide: Point
  gap: number
  tongue: Point[]
  out: number
  inside: number
}
const { heads, mouths, iris, ...shapes } = art.side as unknown as {
  heads: Record<string, Head>
  mouths: Record<string, Mouth>
  hair: Point[][]
  iris: Point
} & Record<'outline' | 'jaw' | 'throat' | 'ear' | 'brow' | 'eye' | 'jawline' | 'palate', Point[]>
const [NECK, COLLAR, HINGE]: [Point, number, Point] = [[100, 300], 404, [128, 206]]

const round = ([x, y]: Point, at: Point, degrees: number): Point => {
  const a = (degrees * Math.PI) / 180
  const [dx, dy] = [x - at[0], y - at[1]]
  return [at[0] + dx * Math.cos(a) - dy * Math.sin(a), at[1] + dx * Math.sin(a) + dy * Math.cos(a)]
}
const mix = (a: number, b: number, share: number) => a + (b - a) * share

/** How much of the head's movement a point takes part in: all of it down to the chin, none below the collarbones. */
const part = (y: number) => (y <= 300 ? 1 : Math.max(0, (COLLAR - y) / (COLLAR - 300)))

/** The head at a share of the way between two states of head and of mouth: SVG paths, and where a place has moved to. */
export function profile(head: string[], mouth: string[], share: number) {
  const [h0, h1] = [heads[head[0] ?? 'level'] ?? heads.level!, heads[head.at(-1) ?? 'level'] ?? heads.level!]
  const [m0, m1] = [
    mouths[mouth[0] ?? 'rest'] ?? mouths.rest!,
    mouths[mouth.at(-1) ?? 'rest'] ?? mouths.rest!
  ]
  const turn = mix(h0.turn, h1.turn, share)
  const shift: Point = [mix(h0.shift[0], h1.shift[0], share), mix(h0.shift[1], h1.shift[1], share)]
  const [open, gap] = [mix(m0.open, m1.open, share), mix(m0.gap, m1.gap, share)]
  const slide: Point = [mix(m0.slide[0], m1.slide[0], share), mix(m0.slide[1], m1.slide[1], share)]
  const tongue = m0.tongue.map((p, i): Point => {
    const to = m1.tongue[i] ?? p
    return [mix(p[0], to[0], share), mix(p[1], to[1], share)]
  })
  /** A tongue that works inside is seen there through the cheek, from its first state to its second. */
  const inside = Math.max(m0.inside, m1.inside)

  const nod = (p: Point): Point => {
    const w = part(p[1])
    const [x, y] = round(p, NECK, turn * w)
    return [x + shift[0] * w, y + shift[1] * w]
  }
  const bite = (p: Point, w = 1): Point => {
    const [x, y] = round(p, HINGE, open * w)
    return [x + slide[0] * w, y + slide[1] * w]
  }
  const jaw = shapes.jaw.map((p, i) => nod(bite(p, i < 4 ? 1 : i === 4 ? 0.7 : 0.3)))
  const upper = shapes.outline.map(nod)
  const corner = nod(bite([218, 242], 0.4))
  const lip = nod([240, 241])
  const lower = nod(bite([238, 243]))
  return {
    outline: curve([
      ...upper,
      lip,
      ...(gap > 0.05 ? [corner] : []),
      lower,
      ...jaw,
      ...shapes.throat.map(nod)
    ]),
    mouth: curve([lip, corner]),
    tongue: curve(tongue.map((p) => nod(p))),
    /** How clearly the tongue is seen. */
    tongueSeen: Math.max(inside, mix(m0.out, m1.out, share)),
    palate: inside ? curve(shapes.palate.map(nod)) : '',
    ear: curve(shapes.ear.map(nod)),
    brow: curve(shapes.brow.map(nod)),
    eye: curve(shapes.eye.map(nod)),
    iris: nod(iris),
    jawline: curve(shapes.jawline.map((p, i) => nod(bite(p, i < 3 ? 0.8 : 0.2)))),
    hair: shapes.hair.map((line) => curve(line.map(nod))),
    /** A place as it lies now; the chin goes with the jaw. */
    at: (p: Point): Point => nod(p[1] > 244 && p[0] > 150 && p[1] < 315 ? bite(p) : p)
  }
}
