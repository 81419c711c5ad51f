/** How photographs are laid level and alike on the screen. Measuring is the core's; this only places pictures. */

export type Place = [number, number]
export type Points = Record<string, Place>

/** x' = a x - b y + tx, y' = b x + a y + ty: a turn, one scale and a shift. */
export interface Similarity {
  a: number
  b: number
  tx: number
  ty: number
}

export const ANCHORS = ['ex_right', 'en_right', 'en_left', 'ex_left', 'sn']
export const STAGE = { w: 318, h: 384 }

/** Where the anchors of a picture come to lie: eye line level, centred, at a little above two fifths of the height. */
export function layout(points: Points): Points | null {
  const p = ANCHORS.map((n) => points[n])
  if (p.some((x) => !x)) return null
  const [exRight, enRight, enLeft, exLeft] = p as [Place, Place, Place, Place]
  const centre: Place = [
    (exRight[0] + enRight[0] + enLeft[0] + exLeft[0]) / 4,
    (exRight[1] + enRight[1] + enLeft[1] + exLeft[1]) / 4
  ]
  const dx = exLeft[0] - exRight[0]
  const dy = exLeft[1] - exRight[1]
  const long = Math.hypot(dx, dy)
  const k = (STAGE.w * 0.4) / long
  const a = (k * dx) / long
  const b = (-k * dy) / long
  const out: Points = {}
  ANCHORS.forEach((n, i) => {
    const [x, y] = p[i] as Place
    out[n] = [
      STAGE.w / 2 + a * (x - centre[0]) - b * (y - centre[1]),
      STAGE.h * 0.47 + b * (x - centre[0]) + a * (y - centre[1])
    ]
  })
  return out
}

/** Least-squares similarity that brings a picture's anchors onto a layout. */
export function align(points: Points, target: Points): Similarity | null {
  const pairs = ANCHORS.filter((n) => points[n] && target[n]).map(
    (n) => [points[n], target[n]] as [Place, Place]
  )
  if (pairs.length < 3) return null
  const mean = (i: 0 | 1): Place => [
    pairs.reduce((s, p) => s + p[i][0], 0) / pairs.length,
    pairs.reduce((s, p) => s + p[i][1], 0) / pairs.length
  ]
  const [mx, my] = mean(0)
  const [ux, uy] = mean(1)
  let re = 0
  let im = 0
  let size = 0
  for (const [[x, y], [u, v]] of pairs) {
    re += (x - mx) * (u - ux) + (y - my) * (v - uy)
    im += (x - mx) * (v - uy) - (y - my) * (u - ux)
    size += (x - mx) ** 2 + (y - my) ** 2
  }
  const a = re / size
  const b = im / size
  return { a, b, tx: ux - a * mx + b * my, ty: uy - b * mx - a * my }
}

/** The whole picture within the stage, as it was taken. */
export function fit(width: number, height: number): Similarity {
  const k = Math.min(STAGE.w / width, STAGE.h / height)
  return { a: k, b: 0, tx: (STAGE.w - k * width) / 2, ty: (STAGE.h - k * height) / 2 }
}

export const forward = (m: Similarity, [x, y]: Place): Place => [
  m.a * x - m.b * y + m.tx,
  m.b * x + m.a * y + m.ty
]

export function back(m: Similarity, [u, v]: Place): Place {
  const d = m.a * m.a + m.b * m.b
  const x = u - m.tx
  const y = v - m.ty
  return [(m.a * x + m.b * y) / d, (m.a * y - m.b * x) / d]
}

export const scale = (m: Similarity): number => Math.hypot(m.a, m.b)
export const matrix = (m: Similarity): string => `matrix(${m.a} ${m.b} ${-m.b} ${m.a} ${m.tx} ${m.ty})`

/** Pixels of a picture that is stored mirrored are turned round before they are placed. */
export const turned = (p: { flipped: boolean; width: number }): string | undefined =>
  p.flipped ? `translate(${p.width} 0) scale(-1 1)` : undefined

export const side = (name: string): 'right' | 'left' | null =>
  name.endsWith('_right') ? 'right' : name.endsWith('_left') ? 'left' : null

/** The closed contours that are drawn when outlines are compared. */
export const CONTOURS: string[][] = [
  ['bi_right', 'bp_right', 'bo_right'],
  ['bi_left', 'bp_left', 'bo_left'],
  ['en_right', 'ps_right', 'ex_right', 'pi_right', 'en_right'],
  ['en_left', 'ps_left', 'ex_left', 'pi_left', 'en_left'],
  ['al_right', 'sn', 'al_left'],
  ['ch_right', 'ls', 'ch_left', 'li', 'ch_right'],
  ['go_right', 'me', 'go_left']
]

/** The contours of a face as SVG path data, its points placed by `m`. */
export const outline = (points: Record<string, number[]>, m: Similarity): string =>
  CONTOURS.map((c) =>
    c
      .map((n) => points[n] as Place | undefined)
      .filter((x): x is Place => !!x)
      .map(
        (x, i) =>
          `${i ? 'L' : 'M'}${forward(m, x)
            .map((v) => v.toFixed(1))
            .join(' ')}`
      )
      .join('')
  ).join('')
