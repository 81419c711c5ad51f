import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import type { Play } from '../offline/db'
import { PART, SESSION } from './example'
import { Player } from './player.svelte'

const BEGAN = new Date('2026-05-04T06:30:00Z')
const PAIN = { side: 'left', level: 5, where: 'cheek', since: 'today' } as const

beforeEach(() => {
  vi.useFakeTimers({
    now: BEGAN,
    toFake: ['setInterval', 'clearInterval', 'setTimeout', 'clearTimeout', 'Date', 'performance']
  })
  // Frames are not needed to keep time: hidden pages have none, and the interval ticks.
  vi.stubGlobal('requestAnimationFrame', () => 0)
  vi.stubGlobal('cancelAnimationFrame', () => undefined)
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const player = () => new Player(SESSION, PART, '2026-05-04', 'ada')
const wait = (seconds: number) => vi.advanceTimersByTime(seconds * 1000)
const stretches = (p: Player) => p.play().stretches.map((s) => [s.from_s, s.to_s])

describe('what was played', () => {
  test('is one stretch from start to end, with its moment, and the session finishes by itself', () => {
    const p = player()
    p.start()
    wait(60)
    expect(p.finished).toBe(true)
    const log = p.log(4, 'yes', '')
    expect(log.stretches).toEqual([{ from_s: 0, to_s: 52, at: BEGAN.toISOString() }])
    expect(Date.parse(log.ended_at) - Date.parse(log.started_at)).toBe(52_000)
    expect(log.items.map((i) => i.skip_reason)).toEqual(['', ''])
  })

  test('a pause ends a stretch, and going on begins the next where it stood', () => {
    const p = player()
    p.start()
    wait(6)
    p.pause()
    wait(600)
    p.start()
    wait(3)
    p.pause()
    expect(stretches(p)).toEqual([
      [0, 6],
      [6, 9]
    ])
    expect(Date.parse(p.play().stretches[1]?.at ?? '') - BEGAN.getTime()).toBe(606_000)
  })

  test('a phone that slept goes on from the last moment that could be followed', () => {
    const p = player()
    p.start()
    wait(6)
    vi.setSystemTime(Date.now() + 0)
    vi.spyOn(performance, 'now').mockReturnValue(performance.now() + 90_000)
    wait(0.25)
    expect(p.notice).toContain('slept')
    expect(p.at).toBeLessThan(6.5)
    expect(stretches(p)[0]?.[1]).toBeLessThanOrEqual(6.25)
  })

  test('a clock that is set back does not put what follows before what was', () => {
    const p = player()
    p.start()
    wait(5)
    p.pause()
    vi.setSystemTime(new Date('2026-05-01T00:00:00Z'))
    p.start()
    wait(1)
    p.pause()
    const [one, two] = p.play().stretches.map((s) => Date.parse(s.at))
    expect(two).toBeGreaterThanOrEqual((one ?? 0) + 5000)
  })

  test('a touch that plays nothing leaves no stretch', () => {
    const p = player()
    p.start()
    p.pause()
    expect(stretches(p)).toEqual([])
  })
})

describe('going elsewhere', () => {
  test('skipping leaves the exercise and says why', () => {
    const p = player()
    p.start()
    wait(6)
    p.skip('no time')
    expect(p.at).toBeGreaterThanOrEqual(24)
    expect(p.log(null, null, '').items.map((i) => i.skip_reason)).toEqual(['no time', ''])
  })

  test('one repetition back is played again, until the ceiling of the day has no room', () => {
    const p = player()
    p.start()
    wait(8)
    p.back()
    expect(p.at).toBeCloseTo(4, 1)
    wait(4.5)
    p.back()
    expect(p.notice).toContain('more of Lift than is good')
    expect(p.at).toBeGreaterThan(8)
  })

  test('the easier version lies behind the end; after it the session goes on with the next exercise', () => {
    const p = player()
    p.start()
    wait(4.5)
    expect(p.canEase).toBe(true)
    p.ease()
    expect(p.item?.name).toBe('Smaller lift')
    wait(6.5)
    expect(p.at).toBeGreaterThanOrEqual(24)
    expect(p.at).toBeLessThan(26)
    wait(40)
    expect(p.finished).toBe(true)
    const played = stretches(p)
    expect(played[1]).toEqual([53, 59])
    expect(p.log(null, null, '').items[0]?.eased).toBe(true)
  })

  test('staying at a tender spot holds the timeline, names the place, and has an end', () => {
    const p = player()
    p.start()
    wait(40)
    p.stay()
    expect(p.staying).toBe(10)
    wait(4)
    expect(p.at).toBeCloseTo(40, 0)
    p.stay()
    expect(p.notice).toContain('enough for one day')
    wait(7)
    expect(p.staying).toBe(0)
    wait(20)
    expect(p.log(null, null, '').items[1]?.stays).toMatchObject([{ seconds: 10, where: 'temple' }])
  })
})

describe('when it hurts', () => {
  test('the exercise stops, what shares it waits, and both are said', () => {
    const p = player()
    p.start()
    wait(6)
    p.stop('lift', PAIN, ['press'], false)
    wait(1)
    expect(p.finished).toBe(true)
    const [lift, press] = p.log(null, null, '').items
    expect(lift).toMatchObject({ hurt: true, pain_side: 'left', pain_level: 5, skip_reason: '' })
    expect(press).toMatchObject({ hurt: false, skip_reason: 'it shares what hurt' })
  })

  test('grave pain ends the session', () => {
    const p = player()
    p.start()
    wait(6)
    p.stop('lift', PAIN, [], true)
    expect([p.finished, p.playing]).toEqual([true, false])
  })

  test('pain that was told by mistake is taken back, and the exercise goes on where it was', () => {
    const p = player()
    p.start()
    wait(6)
    p.stop('lift', PAIN, ['press'], true)
    p.takeBack()
    expect(p.finished).toBe(false)
    expect(p.at).toBeCloseTo(6, 1)
    const log = p.log(null, null, '')
    expect(log.items.map((i) => [i.hurt, i.skip_reason])).toEqual([
      [false, ''],
      [false, '']
    ])
  })

  test('after a minute it can not be taken back any more', () => {
    const p = player()
    p.start()
    wait(6)
    p.stop('lift', PAIN, [], false)
    wait(61)
    expect(p.told).toBeNull()
  })
})

describe('kept as it is played', () => {
  test('at most once a second, with every change, and once more when the page goes', () => {
    const p = player()
    const kept: [number, boolean][] = []
    p.kept = (play, last) => kept.push([play.at, last])
    p.start()
    wait(3)
    const quiet = kept.length
    expect(quiet).toBeLessThanOrEqual(5)
    p.leave()
    expect(kept.at(-1)?.[1]).toBe(true)
  })

  test('a play that was read again is the same log, and goes on where it stood', () => {
    const p = player()
    p.start()
    wait(6)
    p.skip('no time')
    wait(2)
    p.pause()
    const again = Player.of(JSON.parse(JSON.stringify(p.play())) as Play)
    expect(again.at).toBeCloseTo(p.at, 3)
    again.start()
    wait(60)
    const [one, two] = [p.log(null, null, ''), again.log(null, null, '')]
    expect(two.id).toBe(one.id)
    expect(two.items[0]?.skip_reason).toBe('no time')
    expect(two.stretches?.slice(0, 2)).toEqual(one.stretches)
    expect(again.finished).toBe(true)
  })

  test('a session that goes on from an earlier part passes over what that has done', () => {
    const p = new Player(SESSION, PART, '2026-05-04', 'ada', { log: 'first', at_s: 9, done: [0] })
    p.start()
    wait(0.5)
    expect(p.at).toBeGreaterThanOrEqual(24)
    expect(p.log(null, null, '').continues).toBe('first')
  })
})
