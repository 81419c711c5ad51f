/**
 * Plays what the core compiled. Time comes from the clock, not from counting ticks, so a slept tab is right again at
 * once. The report is built as one goes and kept in the browser until the server has it.
 */
import type { Schemas } from '../api/client'
import { tone } from './tones'

export type Session = Schemas['SessionView']
type Cue = Schemas['CueView']
type Outcome = Schemas['LineReportIn']['outcome']

export class Player {
  session: Session
  at = $state(0)
  playing = $state(false)
  finished = $state(false)
  started = $state<Date | null>(null)
  private anchor = 0
  private frame = 0
  private heard = -1
  private stopped = new Map<
    number,
    { side: 'right' | 'left' | 'both' | null; level: number; where: string }
  >()
  private skipped = new Set<number>()
  private done: number[]

  constructor(session: Session) {
    this.session = session
    this.done = session.items.map(() => 0)
  }

  private now(): number {
    return performance.now() / 1000
  }

  get index(): number {
    const cues = this.session.cues
    let low = 0
    let high = cues.length - 1
    while (low < high) {
      const mid = (low + high + 1) >> 1
      if ((cues[mid] as Cue).start_s <= this.at) low = mid
      else high = mid - 1
    }
    return low
  }

  get cue(): Cue | undefined {
    return this.session.cues[this.index]
  }

  get item(): Session['items'][number] | undefined {
    return this.session.items[this.cue?.item ?? 0]
  }

  get left(): number {
    return Math.max(0, this.session.seconds - this.at)
  }

  /** Seconds into the runs of the running exercise, for the cursor on its pulse train. */
  get within(): number {
    const item = this.cue?.item ?? 0
    const first = this.session.cues.find((c) => c.item === item && c.beat !== 'change' && c.beat !== 'setup')
    return first ? Math.max(0, this.at - first.start_s) : 0
  }

  start(): void {
    this.started ??= new Date()
    this.playing = true
    this.anchor = this.now() - this.at
    this.run()
  }

  pause(): void {
    this.playing = false
    cancelAnimationFrame(this.frame)
  }

  toggle(): void {
    if (this.playing) this.pause()
    else this.start()
  }

  private run = (): void => {
    if (!this.playing) return
    this.advance(this.now() - this.anchor)
    if (this.playing) this.frame = requestAnimationFrame(this.run)
  }

  /** Move on to a time, crediting practice to its exercise cue by cue. */
  private advance(to: number): void {
    const end = Math.min(to, this.session.seconds)
    for (let i = this.index; i < this.session.cues.length; i++) {
      const cue = this.session.cues[i] as Cue
      if (cue.start_s >= end) break
      const from = Math.max(cue.start_s, this.at)
      const until = Math.min(cue.start_s + cue.length_s, end)
      if (until > from && cue.beat !== 'change')
        this.done[cue.item] = (this.done[cue.item] ?? 0) + until - from
    }
    this.at = end
    if (this.index !== this.heard) {
      const before = this.session.cues[this.heard]
      this.heard = this.index
      if (this.cue) tone(this.cue, before)
    }
    if (end >= this.session.seconds) this.finish()
  }

  /** Leave the running exercise for the next one. */
  next(): void {
    const item = this.cue?.item ?? 0
    const following = this.session.cues.find((c) => c.item > item)
    if (!following) return this.finish()
    this.at = following.start_s
    this.anchor = this.now() - this.at
    this.heard = -1
  }

  skip(): void {
    this.skipped.add(this.cue?.item ?? 0)
    this.next()
  }

  hurts(side: 'right' | 'left' | 'both' | null, level: number, where: string): void {
    this.stopped.set(this.cue?.item ?? 0, { side, level, where })
    this.next()
    if (!this.finished) this.start()
  }

  finish(): void {
    this.pause()
    this.finished = true
  }

  private outcome(i: number): Outcome {
    if (this.stopped.has(i)) return 'hurt'
    const share = (this.done[i] ?? 0) / Math.max(this.session.items[i]?.seconds ?? 1, 1)
    if (share >= 0.98) return 'done'
    return this.skipped.has(i) && share < 0.02 ? 'skipped' : share > 0 ? 'partly' : 'skipped'
  }

  report(id: string, effort: number | null, note: string): Schemas['ReportIn'] {
    return {
      id,
      assignment_id: this.session.assignment_id,
      day: this.session.day,
      part: this.session.part,
      started_at: (this.started ?? new Date()).toISOString(),
      ended_at: new Date().toISOString(),
      effort,
      note,
      lines: this.session.items.map((item, i) => {
        const pain = this.stopped.get(i)
        return {
          line_id: item.line_id,
          done_s: Math.round(Math.min(this.done[i] ?? 0, item.seconds) * 10) / 10,
          outcome: this.outcome(i),
          pain_side: pain?.side ?? null,
          pain_level: pain?.level ?? null,
          pain_where: pain?.where ?? ''
        }
      })
    }
  }
}
