import { describe, expect, test } from 'vitest'
import { SESSION } from './example'
import type { Cue, Session } from './lay'
import { beginsOf, onStage, targetsOf } from './on_stage'

const words = { cues: ['First.'], note: '', hands: '', hands_long: '', tender: '', key_cue: 'Lift.' }
const session = {
  ...SESSION,
  pace_s: 1,
  items: (SESSION as unknown as Session).items.map((i) => ({ ...words, ...i }))
} as unknown as Session
const at = (seconds: number, more: Partial<Session> = {}, staying = 0, cue?: Partial<Cue>) => {
  const of = { ...session, ...more } as Session
  const found = of.cues.find((c) => seconds >= c.start_s && seconds < c.start_s + c.length_s)
  const now = { ...found, ...cue } as Cue
  return onStage({ session: of, cue: now, item: of.items[now.item], at: seconds, staying })
}

describe('the count', () => {
  test('goes up while one works and never past what there is', () => {
    expect([4, 4.99, 5, 8.99].map((s) => at(s).count)).toEqual([1, 1, 2, 5])
    expect(at(8.999999).count).toBe(5)
    expect(at(4).after).toBe('of 5 counts, then let go')
    expect(at(33).after).toBe('of 20 counts')
  })

  test('goes down while one waits, and never to nothing', () => {
    expect([0, 0.5, 3.01, 3.99].map((s) => at(s).count)).toEqual([4, 4, 1, 1])
    expect(at(0).after).toBe('seconds to get ready')
    expect(at(24).count).toBe(8)
  })

  test('work goes by the count of the client, getting ready by seconds', () => {
    expect(at(8.9, { pace_s: 2 }).count).toBe(3)
    expect(at(8.9, { pace_s: 2 }).after).toBe('of 3 counts, then let go')
    expect(at(24, { pace_s: 2 }).count).toBe(8)
    expect(at(4, { pace_s: 2 }, 0, { beat: 'rest', length_s: 5 })).toMatchObject({
      count: 3,
      after: 'counts left'
    })
  })

  test('staying counts on and says so', () => {
    expect(at(40, {}, 2.2)).toMatchObject({ count: 3, after: 'seconds longer here', word: 'Stay', beat: -1 })
  })
})

describe('the side', () => {
  test('is the one that works, or the one that comes first while one gets ready', () => {
    expect([at(5).side, at(15).side, at(1).side]).toEqual(['right', 'left', 'right'])
    expect([at(25).side, at(33).side]).toEqual([null, null])
  })

  test('lights its muscle on that side alone, and never the jaw range', () => {
    const item = { muscles: { zygomaticus: 1, 'jaw-range': 1 } } as unknown as Session['items'][number]
    expect(targetsOf(item, 'left')).toEqual({ zygomaticus: { left: 1 } })
    expect(targetsOf(item, null)).toEqual({ zygomaticus: { right: 1, left: 1 } })
    expect(targetsOf(undefined, null)).toEqual({})
  })
})

test('a movement beats at its own pace from its first moment on', () => {
  const items = session.items.map((i) => ({ ...i, beat_s: 2 }))
  expect([32, 33.9, 34, 51.9].map((s) => at(s, { items }).beat)).toEqual([0, 0, 1, 9])
  expect(at(5, { items }).beat).toBe(-1)
})

test('while one changes over, what has to be at hand is said', () => {
  const items = session.items.map((i) => ({ ...i, prepare: ['Take the oil', 'Sit down'] }))
  expect(at(25, { items }).said).toBe('Take the oil. Sit down.')
})

test('an exercise begins after its own change-over', () => {
  expect(beginsOf(session)).toEqual([0, 32])
})
