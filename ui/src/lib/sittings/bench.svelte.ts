/** The sitting bench: two sittings, the pictures chosen of each, and points on their way to the core. */
import { api, ask, attempt, Problem, type Schemas, words } from '$lib/api/client'
import { offer } from '$lib/parts/undo.svelte'
import { align, back, fit, forward, layout, type Place, type Points, type Similarity } from './geometry'

export type Photo = Schemas['PhotographView']
export type Sitting = Schemas['SittingRow']
export type Mode = 'side by side' | 'split line' | 'flip' | 'halves' | 'outlines'
export type Where = 'before' | 'after'

type Moves = Record<string, Place | null>
const SETTLE_MS = 700
const ASK_MS = 40
/** A second setting is kept when its last point has been at rest for so long. */
const AGAIN_MS = 2500

export class Bench {
  view = $state<Schemas['SittingsView'] | null>(null)
  problem = $state('')
  /** Whether there is no way in: the photographs are not open to whoever looks. */
  closed = $state(false)
  mode = $state<Mode>('side by side')
  /** Which picture's points are being set, and which point. */
  focus = $state<Where>('after')
  point = $state<string | null>(null)
  reading = $state<string | null>(null)
  picked = $state<Record<Where, string | null>>({ before: null, after: null })
  moved = $state<Record<string, Moves>>({})
  saving = $state(false)
  /** The profile whose points are set a second time, the first ones hidden. */
  again = $state<string | null>(null)
  lastMove = $state('')
  private preview = $state<Schemas['PreviewView'] | null>(null)
  private undoable: { photo: string; point: string; was: Place | null }[] = $state([])
  private wanted: { before?: string; after?: string } = {}
  private timer: ReturnType<typeof setTimeout> | undefined
  private settle: ReturnType<typeof setTimeout> | undefined
  private soon: ReturnType<typeof setTimeout> | undefined
  private asked = 0

  constructor(readonly client: string) {}

  async load(): Promise<void> {
    clearTimeout(this.timer)
    try {
      this.view = await ask(
        api.GET('/api/clients/{client_id}/sittings', {
          params: { path: { client_id: this.client }, query: this.wanted }
        })
      )
      this.preview = null
      this.problem = ''
      if (this.busy) this.timer = setTimeout(() => void this.load(), 700)
    } catch (error) {
      this.problem = words(error)
      this.closed = !this.view && error instanceof Problem && error.code === 'not-there'
    }
  }

  stop(): void {
    clearTimeout(this.timer)
    clearTimeout(this.soon)
    if (this.settle && !this.again) void this.save()
  }

  /** Photographs that the worker has not finished. */
  get waiting(): Photo[] {
    return (this.view?.sittings ?? [])
      .flatMap((s) => s.photographs)
      .filter((p) => p.state === 'waiting' || p.state === 'working')
  }
  get busy(): boolean {
    return this.waiting.length > 0
  }

  choose(where: Where, sitting: string): void {
    const c = this.view?.comparison
    this.wanted = {
      before: where === 'before' ? sitting : (c?.before ?? undefined),
      after: where === 'after' ? sitting : (c?.after ?? undefined)
    }
    this.picked[where] = null
    void this.load()
  }

  /** Show one photograph, wherever its sitting stands in the comparison; else on the newer side. */
  show(photograph: string): void {
    const own = this.view?.sittings.find((s) => s.photographs.some((p) => p.id === photograph))
    if (!own) return
    const where = own.id === this.view?.comparison.before ? 'before' : 'after'
    if (own.id !== this.view?.comparison[where]) this.choose(where, own.id)
    this.picked[where] = photograph
  }

  sitting(where: Where): Sitting | undefined {
    const id = this.view?.comparison[where]
    return this.view?.sittings.find((s) => s.id === id)
  }

  photo(where: Where): Photo | undefined {
    const shots = this.sitting(where)?.photographs ?? []
    const other = where === 'before' ? 'after' : 'before'
    const chosen = shots.find((p) => p.id === this.picked[where])
    if (chosen) return chosen
    const wanted =
      (this.sitting(other)?.photographs ?? []).find((p) => p.id === this.picked[other])?.view ??
      'front-neutral'
    return (
      shots.find((p) => p.view === wanted && p.standing !== 'to be retaken' && p.state === 'measured') ??
      shots.find((p) => p.view === wanted) ??
      shots[0]
    )
  }

