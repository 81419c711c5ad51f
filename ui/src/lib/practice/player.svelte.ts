/**
 * Plays what the core compiled. Time comes from the clock, not from counting ticks, so nothing drifts; when the device
 * slept, practice goes on from the last moment that could be followed. What was played is kept as stretches of the
 * timeline; what that amounts to is the server's to work out.
 */
import { SvelteMap, SvelteSet } from 'svelte/reactivity'
import type { Days, Entry, Pain, Play, Stay } from '../offline/db'
import { Lay, type Cue, type Item, type Session } from './lay'
import { beyond, held, Spare, taken } from './spare'

export type { Cue, Session } from './lay'
type Part = Days['days'][number]['parts'][number]
type Log = Extract<Entry, { kind: 'log' }>
export type Form = 'yes' | 'partly' | 'no'

/** A gap between two ticks from which the device must have slept; hidden pages still tick about once a second. */
const SLEPT_S = 5
/** How much longer one touch holds a release or press. */
const STAY_S = 10
/** How often a play is written while it runs. */
const WRITE_MS = 1000
/** Why something was skipped that hurt, or shares what hurts. */
const [HURT_BEFORE, SHARES] = ['it hurt before', 'it shares what hurt']
const PAIN = ['', HURT_BEFORE, SHARES]
/** How long pain can be taken back after it was told. */
const TAKE_BACK_MS = 60_000

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
  /** Seconds for which the session is held at a tender spot, longer than the dose says. */
  staying = $state(0)
  readonly eased = new SvelteSet<string>()
  readonly hurt = new SvelteMap<string, Pain>()
  /** The pain that was told last, while it can be taken back. */
  told = $state<{ exercise: string; name: string; at: number; more: string[]; ends: boolean } | null>(null)
  /** Called whenever another cue begins, with the one before it. */
  heard: (cue: Cue, before: Cue | undefined) => void = () => undefined
  /** Called with the play as it stands, whenever there is something new to keep; ``last`` when the page goes. */
  kept: (play: Play, last: boolean) => void = () => undefined
  private readonly id: string
  private readonly account: string
  private readonly continues: string | null
  /** Exercises that are left out, and why: they hurt before, share what hurts, or wait for what was told here. */
  readonly out = new SvelteMap<string, string>()
  /** Items that an earlier part of the session has done; they are passed over. */
  private readonly before = new Set<number>()
  private readonly skips = new Map<number, string>()
  private readonly lay: Lay
  private readonly spare = new Spare()
  private stays: Play['stays'] = []
  private stretches: Play['stretches'] = []
  /** The wall clock and the steady one at the same moment: times of stretches never go back, even when the clock is set. */
  private wall = Date.now()
  private steady = performance.now()
  private written = 0
  private from = 0
  private anchor = 0
  private ticked = 0
  private last = -1
  private frame = 0
  private timer: ReturnType<typeof setInterval> | undefined

  constructor(session: Session, part: Part, day: string, account = '', goesOn: Part['begun'] = null) {
    // Plain copies: what is kept on the device must not hold the page's own watched values.
    this.session = $state.snapshot(session) as Session
    this.lay = new Lay(this.session)
    this.part = $state.snapshot(part) as Part
    this.day = day
    this.account = account
    this.id = crypto.randomUUID()
    this.continues = goesOn?.log ?? null
    if (goesOn) {
      this.at = goesOn.at_s
      for (const item of goesOn.done) this.before.add(item)
      const inside = this.lay.inTrack(goesOn.at_s)
      if (inside) this.eased.add(this.session.items[inside.item]?.exercise ?? '')
    }
  }

  /** A session that was begun on this device, as it was left. */
  static of(play: Play): Player {
    const player = new Player(play.session, play.part, play.day, play.account)
    Object.assign(player, { id: play.id, continues: play.continues })
    for (const item of play.before) player.before.add(item)
    for (const [item, why] of play.skips) player.skips.set(item, why)
    for (const [exercise, pain] of play.hurt) player.hurt.set(exercise, pain)
    for (const [exercise, why] of play.out ?? []) player.out.set(exercise, why)
    for (const exercise of play.eased) player.eased.add(exercise)
    for (const [exercise, sides] of play.spent) player.spare.spent.set(exercise, sides)
    for (const [muscle, sides] of play.worked) player.spare.worked.set(muscle, sides)
    player.stays = play.stays
    player.stretches = play.stretches
    player.at = play.at
    player.finished = play.finished
    player.started = play.stretches[0] ? new Date(play.stretches[0].at) : null
    const last = play.stretches.at(-1)
    const ended = last ? Date.parse(last.at) + 1000 * (last.to_s - last.from_s) : 0
    player.wall = Math.max(Date.now(), ended)
    return player
  }

  /** Everything of the session as it stands now. */
  play(): Play {
    const stretches = this.stretches.map((s) => ({ ...s }))
    const open = stretches.at(-1)
    if (this.playing && !this.staying && open) open.to_s = Math.round(this.at * 1000) / 1000
    return {
      id: this.id,
      account: this.account,
      day: this.day,
      part: this.part,
      session: this.session,
      continues: this.continues,
      before: [...this.before],
      at: this.at,
      stretches,
      stays: this.stays.map((s) => ({ ...s })),
      skips: [...this.skips],
      hurt: [...this.hurt],
      out: [...this.out],
      eased: [...this.eased],
      spent: [...this.spare.spent],
      worked: [...this.spare.worked],
      finished: this.finished,
      written: Date.now()
    }
  }

  private write(now = true, last = false): void {
    if (!this.started) return
    if (!now && Date.now() - this.written < WRITE_MS) return
    this.written = Date.now()
    this.kept(this.play(), last)
  }

  /** The page goes: what was played is kept in this very moment. */
  leave(): void {
    if (this.playing) this.advance()
    this.write(true, true)
  }

  private moment(): string {
    return new Date(this.wall + performance.now() - this.steady).toISOString()
  }

  private clock(): number {
    return performance.now() / 1000
  }

  get index(): number {
    return this.lay.place(this.at)
  }

  get cue(): Cue | undefined {
    return this.lay.cues[this.index]
  }

  /** The running exercise, in the version in which it is done. */
  get item(): Item | undefined {
    return this.lay.shown(this.cue?.item ?? 0, this.at)
  }

  /** An exercise as it is shown and heard while a cue runs. */
  itemOf(cue: Cue): Item | undefined {
    return this.lay.shown(cue.item, cue.start_s)
  }

  get left(): number {
    return this.lay.left(this.at, this.eased)
  }

  /** Share of the session that lies behind, 0 to 1. */
  get share(): number {
    if (!this.lay.inTrack(this.at)) return Math.min(1, this.at / this.session.seconds)
    return 1 - Math.min(1, this.left / this.session.seconds)
  }

  /** Seconds into the runs of the running exercise, for the cursor on its pulse train. */
  get within(): number {
    return this.lay.within(this.at)
  }

  /** Whether the running exercise has an easier version to change over to. */
  get canEase(): boolean {
    const item = this.item
    return !!item && !item.in_eased_version && (!!this.lay.track(this.cue?.item ?? 0) || !!item.eased)
  }

  /** Whether the running exercise is eased because of a caution. */
  get easedForThem(): boolean {
    const item = this.session.items[this.cue?.item ?? 0]
    return !!item && (item.in_eased_version || !!item.eased_for)
  }

  get isEased(): boolean {
    const item = this.item
    return !!item && (item.in_eased_version || !!item.eased_for || this.eased.has(item.exercise))
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
    this.endStretch()
    if (this.staying) this.endStay(this.staying)
    this.playing = false
    cancelAnimationFrame(this.frame)
    clearInterval(this.timer)
    this.write()
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
    this.stretches.push({ from_s: this.at, to_s: this.at, at: this.moment() })
  }

  /** End the stretch that runs. */
  private endStretch(): void {
    const open = this.stretches.at(-1)
    if (this.staying || !open) return
    open.to_s = Math.round(this.at * 1000) / 1000
    if (open.to_s - open.from_s < 0.05) this.stretches.pop()
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
      this.endStretch()
      if (this.staying) this.endStay(0)
      this.open()
      this.notice = 'The phone slept. We go on where you were.'
      return
    }
    if (this.staying) {
      const left = this.staying - gap
      if (left > 0) {
        this.staying = left
        return
      }
      this.endStay(0)
      this.open()
    }
    const track = this.lay.inTrack(this.at)
    const limit = this.lay.limit(this.at)
    this.at = Math.min(now - this.anchor, limit)
    if (track && this.at >= limit - 1e-6) return this.jump(this.lay.after(track.item))
    this.write(false)
    const index = this.index
    if (index !== this.last) {
      const before = this.lay.cues[this.last]
      this.last = index
      const cue = this.lay.cues[index]
      if (cue && this.leftAlone(cue)) return this.jump(this.lay.after(cue.item))
      if (cue && this.easedLater(cue)) return
      if (cue) this.heard(cue, before)
      this.write()
    }
    if (!track && this.at >= this.session.seconds - 1e-6) this.finish()
  }

  /** An exercise that was made easier comes again in a circuit: it changes over by itself, once one has changed places. */
  private easedLater(cue: Cue): boolean {
    const track = this.lay.track(cue.item)
    const item = this.session.items[cue.item]
    if (!track || !item || !this.eased.has(item.exercise) || cue.beat === 'change') return false
    if (this.lay.inTrack(this.at)) return false
    this.jump(track.start_s)
    return true
  }

  /** Whether a cue belongs to an exercise that hurt; a circuit comes back to it. */
  private leftAlone(cue: Cue): boolean {
    if (this.before.has(cue.item)) return true
    const item = this.session.items[cue.item]
    const why = item && (this.hurt.has(item.exercise) ? HURT_BEFORE : this.out.get(item.exercise))
    if (!why) return false
    if (!this.skips.has(cue.item)) this.skips.set(cue.item, why)
    return true
  }

  /** Leave exercises out from here on, because of something that was told on this device. */
  leaveOut(exercises: ReadonlyMap<string, string>): void {
    for (const [id, why] of exercises) if (!this.out.has(id)) this.out.set(id, why)
    const cue = this.cue
    if (this.started && cue && !this.finished && this.leftAlone(cue)) this.jump(this.lay.after(cue.item))
    this.write()
  }

  /** Go on at another place of the timeline. */
  private jump(to: number): void {
    const playing = this.playing
    if (playing) this.endStretch()
    if (this.staying) this.endStay(this.staying)
    this.at = to
    this.last = -1
    if (to >= this.session.seconds - 1e-6 && !this.lay.inTrack(to)) {
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
    this.jump(this.lay.after(item))
    this.write()
  }

  /** End the session here, whatever is left of it; what was done is kept. */
  end(): void {
    this.notice = ''
    if (this.playing) {
      this.advance()
      this.pause()
    }
    this.finished = true
    this.write()
  }

  /** Ended by mistake: back to where it was, standing still. */
  unend(): void {
    if (this.at >= this.session.seconds - 1e-6 && !this.lay.inTrack(this.at)) return
    this.finished = false
    this.write()
  }

  /** Do the easier version from here on: where it is laid out, practice changes over to it at once. */
  ease(): void {
    const [item, cue] = [this.item, this.cue]
    if (!item || !cue) return
    const track = this.lay.inTrack(this.at) ? undefined : this.lay.track(cue.item)
    if (track) {
      // What the eased version takes beyond the rest of the full one must have room under the day's ceilings.
      const rest = taken(this.lay.cues, this.at, this.lay.after(cue.item))
      const more = beyond(taken(this.lay.cues, track.start_s, track.end_s), rest)
      if (this.spare.passes(item, more)) {
        this.notice = `You have done nearly all of ${item.name}; its easier version on top would be too much. Go on, or skip it.`
        return
      }
      this.spare.spend(item, more)
    }
    this.eased.add(item.exercise)
    if (track) this.jump(track.start_s)
    this.write()
  }

  /** One repetition back, unless that would pass the daily ceiling of the exercise. */
  back(): void {
    const target = this.lay.repetition(this.at)
    const item = this.item
    if (!target || !item) {
      this.notice = 'There is no repetition to go back to here.'
      return
    }
    const more = taken(this.lay.cues, target.start_s, this.at)
    if (this.spare.passes(item, more)) {
      this.notice = `Once more would be more of ${item.name} than is good in one day. Rest is part of the work.`
      return
    }
    this.spare.spend(item, more)
    this.notice = ''
    this.jump(target.start_s)
  }

  /** Whether the running moment is one at which a tender spot can be stayed at. */
  get canStay(): boolean {
    const cue = this.cue
    return this.playing && !!this.item?.may_stay && !!cue?.rep && (cue.beat === 'move' || cue.beat === 'hold')
  }

  /** Hold the running release or press ten seconds longer, within the exercise's ceiling; the timeline stands meanwhile. */
  stay(): void {
    const cue = this.cue
    const item = this.item
    if (!this.canStay || !cue || !item) return
    const more = held(cue, STAY_S)
    if (this.spare.passes(item, more)) {
      this.notice = `${item.name} has had enough for one day. Go on; it is there again tomorrow.`
      return
    }
    this.spare.spend(item, more)
    this.notice = ''
    this.advance()
    if (!this.staying) {
      this.endStretch()
      const at_s = Math.round(this.at * 1000) / 1000
      const part = Math.min(0.999, Math.max(0, (this.at - cue.start_s) / cue.length_s))
      const where = item.places[Math.floor(part * item.places.length)] ?? ''
      this.stays.push({ item: cue.item, stay: { at_s, seconds: 0, side: cue.works, where } })
    }
    this.staying += STAY_S
    const stay = this.stays.at(-1)
    if (stay) stay.stay.seconds += STAY_S
    this.write()
  }

  /** The stay is over; what was not used of it (in seconds) is taken off again. */
  private endStay(unused: number): void {
    const stay = this.stays.at(-1)
    if (stay) stay.stay.seconds = Math.round(10 * (stay.stay.seconds - unused)) / 10
    if (stay && stay.stay.seconds < 0.5) this.stays.pop()
    this.staying = 0
  }

  /** Stop an exercise for good, with what shares its joint, mark or muscle, and go on with what is safe; pain that is grave
   * ends the session. */
  stop(exercise: string, pain: Pain, along: readonly string[], ends: boolean): void {
    const index = this.cue?.item ?? 0
    this.hurt.set(exercise, { ...pain })
    const name = this.session.items.find((i) => i.exercise === exercise)?.name ?? ''
    const more = along.filter((id) => !this.out.has(id) && !this.hurt.has(id))
    for (const id of more) this.out.set(id, SHARES)
    this.told = { exercise, name, at: this.at, more, ends }
    setTimeout(() => (this.told = this.told?.exercise === exercise ? null : this.told), TAKE_BACK_MS)
    if (this.item?.exercise === exercise) {
      this.skips.set(index, '')
      this.jump(this.lay.after(index))
    }
    this.write()
    if (ends) this.end()
    else if (!this.finished) this.start()
  }

  /** The pain that was told last is taken back: the exercise goes on where it was. */
  takeBack(): void {
    const told = this.told
    if (!told) return
    this.told = null
    this.hurt.delete(told.exercise)
    for (const id of told.more) this.out.delete(id)
    for (const [n, item] of this.session.items.entries())
      if ([told.exercise, ...told.more].includes(item.exercise) && PAIN.includes(this.skips.get(n) ?? '-'))
        this.skips.delete(n)
    this.finished = false
    this.jump(told.at)
    this.write()
    if (!this.playing) this.start()
  }

  finish(): void {
    if (this.playing) {
      this.endStretch()
      this.playing = false
    }
    cancelAnimationFrame(this.frame)
    clearInterval(this.timer)
    this.finished = true
    this.write()
  }

  /** It is in the queue now; nothing of it is kept as a play any more. */
  close(): void {
    this.kept = () => undefined
  }

  /** The log of it, under the id that it has had from its beginning. */
  log(effort: number | null, form: Form | null, note: string): Log {
    const last = this.stretches.at(-1)
    const ended = last ? Date.parse(last.at) + 1000 * (last.to_s - last.from_s) : Date.now()
    const begun = Date.parse(this.stretches[0]?.at ?? new Date().toISOString())
    const told = new Set<string>()
    return {
      kind: 'log',
      id: this.id,
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
      continues: this.continues,
      items: this.session.items.map((item, n) => {
        const pain = told.has(item.exercise) ? undefined : this.hurt.get(item.exercise)
        if (pain && this.skips.get(n) !== '') return this.row(item, n)
        if (pain) told.add(item.exercise)
        return {
          ...this.row(item, n),
          hurt: !!pain,
          pain_side: pain?.side ?? null,
          pain_level: pain?.level ?? null,
          pain_where: pain?.where ?? '',
          pain_since: pain?.since ?? ''
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
      pain_since: '',
      stays: this.stays.filter((s) => s.item === n).map((s) => s.stay as Stay),
      in_eased_version: item.in_eased_version,
      eased: !!item.eased_for || this.eased.has(item.exercise),
      skip_reason: this.skips.get(n) ?? ''
    }
  }
}
