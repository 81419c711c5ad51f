import { describe, expect, test } from 'vitest'
import { SESSION } from './example'
import { Lay } from './lay'
import { beyond, Spare, taken } from './spare'

const lay = new Lay(SESSION)

describe('the timeline', () => {
  test.each([
    [0, 0],
    [3.99, 0],
    [4, 1],
    [23.9, 4],
    [24, 5],
    [51.9, 6],
    [53, 7],
    [58, 8]
  ])('at %f s runs cue %i', (at, index) => expect(lay.place(at)).toBe(index))

  test('an exercise is shown in its eased version inside its track only', () => {
    expect(lay.shown(0, 5)?.name).toBe('Lift')
    expect(lay.shown(0, 54)?.name).toBe('Smaller lift')
    expect(lay.shown(0, 54)?.eased).toBe('')
    expect(lay.limit(5)).toBe(52)
    expect(lay.limit(54)).toBe(59)
  })

  test('what is left counts eased exercises by their eased versions', () => {
    expect(lay.left(0, new Set())).toBe(52)
    expect(lay.left(54, new Set(['lift']))).toBe(5 + 28)
    expect(lay.left(32, new Set())).toBe(20)
  })

  test.each([
    [12, 9],
    [9.5, 4],
    [15, 9],
    [4.5, 4]
  ])('from %f s back leads to %f s', (at, to) => expect(lay.repetition(at)?.start_s).toBe(to))

  test('a session that an earlier version kept has no tracks', () => {
    const old = new Lay({ ...SESSION, tracks: undefined, eased_cues: undefined } as never)
    expect(old.inTrack(60)).toBeUndefined()
    expect(old.left(0, new Set(['lift']))).toBe(52)
  })
})

describe('what is left of the day', () => {
  test('playing takes its seconds on the side that works; both where none is named', () => {
    expect(taken(lay.cues, 4, 16)).toEqual({ cost: { right: 10, left: 2 }, load: { right: 10, left: 2 } })
    expect(taken(lay.cues, 32, 35).cost).toEqual({ right: 3, left: 3 })
    expect(taken(lay.cues, 0, 4)).toEqual({ cost: { right: 0, left: 0 }, load: { right: 0, left: 0 } })
  })

  test('the ceiling of the exercise is met on either side, at its very border', () => {
    const [spare, lift] = [new Spare(), SESSION.items[0] as never]
    const six = { cost: { right: 6, left: 0 }, load: { right: 6, left: 0 } }
    expect(spare.passes(lift, six)).toBe(false)
    spare.spend(lift, six)
    expect(spare.passes(lift, { ...six, cost: { right: 0.1, left: 0 } })).toBe(true)
    expect(spare.passes(lift, { cost: { right: 0, left: 6 }, load: { right: 0, left: 6 } })).toBe(false)
  })

  test('and so is that of a muscle, by its share', () => {
    const spare = new Spare()
    const item = {
      ...SESSION.items[0],
      spare_s: { right: 900, left: 900 },
      muscles: { zygomaticus: 0.5 }
    } as never
    expect(spare.passes(item, { cost: { right: 0, left: 0 }, load: { right: 200, left: 0 } })).toBe(false)
    expect(spare.passes(item, { cost: { right: 0, left: 0 }, load: { right: 201, left: 0 } })).toBe(true)
  })

  test('what one thing takes beyond another is never less than nothing', () => {
    const [a, b] = [taken(lay.cues, 53, 59), taken(lay.cues, 4, 24)]
    expect(beyond(a, b).cost).toEqual({ right: 0, left: 0 })
    expect(beyond(b, a).cost).toEqual({ right: 7, left: 7 })
  })
})