  points(photo: Photo): Points {
    const out: Points = this.again === photo.id ? {} : { ...(photo.points as Points) }
    for (const [name, place] of Object.entries(this.moved[photo.id] ?? {})) if (place) out[name] = place
    return out
  }

  /** Set a profile's points once more without seeing them: how far two settings differ is the noise of setting. */
  beginAgain(photo: Photo): void {
    this.forget(photo.id)
    this.again = photo.id
    this.point = this.inOrder(photo)[0] ?? null
  }
  endAgain(): void {
    if (this.again) this.forget(this.again)
    this.again = this.point = null
  }
  private forget(photo: string): void {
    this.moved = Object.fromEntries(Object.entries(this.moved).filter(([id]) => id !== photo))
  }
  /** A profile's points in the order in which they are asked for; a second time only those that were set. */
  inOrder(photo: Photo): string[] {
    const all = (this.view?.profile_points ?? []).map((p) => p.id)
    return this.again === photo.id ? all.filter((n) => n in photo.hand) : all
  }

  byHand(photo: Photo, name: string): boolean {
    const move = this.moved[photo.id]?.[name]
    return move === undefined ? name in photo.hand : move !== null
  }

  /** How a picture lies on the stage; both of a pair on the layout of the first. */
  place(photo: Photo): Similarity {
    const first = this.photo('before') ?? this.photo('after')
    const target = first && layout(first.points as Points)
    return (target && align(photo.points as Points, target)) ?? fit(photo.width, photo.height)
  }

  get readings(): Schemas['ReadingView'][] {
    return this.preview?.readings ?? this.sitting('after')?.readings ?? []
  }
  get earlier(): Schemas['ReadingView'][] {
    return this.sitting('before')?.readings ?? []
  }
  get changes(): Schemas['ChangeView'][] {
    return this.preview?.changes ?? this.view?.comparison.changes ?? []
  }
  profile(photo: Photo): Schemas['ProfileReadingView'][] {
    return this.preview?.profile.length && photo.id === this.lastMoved ? this.preview.profile : photo.profile
  }
  private lastMoved = ''

  get names(): Map<string, string> {
    const profile = this.photo(this.focus)?.view.startsWith('profile')
    const list = profile ? this.view?.profile_points : this.view?.points
    return new Map((list ?? []).map((p) => [p.id, p.words]))
  }

  /** Begin to set the points of a reading that is taken by hand, on the newer sitting's picture of its view. */
  setByHand(reading: Schemas['ByHandReading']): void {
    const shot = this.sitting('after')?.photographs.find((p) => p.view === reading.view)
    if (!shot) return
    this.picked.after = shot.id
    this.focus = 'after'
    this.point = reading.needs.find((n) => !this.byHand(shot, n)) ?? reading.needs[0] ?? null
  }

  /** Set a point; the core is asked at once what it means, and it is kept when it has come to rest. */
  move(photo: Photo, name: string, to: Place | null): void {
    const was = this.moved[photo.id]?.[name] ?? (photo.hand[name] as Place | undefined) ?? null
    this.reading =
      this.readings.find((r) => r.needs.includes(name) && r.view === photo.view)?.id ?? this.reading
    this.undoable.push({ photo: photo.id, point: name, was })
    this.apply(photo, name, to)
  }

  private apply(photo: Photo, name: string, to: Place | null): void {
    this.moved[photo.id] = { ...this.moved[photo.id], [name]: to }
    this.lastMoved = photo.id
    const from = photo.points[name] as Place | undefined
    this.lastMove = to
      ? this.words(photo, name, from, to)
      : `${this.names.get(name) ?? name}: back to its automatic place`
    if (this.again === photo.id) {
      clearTimeout(this.settle)
      const whole = this.inOrder(photo).every((n) => this.moved[photo.id]?.[n])
      if (whole) this.settle = setTimeout(() => void this.keepAgain(photo), AGAIN_MS)
      return
    }
    clearTimeout(this.soon)
    this.soon = setTimeout(() => void this.judge(photo), ASK_MS)
    clearTimeout(this.settle)
    this.settle = setTimeout(() => void this.save(), SETTLE_MS)
  }

