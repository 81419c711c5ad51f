/** A small session for tests: a lift of two repetitions a side with an eased version, then a release that may be stayed at. */
import type { Schemas } from '../api/client'
import type { Cue, Session } from './lay'

type Part = Schemas['DayView']['parts'][number]

function cue(start_s: number, length_s: number, item: number, more: Partial<Cue> = {}): Cue {
  return {
    start_s,
    length_s,
    item,
    beat: 'hold',
    side: null,
    works: null,
    set_number: 1,
    sets: 1,
    rep: 0,
    reps: 0,
    counts: false,
    loads: false,
    ...more
  } as Cue
}

const rep = (start_s: number, side: 'right' | 'left', n: number): Cue =>
  cue(start_s, 5, 0, { side, works: side, rep: n, reps: 2, counts: true, loads: true })

/** 0 setup 4, right 5 + 5, left 5 + 5 (24); change 24 to 32; release 32 to 52; eased lift behind the end, a second apart as the core lays it: 53 to 59. */
export const SESSION = {
  key: 'morning',
  seconds: 52,
  cues: [
    cue(0, 4, 0, { beat: 'setup' }),
    rep(4, 'right', 1),
    rep(9, 'right', 2),
    rep(14, 'left', 1),
    rep(19, 'left', 2),
    cue(24, 8, 1, { beat: 'change' }),
    cue(32, 20, 1, { beat: 'move', rep: 1, reps: 1, counts: true })
  ],
  eased_cues: [
    cue(53, 3, 0, { side: 'right', works: 'right', rep: 1, reps: 1, counts: true }),
    cue(56, 3, 0, { side: 'left', works: 'left', rep: 1, reps: 1, counts: true })
  ],
  tracks: [{ item: 0, start_s: 53, name: 'Smaller lift', words: 'Half as high.' }],
  items: [
    {
      exercise: 'lift',
      name: 'Lift',
      assignment_id: 'a',
      line_id: 'one',
      eased: 'Half as high.',
      eased_for: '',
      in_eased_version: false,
      may_stay: false,
      places: [],
      prepare: [],
      stops_with: ['press'],
      spare_s: { right: 6, left: 6 },
      spare_muscles: { zygomaticus: { right: 100, left: 100 } },
      muscles: { zygomaticus: 1 },
      counts: { right: { sets: 1, reps: 2 }, left: { sets: 1, reps: 2 } }
    },
    {
      exercise: 'press',
      name: 'Press',
      assignment_id: 'a',
      line_id: 'two',
      eased: '',
      eased_for: '',
      in_eased_version: false,
      may_stay: true,
      places: ['temple', 'jaw corner'],
      prepare: [],
      stops_with: [],
      spare_s: { right: 15, left: 15 },
      spare_muscles: {},
      muscles: {},
      counts: { right: { sets: 1, reps: 1 }, left: { sets: 1, reps: 1 } }
    }
  ]
} as unknown as Session

export const PART = {
  part: 'morning',
  parts: [],
  session: 'morning',
  done_at: null,
  begun: null
} as unknown as Part
