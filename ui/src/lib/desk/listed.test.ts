import { describe, expect, it } from 'vitest'
import { chosen, sorted, type Listed } from './listed'

const row = (name: string, more: Partial<Listed> = {}): Listed => ({
  id: name,
  name,
  age: 40,
  concerns: [],
  has_account: true,
  days: [],
  week: { done: 0, planned: 0 },
  urgent: false,
  archived: false,
  status: 'active',
  at: 'running',
  programs: [],
  last_practised: null,
  photographs: null,
  coach_id: null,
  today: '2026-03-18',
  ...more
})
const names = (rows: Listed[]) => rows.map((r) => r.name)

describe('the list of clients', () => {
  const rows = [
    row('Bea', { last_practised: '2026-03-17', week: { done: 3, planned: 4 }, concerns: ['Low brow'] }),
    row('ada', { last_practised: '2026-03-01', week: { done: 1, planned: 4 } }),
    row('Cyr', { at: 'archived' }),
    row('Dov', { at: 'paused', coach_id: 'k' })
  ]
  it('sorts by name whatever the case', () => {
    expect(names(sorted(rows, 'name', false))).toEqual(['ada', 'Bea', 'Cyr', 'Dov'])
  })
  it('puts those without a day last in both directions', () => {
    expect(names(sorted(rows, 'practised', false))).toEqual(['ada', 'Bea', 'Cyr', 'Dov'])
    expect(names(sorted(rows, 'practised', true))).toEqual(['Bea', 'ada', 'Cyr', 'Dov'])
    expect(names(sorted(rows, 'week', true)).slice(0, 2)).toEqual(['Bea', 'ada'])
  })
  it('leaves the archive out unless it is asked for', () => {
    const nothing = { find: '', at: '', whose: '' }
    expect(names(chosen(rows, nothing))).toEqual(['Bea', 'ada', 'Dov'])
    expect(names(chosen(rows, { ...nothing, at: 'archived' }))).toEqual(['Cyr'])
  })
  it('finds by name and concern, and by coach', () => {
    expect(names(chosen(rows, { find: ' BROW', at: '', whose: '' }))).toEqual(['Bea'])
    expect(names(chosen(rows, { find: '', at: '', whose: 'k' }))).toEqual(['Dov'])
  })
})
