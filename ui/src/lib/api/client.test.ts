import { expect, test } from 'vitest'
import { attempt, Problem } from './client'

test('what goes wrong on the way stays said when the whole goes well', async () => {
  let said = ''
  const say = (why: string) => (said = why)
  await attempt(say, async () => {
    await attempt(say, () => Promise.reject(new Problem('The list could not be read.', 503)))
  })
  expect(said).toBe('The list could not be read.')
  await attempt(say, () => Promise.reject(new Problem('Sign in first.', 401)))
  expect(said).toBe('Sign in first.')
})