  private words(photo: Photo, name: string, from: Place | undefined, to: Place): string {
    const known = this.names.get(name) ?? name
    const title = known.charAt(0).toUpperCase() + known.slice(1)
    if (!from) return `${title} set by you`
    const dx = to[0] - from[0]
    const dy = to[1] - from[1]
    const parts = []
    if (Math.abs(dy) >= 0.05) parts.push(`${Math.abs(dy).toFixed(1)} px ${dy < 0 ? 'up' : 'down'}`)
    if (Math.abs(dx) >= 0.05)
      parts.push(`${Math.abs(dx).toFixed(1)} px to the client’s ${dx < 0 ? 'right' : 'left'}`)
    return `${title}: ${parts.join(', ') || 'in place'}, by you`
  }

  nudge(photo: Photo, name: string, dx: number, dy: number): void {
    const at = this.points(photo)[name]
    if (!at) return
    const x = Math.min(Math.max(at[0] + dx, 0), photo.width)
    const y = Math.min(Math.max(at[1] + dy, 0), photo.height)
    this.move(photo, name, [Math.round(x * 10) / 10, Math.round(y * 10) / 10])
  }

  /** Take a point's place over from the other picture, through both alignments. */
  copy(photo: Photo, name: string): void {
    const other = this.photo(this.focus === 'before' ? 'after' : 'before')
    const at = other && this.points(other)[name]
    if (!other || !at) return
    this.move(photo, name, back(this.place(photo), forward(this.place(other), at)))
  }

  undo(): void {
    const last = this.undoable.pop()
    const photo = this.view?.sittings.flatMap((s) => s.photographs).find((p) => p.id === last?.photo)
    if (last && photo) this.apply(photo, last.point, last.was)
  }
  get canUndo(): boolean {
    return this.undoable.length > 0
  }

  private async judge(photo: Photo): Promise<void> {
    const turn = ++this.asked
    await attempt(
      (why) => (this.problem = why),
      async () => {
        const found = await ask(
          api.POST('/api/photographs/{photograph_id}/points/preview', {
            params: { path: { photograph_id: photo.id } },
            body: { moves: this.moved[photo.id] ?? {}, before: this.view?.comparison.before ?? null }
          })
        )
        if (turn === this.asked && photo.sitting_id === this.view?.comparison.after) this.preview = found
        else if (turn === this.asked && photo.profile.length)
          this.preview = { ...found, readings: this.readings, changes: this.changes }
      }
    )
  }

  private async keepAgain(photo: Photo): Promise<void> {
    const moves = this.moved[photo.id] ?? {}
    await attempt(
      (why) => (this.problem = why),
      async () => {
        await ask(
          api.PUT('/api/photographs/{photograph_id}/points', {
            params: { path: { photograph_id: photo.id } },
            body: { moves, again: true }
          })
        )
        await this.load()
        this.endAgain()
      }
    )
  }

  private async save(): Promise<void> {
    clearTimeout(this.settle)
    this.settle = undefined
    const sent = this.moved
    if (!Object.keys(sent).length) return
    this.saving = true
    try {
      for (const [id, moves] of Object.entries(sent))
        await ask(
          api.PUT('/api/photographs/{photograph_id}/points', {
            params: { path: { photograph_id: id } },
            body: { moves, again: false }
          })
        )
      if (this.moved === sent) {
        await this.load()
        this.moved = {}
      }
    } catch (error) {
      this.problem = `${words(error)} The point stays where you set it; it is sent again with the next move.`
    } finally {
      this.saving = false
    }
  }

  async answer(photo: string, body: Schemas['PhotographAnswer']): Promise<void> {
    await attempt(
      (why) => (this.problem = why),
      async () => {
        await ask(
          api.PATCH('/api/photographs/{photograph_id}', { params: { path: { photograph_id: photo } }, body })
        )
        await this.load()
      }
    )
  }

  async remove(photo: string): Promise<void> {
    await attempt(
      (why) => (this.problem = why),
      async () => {
        const path = { kind: 'photographs', row_id: photo } as const
        await ask(api.DELETE('/api/{kind}/{row_id}', { params: { path } }))
        await this.load()
        offer('The photograph is removed, and kept for 30 days.', async () => {
          await ask(api.POST('/api/{kind}/{row_id}/bring-back', { params: { path } }))
          await this.load()
        })
      }
    )
  }
}
