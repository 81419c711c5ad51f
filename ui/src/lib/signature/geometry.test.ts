import { describe, expect, test } from 'vitest'
import { between, eyeAt, mouthAt } from './between'
import art from './face-figure.json'
import { profile } from './side'
import { drawn, onNeck, toward } from './face-map'
import {
  along,
  curve,
  frame,
  handAt,
  handShape,
  HEAD_POSE,
  pacedHand,
  pacedShare,
  places,
  pose,
  reach,
  swing,
  type FigureData,
  type FigureHand,
  type Point
} from './figure'
import { axisOf, labelled, LEFT, RIGHT } from './ruler/axis'
import { pulses, shapeOf, trapezoid, type Train } from './train'

const train = (more: object): Train =>
  ({ runs: ['right', 'left'], rest_s: 4, total_s: 0, ...more }) as unknown as Train
const phase = (
  kind: string,
  reps: number,
  lead_s: number,
  hold_s: number,
  release_s: number,
  directions = 1
) => ({ kind, reps, lead_s, hold_s, release_s, directions })

describe('the pulse train', () => {
  test('every repetition lies where it is practised: run after run, with the rest between', () => {
    const out = pulses(train({ phases: [phase('reps', 2, 1, 5, 2)] }))
    expect(out.map((p) => [p.lane, p.start])).toEqual([
      ['right', 0],
      ['right', 8],
      ['left', 20],
      ['left', 28]
    ])
  })

  test('a pause takes time and draws nothing', () => {
    const out = pulses(
      train({
        runs: ['both'],
        phases: [phase('reps', 1, 0, 3, 0), phase('pause', 1, 0, 10, 0), phase('reps', 1, 0, 3, 0)]
      })
    )
    expect(out.map((p) => p.start)).toEqual([0, 13])
  })

  test('a timed stretch of strokes is drawn as strokes that fill it', () => {
    const out = pulses(train({ runs: ['both'], phases: [phase('strokes', 1, 0, 30, 0)] }))
    expect(out).toHaveLength(12)
    const last = out.at(-1)
    expect((last?.start ?? 0) + (last?.hold ?? 0)).toBeCloseTo(30, 6)
  })

  test('right is above the line, left below, both around it', () => {
    const [right, left] = pulses(train({ phases: [phase('reps', 1, 1, 5, 2)] })).map((p) =>
      trapezoid(p, 1, 50, 10)
    )
    const heights = (d = '') => [...d.matchAll(/[ML]\S+ (\S+?)(?=[LZ])/g)].map((m) => Number(m[1]))
    expect(Math.min(...heights(right))).toBe(40)
    expect(Math.max(...heights(right))).toBe(50)
    expect(Math.max(...heights(left))).toBe(60)
  })

  test.each([
    ['breaths', 'breath'],
    ['circles', 'stroke'],
    ['press', 'tap'],
    ['reps', 'work']
  ])('%s are drawn as %s', (kind, shape) => expect(shapeOf(kind)).toBe(shape))
})

describe('the face map', () => {
  test('the client’s left is at the viewer’s right when facing, at the viewer’s left in a mirror and from behind', () => {
    expect(toward('facing')).toEqual({ left: 1, right: -1 })
    expect(toward('mirror')).toEqual({ left: -1, right: 1 })
    expect(toward('behind')).toEqual({ left: -1, right: 1 })
  })

  test('a head alone leaves the neck out, and only that', () => {
    const [whole, head] = [drawn('facing', false), drawn('facing', true)].map((d) => d.map(([name]) => name))
    const gone = whole?.filter((n) => !head?.includes(n)) ?? []
    expect(gone.length).toBeGreaterThan(3)
    expect(gone.every((n) => onNeck([n]))).toBe(true)
  })
})

