/**
 * Plays what the core compiled. Time comes from the clock, not from counting ticks, so nothing drifts; when the device
 * slept, practice goes on from the last moment that could be followed. What was played is kept as stretches of the
 * timeline; what that amounts to is the server's to work out.
 */
import { SvelteMap, SvelteSet } from 'svelte/reactivity'
import type { Schemas } from '../api/client'
import type { Entry, Days } from '../offline/db'

export type Session = Schemas['SessionView']
export type Cue = Schemas['CueView']
type Part = Days['days'][number]['parts'][number]
type Side = 'right' | 'left'
type Log = Extract<Entry, { kind: 'log' }>
export interface Pain {
  side: Side | 'both'
  level: number
  where: string
}
export type Form = 'yes' | 'partly' | 'no'

/** A gap between two ticks from which the device must have slept; hidden pages still tick about once a second. */
const SLEPT_S = 5
/** Seconds into a repetition up to which going back means the one before it. */
const JUST_BEGUN_S = 1.5

export class Player {
  readonly session: Session
  readonly part: Part
  readonly day: string
  at = $state(0)
  playing = $state(false)
  finished = $state(false)
  started = $state<Date | null>(null)
  /** What the client is told in passing: why something was not done, or that the phone slept. */
  notice = $state('')
  readonly eased = new SvelteSet<string>()
  readonly hurt = new SvelteMap<string, Pain>()
  /** Called whenever another cue begins, with the one before it. */
  heard: (cue: Cue, before: Cue | undefined) => void = () => undefined
  private readonly skips = new Map<number, string>()
  private readonly spent = new Map<string, Record<Side, number>>()
  private stretches: NonNullable<Log['stretches']> = []
  private from = 0
  private anchor = 0
  private ticked = 0
  private last = -1
  private frame = 0
  private timer: ReturnType<typeof setInterval> | undefined

  constructor(session: Session, part: Part, day: string) {
    this.session = session
    this.part = part
    this.day = day
  }

  private clock(): number {
    return performance.now() / 1000
  }

  private place(at: number): number {
    const cues = this.session.cues
    let low = 0
    let high = cues.length - 1
    while (low < high) {
      const mid = (low + high + 1) >> 1
      if ((cues[mid] as Cue).start_s <= at) low = mid
      else high = mid - 1
    }
    return low
  }

