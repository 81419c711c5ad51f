/** What was practised between two sittings, in words. */
import type { Schemas } from '$lib/api/client'

const minutes = (seconds: number) => {
  const whole = Math.round(seconds / 60)
  return whole === 1 ? '1 minute' : `${whole} minutes`
}

export function practisedWords(p: Schemas['PractisedView']): string {
  if (!p.sessions) return 'Between them you did not practise.'
  const sessions = p.sessions === 1 ? 'one session' : `${p.sessions} sessions`
  const days = p.days === 1 ? 'one day' : `${p.days} days`
  const worked =
    p.right_s + p.left_s > 0
      ? ` Muscles were tightened for ${minutes(p.right_s)} on your right side and ${minutes(p.left_s)} on your left.`
      : ''
  return `Between them you practised ${sessions} on ${days}, ${minutes(p.done_s)} in all.${worked}`
}
