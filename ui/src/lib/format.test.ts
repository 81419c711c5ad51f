import { expect, test } from 'vitest'
import { addDays, atClock, clock, daysBetween, here, share, shortDay, signed, timeAt } from './format'

const WHOLE_DAY: Intl.DateTimeFormatOptions = { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }

test('a length of time is minutes and seconds, rounded once', () => {
  expect([clock(0), clock(59.6), clock(600), clock(3725)]).toEqual(['0:00', '1:00', '10:00', '62:05'])
})
test('dates are dates, across summer time and years', () => {
  expect(addDays('2026-03-28', 1)).toBe('2026-03-29')
  expect(addDays('2026-12-31', 1)).toBe('2027-01-01')
  expect(daysBetween('2026-03-01', '2026-04-01')).toBe(31)
  expect(shortDay('2026-05-04')).toBe('4 May')
})
test('the day here is put together from its numbers', () => {
  expect(here(new Date(2026, 0, 5, 23, 59))).toBe('2026-01-05')
})
test('a day and a clock in a zone of one’s own', () => {
  const late = '2026-01-05T23:30:00Z'
  expect([here(new Date(late), 'Pacific/Auckland'), here(new Date(late), 'UTC')]).toEqual([
    '2026-01-06',
    '2026-01-05'
  ])
  expect(['Pacific/Auckland', 'America/Lima'].map((zone) => timeAt(late, zone, WHOLE_DAY))).toEqual([
    '12:30',
    '18:30'
  ])
})
test('a time is written by the clock that the reader is used to', () => {
  const twelve: Intl.DateTimeFormatOptions = { hour: 'numeric', minute: '2-digit', hourCycle: 'h12' }
  expect(['00:30', '12:05', '18:30:00'].map((t) => atClock(t, twelve))).toEqual([
    '12:30 am',
    '12:05 pm',
    '6:30 pm'
  ])
  expect(['00:30', '18:30'].map((t) => atClock(t, WHOLE_DAY))).toEqual(['00:30', '18:30'])
})
test('a sign is a real one, and nothing has none', () => {
  expect([signed(-0.24), signed(0.24), signed(0.04), signed(-0.04), signed(-3, 0)]).toEqual([
    '−0.2',
    '+0.2',
    '0.0',
    '0.0',
    '−3'
  ])
})
test('a share of sessions has a tenth only where there is one', () => {
  expect([share(3), share(2.96), share(2.5)]).toEqual(['3', '3', '2.5'])
})
