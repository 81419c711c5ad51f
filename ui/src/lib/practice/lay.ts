/**
 * Where everything lies on the timeline of a session: its cues from the first second to the last, and behind them the eased
 * versions that practice may change over to. Pure look-ups; the player keeps the time.
 */
import type { Schemas } from '../api/client'

export type Session = Schemas['SessionView']
export type Cue = Schemas['CueView']
export type Item = Session['items'][number]
type Track = Session['tracks'][number]

/** Seconds into a repetition up to which going back means the one before it. */
const JUST_BEGUN_S = 1.5

const sameRep = (a: Cue, b: Cue) =>
  a.item === b.item && a.side === b.side && a.set_number === b.set_number && a.rep === b.rep

export class Lay {
  readonly cues: Cue[]
  private readonly end: number
  private readonly tracks: Map<number, Track & { end_s: number }>

  constructor(readonly session: Session) {
    // A session that was kept by an earlier version of the application has no tracks.
    const eased = session.eased_cues ?? []
    this.cues = [...session.cues, ...eased]
    const last = session.cues.at(-1)
    this.end = last ? last.start_s + last.length_s : 0
    this.tracks = new Map(
      (session.tracks ?? []).map((t) => {
        const ends = eased.findLast((c) => c.item === t.item)
        return [t.item, { ...t, end_s: ends ? ends.start_s + ends.length_s : t.start_s }]
      })
    )
  }

  /** The number of the cue at a second. */
  place(at: number): number {
    let low = 0
    let high = this.cues.length - 1
    while (low < high) {
      const mid = (low + high + 1) >> 1
      if ((this.cues[mid] as Cue).start_s <= at) low = mid
      else high = mid - 1
    }
    return low
  }

  /** The eased version of an item, where it has one to change over to. */
  track = (item: number) => this.tracks.get(item)

  /** The track in which a second lies; undefined in the session itself. */
  inTrack(at: number): (Track & { end_s: number }) | undefined {
    if (at < this.end) return undefined
    return [...this.tracks.values()].find((t) => at >= t.start_s && at < t.end_s)
  }

  /** Up to where time runs from a second on: the end of its track, or of the session. */
  limit = (at: number): number => this.inTrack(at)?.end_s ?? this.session.seconds

  /** An item as it is shown and heard at a second: in its eased version inside a track. */
  shown(item: number, at: number): Item | undefined {
    const full = this.session.items[item]
    const track = this.inTrack(at)
    return full && track?.item === item ? { ...full, ...track, eased: '', prepare: [] } : full
  }

  /** Where the next item begins. */
  after = (item: number): number =>
    this.session.cues.find((c) => c.item > item)?.start_s ?? this.session.seconds

  /** Seconds that are left from a second on, with the eased versions of what is eased. */
  left(at: number, eased: ReadonlySet<string>): number {
    const track = this.inTrack(at)
    const item = track?.item ?? this.cues[this.place(at)]?.item ?? 0
    let sum = track ? track.end_s - at : this.after(item) - at
    for (let n = item + 1; n < this.session.items.length; n++) {
      const own = eased.has(this.session.items[n]?.exercise ?? '') ? this.tracks.get(n) : undefined
      const first = this.session.cues.find((c) => c.item === n)?.start_s ?? 0
      sum += own ? own.end_s - own.start_s : this.after(n) - first
    }
    return Math.max(0, sum)
  }

  /** Seconds into the runs of the exercise at a second, for the cursor on its pulse train. */
  within(at: number): number {
    const item = this.cues[this.place(at)]?.item ?? 0
    const from = this.inTrack(at)?.start_s ?? 0
    const first = this.cues.find(
      (c) => c.item === item && c.start_s >= from && c.beat !== 'change' && c.beat !== 'setup'
    )
    return first ? Math.max(0, at - first.start_s) : 0
  }

  /** Where the repetition begins that going back from a second leads to. */
  repetition(at: number): Cue | undefined {
    const cues = this.cues
    const from = this.inTrack(at)?.start_s ?? 0
    let first = this.place(at)
    while (first > 0 && sameRep(cues[first - 1] as Cue, cues[first] as Cue) && cues[first]?.rep) first--
    const here = cues[first]
    if (here?.rep && at - here.start_s > JUST_BEGUN_S) return here
    for (let n = first - 1; n >= 0 && cues[n]?.item === here?.item; n--) {
      if ((cues[n] as Cue).start_s < from) break
      if (!cues[n]?.rep) continue
      while (n > 0 && sameRep(cues[n - 1] as Cue, cues[n] as Cue)) n--
      return cues[n]
    }
    return here?.rep ? here : undefined
  }
}