describe('figures', () => {
  const hand = (does: string): FigureHand => ({ tool: 'index', path: [], does, other: false })
  const path: Point[] = [
    [0, 0],
    [10, 0],
    [10, 30]
  ]

  test('a share of a line is measured along it', () => {
    expect(along(path, 0)).toEqual([0, 0])
    expect(along(path, 0.25)).toEqual([10, 0])
    expect(along(path, 1)).toEqual([10, 30])
    expect(along([[3, 4]], 0.5)).toEqual([3, 4])
  })

  test('a curve goes through its points', () => {
    const d = curve(path)
    expect(d.startsWith('M0 0')).toBe(true)
    expect(d.endsWith('10 30')).toBe(true)
  })

  test('a movement goes there, waits and comes back, without a jump', () => {
    expect([swing(0), swing(0.3), swing(0.5), swing(0.95)]).toEqual([0, 1, 1, 0])
    for (let u = 0; u < 0.99; u += 0.01) expect(Math.abs(swing(u + 0.01) - swing(u))).toBeLessThan(0.07)
  })

  test('a stroking hand reaches the end of its path, then lifts off to begin again', () => {
    expect(handAt(hand('stroke'), path, 0).at).toEqual([0, 0])
    expect(handAt(hand('stroke'), path, 0.75).at).toEqual([10, 30])
    expect(handAt(hand('stroke'), path, 0.99).show).toBeLessThan(0.1)
    expect(handAt(hand('still'), path, 0.6)).toEqual({ at: [0, 0], show: 1 })
  })

  test('every tool is drawn, every head has a pose, every place of a view is somewhere', () => {
    for (const tool of [
      'index',
      'thumb',
      'fingers',
      'fingertips',
      'pinch',
      'palm',
      'knuckles',
      'back',
      'fist'
    ])
      expect(handShape(tool, 0.5).every((d) => d.startsWith('M') && !d.includes('NaN'))).toBe(true)
    for (const state of Object.keys(HEAD_POSE))
      expect(pose(['level', state], 1).head).toEqual(HEAD_POSE[state]?.head)
    expect(pose([], 0.5)).toEqual(HEAD_POSE['level'])
    expect(places('front', ['nowhere'])).toEqual([[0, 0]])
  })
})

describe('the axis of a course', () => {
  test('runs from its first day over all its weeks', () => {
    const axis = axisOf('2026-03-23', 12)
    expect(axis.begins(1)).toBe(LEFT)
    expect(axis.begins(13)).toBeCloseTo(RIGHT, 6)
    expect(axis.first(2)).toBe('2026-03-30')
    expect(axis.at('2026-03-23')).toBeCloseTo(LEFT + axis.day / 2, 6)
    expect([
      axis.holds('2026-03-22'),
      axis.holds('2026-03-23'),
      axis.holds('2026-06-14'),
      axis.holds('2026-06-15')
    ]).toEqual([false, true, true, false])
  })

  test('a change to summer time moves no day', () => {
    const axis = axisOf('2026-03-23', 4)
    const steps = ['2026-03-28', '2026-03-29', '2026-03-30'].map(axis.at)
    expect((steps[2] ?? 0) - (steps[1] ?? 0)).toBeCloseTo((steps[1] ?? 0) - (steps[0] ?? 0), 9)
  })

  test('shows as many numbers as there is room for, the first always', () => {
    const shown = (weeks: number) =>
      Array.from({ length: weeks }, (_, i) => i + 1).filter((w) => labelled(axisOf('2026-01-05', weeks), w))
    expect(shown(12)).toHaveLength(12)
    expect(shown(52)).toEqual([1, 4, 8, 12, 16, 20, 24, 28, 32, 36, 40, 44, 48, 52])
  })
})

const COUNT = { progress: 0.5, seconds: 1, every: 0, rep: 1, reps: 4 }