  get index(): number {
    return this.place(this.at)
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

  get isEased(): boolean {
    return !!this.item && (!!this.item.eased_for || this.eased.has(this.item.exercise))
  }

  start(): void {
    this.started ??= new Date()
    if (this.playing || this.finished) return
    this.playing = true
    this.open()
    this.timer = setInterval(this.tick, 250)
    this.loop()
  }

  pause(): void {
    if (!this.playing) return
    this.advance()
    this.close()
    this.playing = false
    cancelAnimationFrame(this.frame)
    clearInterval(this.timer)
  }

  toggle(): void {
    this.notice = ''
    if (this.playing) this.pause()
    else this.start()
  }

  /** Begin a stretch at the place where we are. */
  private open(): void {
    this.from = this.at
    this.anchor = this.clock() - this.at
    this.ticked = this.clock()
    this.stretches.push({ from_s: this.at, to_s: this.at, at: new Date().toISOString() })
  }

  /** End the stretch that runs. */
  private close(): void {
    const open = this.stretches.at(-1)
    if (open) open.to_s = Math.round(this.at * 1000) / 1000
    if (open && open.to_s - open.from_s < 0.05) this.stretches.pop()
  }

  private loop = (): void => {
    if (!this.playing) return
    this.tick()
    if (this.playing) this.frame = requestAnimationFrame(this.loop)
  }

  private tick = (): void => {
    if (this.playing) this.advance()
  }

  private advance(): void {
    const now = this.clock()
    const gap = now - this.ticked
    this.ticked = now
    if (gap > SLEPT_S) {
      this.close()
      this.open()
      this.notice = 'The phone slept. We go on where you were.'
      return
    }
    this.at = Math.min(now - this.anchor, this.session.seconds)
    const index = this.index
    if (index !== this.last) {
      const before = this.session.cues[this.last]
      this.last = index
      const cue = this.session.cues[index]
      if (cue && this.leftAlone(cue)) return this.jump(this.after(cue.item))
      if (cue) this.heard(cue, before)
    }
    if (this.at >= this.session.seconds - 1e-6) this.finish()
  }

  /** Whether a cue belongs to an exercise that hurt; a circuit comes back to it. */
  private leftAlone(cue: Cue): boolean {
    const item = this.session.items[cue.item]
    if (!item || !this.hurt.has(item.exercise)) return false
    if (!this.skips.has(cue.item)) this.skips.set(cue.item, 'it hurt before')
    return true
  }

  private after(item: number): number {
    return this.session.cues.find((c) => c.item > item)?.start_s ?? this.session.seconds
  }

  /** Go on at another place of the timeline. */
  private jump(to: number): void {
    const playing = this.playing
    if (playing) this.close()
    this.at = to
    this.last = -1
    if (to >= this.session.seconds - 1e-6) {
      if (playing) this.open()
      return this.finish()
    }
    if (playing) {
      this.open()
      this.advance()
    }
  }

  /** Leave the running exercise, and say why. */
  skip(reason: string): void {
    this.notice = ''
    const item = this.cue?.item ?? 0
    this.skips.set(item, reason)
    this.jump(this.after(item))
  }

  /** Do the easier version from here on. */
  ease(): void {
    if (this.item) this.eased.add(this.item.exercise)
  }

  /** Where the repetition begins that going back leads to. */
  private repetition(): Cue | undefined {
    const cues = this.session.cues
    const same = (a: Cue, b: Cue) =>
      a.item === b.item && a.side === b.side && a.set_number === b.set_number && a.rep === b.rep
    let first = this.index
    while (first > 0 && same(cues[first - 1] as Cue, cues[first] as Cue) && cues[first]?.rep) first--
    const here = cues[first]
    if (here?.rep && this.at - here.start_s > JUST_BEGUN_S) return here
    for (let n = first - 1; n >= 0 && cues[n]?.item === here?.item; n--) {
      if (!cues[n]?.rep) continue
      while (n > 0 && same(cues[n - 1] as Cue, cues[n] as Cue)) n--
      return cues[n]
    }
    return here?.rep ? here : undefined
  }

  /** One repetition back, unless that would pass the daily ceiling of the exercise. */
  back(): void {
    const target = this.repetition()
    const item = this.item
    if (!target || !item) {
      this.notice = 'There is no repetition to go back to here.'
      return
    }
    const cost: Record<Side, number> = { right: 0, left: 0 }
    for (const cue of this.session.cues) {
      const played = Math.min(cue.start_s + cue.length_s, this.at) - Math.max(cue.start_s, target.start_s)
      if (played <= 0 || !cue.counts) continue
      if (cue.side !== 'left') cost.right += played
      if (cue.side !== 'right') cost.left += played
    }
    const spent = this.spent.get(item.exercise) ?? { right: 0, left: 0 }
    const passes = (['right', 'left'] as const).some(
      (s) => cost[s] > 0 && spent[s] + cost[s] > (item.spare_s[s] ?? 0)
    )
    if (passes) {
      this.notice = `Once more would be more of ${item.name} than is good in one day. Rest is part of the work.`
      return
    }
    this.spent.set(item.exercise, { right: spent.right + cost.right, left: spent.left + cost.left })
    this.notice = ''
    this.jump(target.start_s)
  }

  /** Stop the running exercise for good, and go on with what is safe. */
  stop(pain: Pain): void {
    const item = this.cue?.item ?? 0
    if (this.item) this.hurt.set(this.item.exercise, pain)
    this.skips.set(item, '')
    this.jump(this.after(item))
    if (!this.finished) this.start()
  }

  finish(): void {
    if (this.playing) {
      this.close()
      this.playing = false
    }
    cancelAnimationFrame(this.frame)
    clearInterval(this.timer)
    this.finished = true
  }

  log(id: string, effort: number | null, form: Form | null, note: string): Log {
    const last = this.stretches.at(-1)
    const ended = last ? Date.parse(last.at) + 1000 * (last.to_s - last.from_s) : Date.now()
    const begun = Date.parse(this.stretches[0]?.at ?? new Date().toISOString())
    const told = new Set<string>()
    return {
      kind: 'log',
      id,
      day: this.day,
      part: this.part.part,
      source: 'player',
      parts: this.part.parts,
      stretches: this.stretches,
      started_at: new Date(begun).toISOString(),
      ended_at: new Date(Math.max(ended, begun)).toISOString(),
      effort,
      form,
      note,
      items: this.session.items.map((item, n) => {
        const pain = told.has(item.exercise) ? undefined : this.hurt.get(item.exercise)
        if (pain && this.skips.get(n) !== '') return this.row(item, n)
        if (pain) told.add(item.exercise)
        return {
          ...this.row(item, n),
          hurt: !!pain,
          pain_side: pain?.side ?? null,
          pain_level: pain?.level ?? null,
          pain_where: pain?.where ?? ''
        }
      })
    }
  }

  private row(item: Session['items'][number], n: number): Log['items'][number] {
    return {
      assignment_id: item.assignment_id,
      line_id: item.line_id,
      hurt: false,
      pain_where: '',
      eased: !!item.eased_for || this.eased.has(item.exercise),
      skip_reason: this.skips.get(n) ?? ''
    }
  }
}
