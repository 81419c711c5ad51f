import { expect, test } from 'vitest'
import type { Days } from './db'
import { wanted } from './shown.svelte'

const clip = (hash: string) => ({ hash, seconds: 2, sound: false })
const view = (...items: object[]) =>
  ({ sessions: { a: { items }, b: { items: [{ clip: null, picture: '' }] } } }) as unknown as Pick<
    Days,
    'sessions'
  >

test('every clip with its still and every picture of the sessions ahead is wanted once', () => {
  const found = wanted(view({ clip: clip('c'), picture: '' }, { clip: clip('c'), picture: 'p' }))
  expect([...found.keys()].sort()).toEqual(['c', 'c-still', 'p'])
  expect(found.get('c')).toBe('/api/exercise-media/c/clip.mp4')
  expect(found.get('p')).toBe('/api/exercise-media/p/still.jpg')
})

test('days that an earlier version kept show nothing, and nothing breaks', () => {
  expect(wanted(view({}))).toEqual(new Map())
})
