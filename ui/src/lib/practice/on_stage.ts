/** What the stage shows of a moment of practice: the count and what it counts, the word, the sentence, the side. */
import type { Fills } from '../signature/face-map'
import type { Cue, Session } from './lay'
import { spokenOf } from './say'

type Item = Session['items'][number]
type Side = 'right' | 'left'

export interface Moment {
  session: Session
  cue: Cue | undefined
  item: Item | undefined
  /** Seconds since the session began, by its own clock. */
  at: number
  /** Seconds that a release is held longer; 0 while nobody stays. */
  staying: number
}

export interface OnStage {
  /** The number in the middle. */
  count: number
  /** What the number counts. */
  after: string
  word: string
  said: string
  /** The side whose turn it is; null for both. While one gets ready, the side that comes first. */
  side: Side | null
  /** Whether one gets ready: nothing is done yet. */
  waiting: boolean
  /** Which beat of a movement it is, from 0; -1 where nothing beats. */
  beat: number
}

/** Sums of floats: a beat that falls on a whole second must not come one frame late. */
const SLACK_S = 1e-6

export function onStage({ session, cue, item, at, staying }: Moment): OnStage {
  const waiting = cue?.beat === 'change' || cue?.beat === 'setup'
  const into = cue ? at - cue.start_s : 0
  return {
    ...counted(cue, into, staying, session.pace_s),
    word: staying ? 'Stay' : (cue?.word ?? ''),
    said: sentence(cue, item, staying),
    side: sideOf(session, cue, waiting),
    waiting,
    beat: !staying && cue?.beat === 'move' && item?.beat_s ? Math.floor((into + SLACK_S) / item.beat_s) : -1
  }
}

/** Up while something is held or moved, so that it is clear how much is done; down while one waits, so that it is clear when
 * to be ready. Work goes by the client's count, getting ready by seconds. */
function counted(cue: Cue | undefined, into: number, staying: number, pace_s: number) {
  if (staying) return { count: Math.ceil(staying), after: 'seconds longer here' }
  if (!cue) return { count: 1, after: 'counts left' }
  const total = Math.max(1, Math.round(cue.length_s / pace_s))
  if (cue.beat === 'hold' || cue.beat === 'move') {
    const count = Math.min(Math.floor(into / pace_s) + 1, total)
    return { count, after: cue.beat === 'hold' ? `of ${total} counts, then let go` : `of ${total} counts` }
  }
  const left = cue.length_s - into
  if (cue.beat === 'change' || cue.beat === 'setup')
    return { count: Math.max(1, Math.ceil(left)), after: 'seconds to get ready' }
  return { count: Math.max(1, Math.ceil(left / pace_s)), after: 'counts left' }
}

/** While one changes over, what has to be at hand; then where the hands go. */
function sentence(cue: Cue | undefined, item: Item | undefined, staying: number): string {
  if (staying) return 'Breathe out, and wait until it gives way.'
  if (!cue || !item) return ''
  return cue.beat === 'change' && item.prepare.length ? `${item.prepare.join('. ')}.` : spokenOf(cue, item)
}

function sideOf(session: Session, cue: Cue | undefined, waiting: boolean): Side | null {
  if (cue?.works || !waiting) return cue?.works ?? null
  return session.cues.find((c) => c.item === cue?.item && c.rep)?.works ?? null
}

/** The muscles that work now, on both sides or on the one whose turn it is. The jaw's range is a movement and no muscle. */
export function targetsOf(item: Item | undefined, side: Side | null): Fills {
  const muscles = Object.entries(item?.muscles ?? {}).filter(([m]) => m !== 'jaw-range')
  return Object.fromEntries(
    muscles.map(([m, share]) => [m, side ? { [side]: share } : { right: share, left: share }])
  )
}

/** Where each exercise begins in the session, in seconds: its own change-over stands before it. */
export const beginsOf = (session: Session): number[] =>
  session.items.map((_, n) => session.cues.find((c) => c.item === n && c.beat !== 'change')?.start_s ?? 0)
