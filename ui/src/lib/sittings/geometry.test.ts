import { describe, expect, test } from 'vitest'
import { align, back, fit, forward, layout, scale, side, STAGE, type Place, type Points } from './geometry'

const FACE: Points = {
  ex_right: [100, 200],
  en_right: [140, 204],
  en_left: [180, 204],
  ex_left: [220, 200],
  sn: [160, 260]
}
/** A face turned, scaled and moved as a photograph may have it. */
const moved = (turn: number, k: number, dx: number, dy: number): Points =>
  Object.fromEntries(
    Object.entries(FACE).map(([n, [x, y]]) => [
      n,
      [
        k * (x * Math.cos(turn) - y * Math.sin(turn)) + dx,
        k * (x * Math.sin(turn) + y * Math.cos(turn)) + dy
      ] as Place
    ])
  )
const near = (a: Place, b: Place) => expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1e-6)

describe('pictures laid alike', () => {
  test('the eyes are level and centred, whatever the photograph was', () => {
    for (const points of [FACE, moved(0.3, 2, 50, -20), moved(-0.4, 0.5, 0, 900)]) {
      const out = layout(points) as Points
      expect(out['ex_right']?.[1]).toBeCloseTo(out['ex_left']?.[1] ?? NaN, 6)
      expect(((out['ex_right']?.[0] ?? 0) + (out['ex_left']?.[0] ?? 0)) / 2).toBeCloseTo(STAGE.w / 2, 6)
    }
  })

  test('the same face photographed otherwise comes to lie on itself', () => {
    const target = layout(FACE) as Points
    const other = moved(0.25, 1.7, 33, -71)
    const m = align(other, target)
    for (const n of Object.keys(FACE)) near(forward(m as never, other[n] as Place), target[n] as Place)
    expect(scale(m as never)).toBeCloseTo((STAGE.w * 0.4) / (120 * 1.7), 6)
  })

  test('without its anchors a picture is not laid', () => {
    expect(layout({ ...FACE, sn: undefined } as never)).toBeNull()
    expect(align({ sn: [1, 2] }, FACE)).toBeNull()
  })

  test('a place and back again is the same place', () => {
    const m = align(moved(0.7, 0.4, 5, 6), layout(FACE) as Points)
    near(back(m as never, forward(m as never, [12, 34])), [12, 34])
  })

  test('a whole picture fits the stage and keeps its shape', () => {
    for (const [w, h] of [
      [3000, 2000],
      [900, 4000]
    ] as const) {
      const m = fit(w, h)
      const [x, y] = forward(m, [w, h])
      expect(x).toBeLessThanOrEqual(STAGE.w + 1e-9)
      expect(y).toBeLessThanOrEqual(STAGE.h + 1e-9)
      expect(m.b).toBe(0)
    }
  })

  test('a side is the client’s own, by the point’s name', () => {
    expect([side('ex_right'), side('ex_left'), side('sn')]).toEqual(['right', 'left', null])
  })
})
