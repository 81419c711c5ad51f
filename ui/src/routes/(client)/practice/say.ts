/** What the screen says of a cue. */
import type { Cue, Session } from '$lib/practice/player.svelte'

const VERBS: Record<string, string> = {
  setup: 'Get ready',
  lead: 'Move in',
  hold: 'Hold',
  release: 'Let go',
  move: 'Keep going',
  rest: 'Rest',
  pause: 'Pause',
  settle: 'Settle',
  change: 'Next'
}

export function verbOf(cue: Cue, breathes: boolean): string {
  if (breathes && cue.beat === 'lead') return 'Breathe in'
  if (breathes && cue.beat === 'release') return 'Breathe out'
  return VERBS[cue.beat] ?? ''
}

/** The sentence for a cue. The first time all cues of the card come in their order, one a repetition; later the key cue
 * is enough, and the coach's own word before the first repetition. */
export function spokenOf(cue: Cue, item: Session['items'][number], breathes: boolean): string {
  const lines = item.cues
  const first = lines[0] ?? ''
  if (cue.beat === 'setup' || cue.beat === 'change') {
    if (item.note) return item.note
    return item.first_time ? `${item.position} ${first}` : first
  }
  if (cue.beat === 'rest') return 'Soften everything. Breathe.'
  if (cue.beat === 'settle') return item.first_time ? `Felt: ${item.felt_at}` : 'Soften everything. Breathe.'
  if (breathes) return lines[cue.beat === 'lead' ? 1 : 2] ?? first
  if (!item.first_time) return item.key_cue
  return lines[1 + ((Math.max(cue.rep, 1) - 1) % Math.max(1, lines.length - 1))] ?? first
}
