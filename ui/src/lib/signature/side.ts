/** The head from the side, facing to the right of the picture, as points that head and jaw move. */
import { curve, type Point } from './figure'

/** How a state of the head turns it round the neck (degrees) and shifts it; what lies lower moves less, down to the collarbones. */
const HEAD: Record<string, { turn: number; shift: Point }> = {
  level: { turn: 0, shift: [0, 0] },
  back: { turn: -20, shift: [-2, 4] },
  forward: { turn: 3, shift: [26, 8] },
  in: { turn: 4, shift: [-12, -2] },
  tilt: { turn: 0, shift: [0, 4] },
  left: { turn: 0, shift: [0, 0] }
}
/** How a state of the mouth opens the jaw (degrees round the ear), slides it, and what lips and tongue do. */
const MOUTH: Record<string, { open: number; slide: Point; gap: number; tongue: number }> = {
  rest: { open: 0, slide: [0, 0], gap: 0, tongue: 0 },
  open: { open: 7, slide: [0, 0], gap: 1, tongue: 0 },
  ah: { open: 14, slide: [0, 0], gap: 1, tongue: 0 },
  oh: { open: 10, slide: [0, 0], gap: 1, tongue: 0 },
  oo: { open: 4, slide: [0, 0], gap: 0.5, tongue: 0 },
  oval: { open: 13, slide: [0, 0], gap: 1, tongue: 0 },
  'oval-lift': { open: 12, slide: [0, 0], gap: 1, tongue: 0 },
  'tongue-up': { open: 8, slide: [0, 0], gap: 1, tongue: 1 },
  'lower-forward': { open: 0, slide: [11, -3], gap: 0, tongue: 0 }
}
const OUTLINE: [number, number, number][] = [
  // x, y, and how far the point belongs to the jaw
  [44, 446, 0],
  [56, 400, 0],
  [66, 350, 0],
  [68, 300, 0],
  [60, 250, 0],
  [50, 222, 0],
  [28, 190, 0],
  [14, 140, 0],
  [18, 86, 0],
  [44, 36, 0],
  [88, 4, 0],
  [136, -8, 0],
  [182, 4, 0],
  [214, 42, 0],
  [226, 88, 0],
  [229, 122, 0],
  [222, 142, 0],
  [233, 166, 0],
  [253, 196, 0],
  [250, 204, 0],
  [234, 211, 0],
  [236, 224, 0],
  [242, 233, 0]
]
const JAW: Point[] = [
  [239, 250],
  [229, 262],
  [233, 281],
  [222, 299],
  [192, 307],
  [164, 316]
]
const THROAT: Point[] = [
  [152, 334],
  [150, 370],
  [160, 404],
  [168, 446]
]
const EAR: Point[] = [
  [122, 196],
  [112, 178],
  [108, 156],
  [118, 144],
  [130, 150],
  [130, 168],
  [122, 180],
  [124, 194]
]
const HAIR: Point[][] = [
  [
    [212, 40],
    [184, 66],
    [166, 96],
    [152, 132],
    [138, 140]
  ],
  [
    [186, 8],
    [150, 44],
    [122, 90],
    [104, 140]
  ],
  [
    [150, -4],
    [108, 40],
    [82, 96],
    [78, 150]
  ],
  [
    [104, 0],
    [66, 50],
    [48, 110],
    [56, 170]
  ],
  [
    [60, 24],
    [32, 76],
    [28, 136],
    [44, 190]
  ],
  [
    [106, 150],
    [92, 190],
    [72, 222],
    [58, 232]
  ]
]
const BROW: Point[] = [
  [184, 128],
  [200, 121],
  [222, 126]
]
const EYE: Point[] = [
  [188, 152],
  [200, 145],
  [214, 148],
  [216, 153],
  [204, 158],
  [190, 154]
]
const JAWLINE: Point[] = [
  [186, 296],
  [152, 284],
  [134, 258],
  [128, 214]
]
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
  const [h0, h1] = [HEAD[head[0] ?? 'level'] ?? HEAD.level!, HEAD[head.at(-1) ?? 'level'] ?? HEAD.level!]
  const [m0, m1] = [MOUTH[mouth[0] ?? 'rest'] ?? MOUTH.rest!, MOUTH[mouth.at(-1) ?? 'rest'] ?? MOUTH.rest!]
  const turn = mix(h0.turn, h1.turn, share)
  const shift: Point = [mix(h0.shift[0], h1.shift[0], share), mix(h0.shift[1], h1.shift[1], share)]
  const [open, gap] = [mix(m0.open, m1.open, share), mix(m0.gap, m1.gap, share)]
  const slide: Point = [mix(m0.slide[0], m1.slide[0], share), mix(m0.slide[1], m1.slide[1], share)]
  const tongue = mix(m0.tongue, m1.tongue, share)

  const nod = (p: Point): Point => {
    const w = part(p[1])
    const [x, y] = round(p, NECK, turn * w)
    return [x + shift[0] * w, y + shift[1] * w]
  }
  const bite = (p: Point, w = 1): Point => {
    const [x, y] = round(p, HINGE, open * w)
    return [x + slide[0] * w, y + slide[1] * w]
  }
  const jaw = JAW.map((p, i) => nod(bite(p, i < 4 ? 1 : i === 4 ? 0.7 : 0.3)))
  const upper = OUTLINE.map(([x, y]) => nod([x, y]))
  const corner = nod(bite([218, 242], 0.4))
  const lip = nod([240, 241])
  const lower = nod(bite([238, 243]))
  return {
    outline: curve([...upper, lip, ...(gap > 0.05 ? [corner] : []), lower, ...jaw, ...THROAT.map(nod)]),
    mouth: curve([lip, corner]),
    tongue:
      tongue > 0.05
        ? curve([corner, nod([230, 238 - 6 * tongue]), nod([238 + 8 * tongue, 232 - 8 * tongue])])
        : '',
    ear: curve(EAR.map(nod)),
    brow: curve(BROW.map(nod)),
    eye: curve(EYE.map(nod)),
    iris: nod([208, 152]),
    jawline: curve(JAWLINE.map((p, i) => nod(bite(p, i < 3 ? 0.8 : 0.2)))),
    hair: HAIR.map((line) => curve(line.map(nod))),
    /** A place as it lies now; the chin goes with the jaw. */
    at: (p: Point): Point => nod(p[1] > 244 && p[0] > 150 && p[1] < 315 ? bite(p) : p)
  }
}
