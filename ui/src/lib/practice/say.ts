/** What the screen and the voice say of a cue. */
import type { Cue, Session } from './lay'

type Item = Session['items'][number]

/** Where the hands go, at length the first time. */
export const handsOf = (item: Item) => (item.first_time ? item.hands_long : item.hands)

/** The sentence for a cue. Before an exercise: where the hands go, where it was tender, the coach's own word. The first
 * time all cues of the card come in their order, one a repetition; later the key cue is enough. */
export function spokenOf(cue: Cue, item: Item): string {
  const lines = item.cues
  const first = lines[0] ?? ''
  if (cue.beat === 'setup' || cue.beat === 'change') {
    const told = item.note || (item.first_time ? `${item.position} ${first}` : item.hands ? '' : first)
    return [handsOf(item), item.tender, told].filter(Boolean).join(' ')
  }
  if (cue.beat === 'rest') return 'Soften everything. Breathe.'
  if (cue.beat === 'settle') return item.first_time ? `Felt: ${item.felt_at}` : 'Soften everything. Breathe.'
  if (cue.breath && !cue.with_breath) return lines[cue.breath === 'in' ? 1 : 2] ?? first
  if (!item.first_time) return item.key_cue
  return lines[1 + ((Math.max(cue.rep, 1) - 1) % Math.max(1, lines.length - 1))] ?? first
}

/** What the voice says as a cue begins; nothing where the tones are enough. */
export function spokenAloud(cue: Cue, before: Cue | undefined, item: Item): string {
  const same = before?.item === cue.item
  if (cue.beat === 'change') return ['Next:', item.name, ...item.prepare].join('. ')
  if (cue.beat === 'setup') return [item.name, handsOf(item), item.tender].filter(Boolean).join('. ')
  if (cue.breath && !cue.with_breath) return cue.breath
  if (!cue.rep) return ''
  const side = cue.works && (!same || before?.works !== cue.works) ? `Your ${cue.works} side` : ''
  const way = cue.direction && (!same || before?.direction !== cue.direction) ? cue.direction : ''
  // Work that goes with the breath is paced by it, word for word.
  if (cue.breath && cue.set_number === before?.set_number && same) return `Breathe ${cue.breath}`
  const begins = cue.rep === 1 && (side || (cue.set_number === 1 && !(same && before?.rep)))
  return [side, way, begins ? item.key_cue : ''].filter(Boolean).join('. ')
}
