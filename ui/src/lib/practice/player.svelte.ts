/**
 * Plays what the core compiled. Time comes from the clock, not from counting ticks, so nothing drifts; when the device
 * slept, practice goes on from the last moment that could be followed. What was played is kept as stretches of the
 * timeline; what that amounts to is the server's to work out.
 */
import { SvelteMap, SvelteSet } from 'svelte/reactivity'
import type { Schemas } from '../api/client'
import type { Days, Entry, Pain, Play, Sides, Stay } from '../offline/db'

export type Session = Schemas['SessionView']
export type Cue = Schemas['CueView']
type Part = Days['days'][number]['parts'][number]
type Log = Extract<Entry, { kind: 'log' }>
export type Form = 'yes' | 'partly' | 'no'

/** A gap between two ticks from which the device must have slept; hidden pages still tick about once a second. */
const SLEPT_S = 5
/** Seconds into a repetition up to which going back means the one before it. */
const JUST_BEGUN_S = 1.5
/** How much longer one touch holds a release or press. */
const STAY_S = 10
/** How often a play is written while it runs. */
const WRITE_MS = 1000
/** How long pain can be taken back after it was told. */
const TAKE_BACK_MS = 60_000

const SIDES = ['right', 'left'] as const
const none = (): Sides => ({ right: 0, left: 0 })

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
  told = $state<{ exercise: string; name: string; at: number } | null>(null)
  /** Called whenever another cue begins, with the one before it. */
  heard: (cue: Cue, before: Cue | undefined) => void = () => undefined
  /** Called with the play as it stands, whenever there is something new to keep; ``last`` when the page goes. */
  kept: (play: Play, last: boolean) => void = () => undefined
  private readonly id: string
  private readonly account: string
  private readonly continues: string | null
  /** Items that an earlier part of the session has done; they are passed over. */
  private readonly before = new Set<number>()
  private readonly skips = new Map<number, string>()
  /** What was repeated beyond the session, in seconds: of each exercise's ceiling, and of each muscle. */
  private readonly spent = new Map<string, Sides>()
  private readonly worked = new Map<string, Sides>()
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
    this.part = $state.snapshot(part) as Part
    this.day = day
    this.account = account
    this.id = crypto.randomUUID()
    this.continues = goesOn?.log ?? null
    if (goesOn) {
      this.at = goesOn.at_s
      for (const item of goesOn.done) this.before.add(item)
    }
  }

  /** A session that was begun on this device, as it was left. */
  static of(play: Play): Player {
    const player = new Player(play.session, play.part, play.day, play.account)
    Object.assign(player, { id: play.id, continues: play.continues })
    for (const item of play.before) player.before.add(item)
    for (const [item, why] of play.skips) player.skips.set(item, why)
    for (const [exercise, pain] of play.hurt) player.hurt.set(exercise, pain)
    for (const exercise of play.eased) player.eased.add(exercise)
    for (const [exercise, sides] of play.spent) player.spent.set(exercise, sides)
    for (const [muscle, sides] of play.worked) player.worked.set(muscle, sides)
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
      eased: [...this.eased],
      spent: [...this.spent],
      worked: [...this.worked],
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
    this.at = Math.min(now - this.anchor, this.session.seconds)
    this.write(false)
    const index = this.index
    if (index !== this.last) {
      const before = this.session.cues[this.last]
      this.last = index
      const cue = this.session.cues[index]
      if (cue && this.leftAlone(cue)) return this.jump(this.after(cue.item))
      if (cue) this.heard(cue, before)
      this.write()
    }
    if (this.at >= this.session.seconds - 1e-6) this.finish()
  }

  /** Whether a cue belongs to an exercise that hurt; a circuit comes back to it. */
  private leftAlone(cue: Cue): boolean {
    if (this.before.has(cue.item)) return true
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
    if (playing) this.endStretch()
    if (this.staying) this.endStay(this.staying)
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
    if (this.at >= this.session.seconds - 1e-6) return
    this.finished = false
    this.write()
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
    const cost = none()
    const load = none()
    for (const cue of this.session.cues) {
      const played = Math.min(cue.start_s + cue.length_s, this.at) - Math.max(cue.start_s, target.start_s)
      if (played <= 0) continue
      for (const side of SIDES) {
        if (cue.works && cue.works !== side) continue
        if (cue.counts) cost[side] += played
        if (cue.loads) load[side] += played
      }
    }
    if (this.passes(cost, load)) {
      this.notice = `Once more would be more of ${item.name} than is good in one day. Rest is part of the work.`
      return
    }
    this.spend(cost, load)
    this.notice = ''
    this.jump(target.start_s)
  }

  /** Whether repeating so much of the running exercise would pass its ceiling, or one of its muscles', on either side. */
  private passes(cost: Sides, load: Sides): boolean {
    const item = this.item
    if (!item) return true
    const had = this.spent.get(item.exercise) ?? none()
    if (SIDES.some((s) => cost[s] > 0 && had[s] + cost[s] > (item.spare_s[s] ?? 0))) return true
    return Object.entries(item.spare_muscles).some(([muscle, spare]) => {
      const worked = this.worked.get(muscle) ?? none()
      const share = item.muscles[muscle] ?? 0
      return SIDES.some((s) => load[s] > 0 && worked[s] + share * load[s] > (spare[s] ?? 0))
    })
  }

  private spend(cost: Sides, load: Sides): void {
    const item = this.item
    if (!item) return
    const had = this.spent.get(item.exercise) ?? none()
    this.spent.set(item.exercise, { right: had.right + cost.right, left: had.left + cost.left })
    for (const [muscle, share] of Object.entries(item.muscles)) {
      const worked = this.worked.get(muscle) ?? none()
      this.worked.set(muscle, {
        right: worked.right + share * load.right,
        left: worked.left + share * load.left
      })
    }
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
    const cost = none()
    for (const side of SIDES) if (!cue.works || cue.works === side) cost[side] = STAY_S
    if (this.passes(cost, none())) {
      this.notice = `${item.name} has had enough for one day. Go on; it is there again tomorrow.`
      return
    }
    this.spend(cost, none())
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

  /** Stop an exercise for good, and go on with what is safe. */
  stop(exercise: string, pain: Pain): void {
    const index = this.cue?.item ?? 0
    this.hurt.set(exercise, { ...pain })
    const name = this.session.items.find((i) => i.exercise === exercise)?.name ?? ''
    this.told = { exercise, name, at: this.at }
    setTimeout(() => (this.told = this.told?.exercise === exercise ? null : this.told), TAKE_BACK_MS)
    if (this.item?.exercise === exercise) {
      this.skips.set(index, '')
      this.jump(this.after(index))
    }
    this.write()
    if (!this.finished) this.start()
  }

  /** The pain that was told last is taken back: the exercise goes on where it was. */
  takeBack(): void {
    const told = this.told
    if (!told) return
    this.told = null
    this.hurt.delete(told.exercise)
    for (const [n, item] of this.session.items.entries())
      if (item.exercise === told.exercise && ['', 'it hurt before'].includes(this.skips.get(n) ?? '-'))
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