describe('a figure between its states', () => {
  test('draws every mouth, eye and brow alike, so that each can become any other', () => {
    const build = (path: string) => path.replace(/-?\d+(\.\d+)?/g, '#')
    for (const parts of [
      Object.values(art.mouths).map((m) => m.lips + m.dark + m.lines),
      Object.values(art.eyes).map((e) => e.white + e.lines),
      Object.values(art.brows)
    ])
      expect(new Set(parts.map(build)).size).toBe(1)
  })
  test('goes through the shapes in between, and not from one picture to the next', () => {
    expect(between('M0 0L10 20', 'M10 0L20 40', 0.5)).toBe('M5 0L15 30')
    expect([0, 1].map((s) => between('M0 0', 'M1 1', s))).toEqual(['M0 0', 'M1 1'])
    expect(between('M0 0', 'M0 0L1 1', 0.6)).toBe('M0 0L1 1')
    const opening = [0, 0.25, 0.5, 1].map((s) => mouthAt(['rest', 'ah', s]).open)
    expect(opening).toEqual([0, 0.75, 1, 1])
    expect(eyeAt(['rest', 'closed', 1]).open).toBe(0)
  })
  test('lifts through the lead, stays through the hold, sinks through the release, and rests', () => {
    const at = (beat: string, progress: number) => pacedShare({ ...COUNT, beat, progress })
    expect([
      at('lead', 0),
      at('lead', 1),
      at('hold', 0.3),
      at('release', 0),
      at('release', 1),
      at('rest', 0.5)
    ]).toEqual([0, 1, 1, 1, 0, 0])
  })
  test('strokes at the pace of the stroke, and walks on with every repetition', () => {
    const lead = (progress: number) => pacedHand({ ...COUNT, beat: 'lead', progress }, 'stroke')
    expect([lead(0), lead(1)]).toEqual([0, 0.75])
    expect(pacedHand({ ...COUNT, beat: 'move', every: 2, seconds: 3 }, 'stroke')).toBe(0.5)
    expect([1, 4].map((rep) => pacedHand({ ...COUNT, beat: 'hold', rep }, 'walk'))).toEqual([0, 0.75])
  })
})

describe('the head from the side', () => {
  const chin: Point = [234, 281]
  const gone = (head: string[], mouth: string[], share: number, p: Point = chin): Point => {
    const [x, y] = profile(head, mouth, share).at(p)
    return [Math.round(x - p[0]), Math.round(y - p[1])]
  }
  test('goes forward, back and in as its words say, and the collarbones stay', () => {
    expect(gone(['level'], ['rest'], 1)).toEqual([0, 0])
    expect(gone(['level', 'forward'], ['rest'], 1)[0]).toBeGreaterThan(15)
    expect(gone(['level', 'in'], ['rest'], 1)[0]).toBeLessThan(-8)
    expect(gone(['level', 'back'], ['rest'], 1)[1]).toBeLessThan(-25)
    expect(gone(['level', 'back'], ['rest'], 1, [160, 404])).toEqual([0, 0])
  })
  test('opens its jaw downward and slides it forward, half way at half the count', () => {
    expect(gone(['level'], ['rest', 'ah'], 1)[1]).toBeGreaterThan(10)
    const [half, whole] = [0.5, 1].map((s) => gone(['level'], ['rest', 'lower-forward'], s)[0])
    expect(whole).toBe(11)
    expect(half).toBeCloseTo(5.5, -0.5)
  })
})

describe('the part of the drawing that is shown', () => {
  const figure = (tool: string, path: string[], more: Partial<FigureData> = {}): FigureData => ({
    view: 'front',
    mouth: ['rest'],
    eyes: ['rest'],
    brows: ['rest'],
    head: ['level'],
    hands: [{ tool, path, does: 'still', other: false }],
    moves: [],
    one_side: false,
    breath: false,
    words: [],
    ...more
  })
  test.each(Object.keys(art.places.front))('a hand on %s is whole', (place) => {
    for (const tool of ['index', 'thumb', 'fingers', 'fist', 'palm']) {
      const f = figure(tool, [place])
      const [x, y, width, height] = frame(f, false)
      const [at] = places('front', [place]) as [Point]
      const angle = reach(at, tool)
      const end = [at[0] + 40 * Math.cos(angle), at[1] + 40 * Math.sin(angle)]
      expect(end[0]).toBeLessThanOrEqual(x + width)
      expect(end[1]).toBeLessThanOrEqual(y + height)
    }
  })
  test('it is no larger than is needed, and whole where places are chosen', () => {
    const near = figure('index', ['temple'])
    expect(frame(near, false)[3]).toBeLessThan(frame(figure('fist', ['chin-tip']), false)[3])
    expect(frame(near, true)).toEqual(frame(figure('fingers', ['shoulder']), false))
  })
  test('a finger across the lip above the mouth comes from the side, one below it from below', () => {
    expect(Math.abs(reach(places('front', ['upper-lip-middle'])[0]!, 'index'))).toBeLessThan(0.3)
    expect(reach(places('front', ['lip-lower'])[0]!, 'index')).toBeGreaterThan(0.8)
  })
})
