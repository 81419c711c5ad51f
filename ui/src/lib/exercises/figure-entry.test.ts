import { expect, test } from 'vitest'
import { drawing, seenFrom, states, whole, written } from './figure-entry'

test('states are read and written as the exercise has them', () => {
  expect(states('rest > oval')).toEqual(['rest', 'oval'])
  expect(written('rest', 'oval')).toBe('rest > oval')
  expect(written('rest', '')).toBe('rest')
  expect(written('rest', 'rest')).toBe('rest')
})

test('what has no place yet is not drawn, and stays', () => {
  const made = whole({
    hands: [{ with: 'palm', path: [], do: 'press', other: false }],
    moves: [['cheek'], ['cheek', 'temple']]
  })
  expect(drawing(made).hands).toEqual([])
  expect(drawing(made).moves).toEqual([['cheek', 'temple']])
  expect(made.hands).toHaveLength(1)
})

test('seen from elsewhere, places that are not seen from there go and their hand stays', () => {
  const made = whole({
    sides: 'one',
    hands: [{ with: 'palm', path: ['cheek', 'temple'], do: 'press', other: false }]
  })
  const aside = seenFrom(made, 'side', { temple: 'the temple' })
  expect(aside.hands[0]?.path).toEqual(['temple'])
  expect(aside.sides).toBe('both')
  expect(made.hands[0]?.path).toEqual(['cheek', 'temple'])
})
