import { expect, test } from 'vitest'
import type { Schemas } from '$lib/api/client'
import { Unfinished } from './unfinished'

function shelf(): Storage {
  const kept = new Map<string, string>()
  return {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k)
  } as unknown as Storage
}
const written = (version: number, id = 'own-a') =>
  ({ id, version, entry: {} }) as unknown as Schemas['WrittenView']
const body = { family: 'release', base_version: 2, entry: { name: 'Half' } }

test('what was written is here again, and gone once it is kept or dropped', () => {
  const at = shelf()
  new Unfinished('edit', written(2), at).keep(body)
  expect(new Unfinished('edit', written(2), at).read()?.entry.name).toBe('Half')
  expect(new Unfinished('copy', written(2), at).read()).toBeNull()
  expect(new Unfinished('edit', written(2, 'own-b'), at).read()).toBeNull()
  new Unfinished('edit', written(2), at).drop()
  expect(new Unfinished('edit', written(2), at).read()).toBeNull()
})

test('over a newer version of somebody else it does not come back, and what is broken is nothing', () => {
  const at = shelf()
  new Unfinished('edit', written(2), at).keep(body)
  expect(new Unfinished('edit', written(3), at).read()).toBeNull()
  at.setItem('dimbo-exercise-edit-own-a', '{')
  expect(new Unfinished('edit', written(2), at).read()).toBeNull()
})
