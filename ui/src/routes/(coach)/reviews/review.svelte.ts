/** One review at a time, out of those that are due: verdicts by line, what differs from the suggestion, and the decision. */
import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
import { confirmLater, decideNow, isDecided } from '$lib/review/reviewing'

export type Verdict = Schemas['ReviewLineView']['suggested']
export type Due = { client: string; assignment_id: string; first_day: string | null }
export const VERDICTS: readonly Verdict[] = ['advance', 'hold', 'ease back', 'stop']
/** The week itself can be led on, kept or eased back; it is not stopped. */
export const OF_WEEK: readonly Verdict[] = ['advance', 'hold', 'ease back']
/** The key of the verdict on the week, and its place above the lines. */
export const THE_WEEK = ''
export const WEEK_ROW = -1
export const KEYS: Record<Verdict, string> = { advance: 'a', hold: 'h', 'ease back': 'e', stop: 'x' }

export class ReviewDesk {
  queue = $state<Due[]>([])
  /** Whether it is known what is due: before that, no review can be said not to wait. */
  begun = $state(false)
  place = $state(0)
  view = $state<Schemas['ReviewView'] | null>(null)
  verdicts = $state<Record<string, Verdict>>({})
  bias = $state<string[]>([])
  reason = $state('')
  words = $state('')
  line = $state(WEEK_ROW)
  problem = $state('')
  /** What stands against the verdicts as they are now. */
  against = $state<Schemas['AgainstView'][]>([])
  /** What the program would become with the verdicts as they are; nothing while that is worked out. */
  checked = $state<Schemas['CheckedView'] | null>(null)
  done = $state<{ id: string; client: string; decided: string; holds: string | null }[]>([])
  private id = crypto.randomUUID()
  private asked = 0

  readonly due = $derived(this.queue[this.place])
  /** The row that the keys begin at. */
  readonly top = $derived(this.view?.of_week ? WEEK_ROW : 0)
  /** How many verdicts are otherwise than suggested. */
  readonly changed = $derived(
    (this.view?.lines ?? []).filter((n) => this.of(n) !== n.suggested).length +
      Number(!!this.view?.of_week && this.ofWeek !== this.view.of_week.suggested)
  )
  readonly needsReason = $derived(this.changed > 0 || this.bias.length > 0)

  /** Begin with the reviews that are due, or with one that was asked for. */
  async begin(asked: Due | null): Promise<void> {
    this.problem = ''
    await attempt(
      (why) => (this.problem = why),
      async () => {
        if (asked) await decideNow(asked.assignment_id, asked.first_day)
        const desk = await ask(api.GET('/api/desk'))
        const due = desk.clients.flatMap((c) =>
          c.reviews.map((r) => ({
            client: c.name,
            assignment_id: r.assignment_id,
            first_day: r.first_day as string | null
          }))
        )
        const open = due.filter(
          (d) => d.assignment_id !== asked?.assignment_id && !isDecided(d.assignment_id, d.first_day)
        )
        this.queue = asked ? [asked, ...open] : open
        this.begun = true
        await this.open()
      }
    )
  }

  async open(): Promise<void> {
    const due = this.due
    this.view = null
    this.problem = ''
    this.verdicts = {}
    this.bias = []
    this.reason = this.words = ''
    this.against = []
    this.checked = null
    this.asked++
    this.id = crypto.randomUUID()
    if (!due) return
    try {
      const view = await ask(
        api.GET('/api/assignments/{assignment_id}/review', {
          params: {
            path: { assignment_id: due.assignment_id },
            query: due.first_day ? { first_day: due.first_day } : {}
          }
        })
      )
      if (due !== this.due) return // another was asked for meanwhile
      this.view = view
      this.line = view.lines.length ? 0 : this.top
      void this.check()
    } catch (error) {
      if (due === this.due) this.problem = words(error)
    }
  }

  of(line: Schemas['ReviewLineView']): Verdict {
    return this.verdicts[line.line_id] ?? line.suggested
  }

  get ofWeek(): Verdict {
    return this.verdicts[THE_WEEK] ?? this.view?.of_week?.suggested ?? 'hold'
  }

  choose(verdict: Verdict, every = false): void {
    const lines = this.view?.lines ?? []
    const chosen = every ? lines : this.line === WEEK_ROW ? [] : lines.slice(this.line, this.line + 1)
    for (const n of chosen) this.verdicts[n.line_id] = verdict
    if ((every || this.line === WEEK_ROW) && this.view?.of_week)
      this.verdicts[THE_WEEK] = OF_WEEK.includes(verdict) ? verdict : 'hold'
    void this.check()
  }

  /** The decision as it stands. */
  private body(view: Schemas['ReviewView']): Schemas['DecisionRequest'] {
    return {
      id: this.id,
      first_day: view.first_day,
      verdicts: {
        ...Object.fromEntries(view.lines.map((n) => [n.line_id, this.of(n)])),
        ...(view.of_week ? { [THE_WEEK]: this.ofWeek } : {})
      },
      bias: [...this.bias],
      reason: this.reason.trim(),
      words: this.words.trim()
    }
  }

  /** Ask what the verdicts would pass; a later answer to an earlier question is dropped. */
  async check(): Promise<void> {
    const view = this.view
    const mine = ++this.asked
    this.checked = null
    if (!view || view.refused) return
    try {
      const found = await ask(
        api.POST('/api/assignments/{assignment_id}/review/check', {
          params: { path: { assignment_id: view.assignment_id } },
          body: this.body(view)
        })
      )
      if (mine === this.asked) {
        this.checked = found
        this.against = found.against
      }
    } catch (error) {
      if (mine === this.asked) this.problem = words(error)
    }
  }

  async skip(): Promise<void> {
    this.place += 1
    await this.open()
  }

  async confirm(): Promise<boolean> {
    const view = this.view
    if (!view || view.refused || this.against.length) return false
    const chosen = { ...this.verdicts }
    const body = this.body(view)
    const decided = this.changed ? 'otherwise than suggested' : view.suggested
    this.done = [{ id: this.id, client: view.client_name, decided, holds: view.holds_from }, ...this.done]
    confirmLater(
      view.client_name,
      decided,
      view.assignment_id,
      body,
      (kept) => {
        const entry = this.done.find((d) => d.id === body.id)
        if (kept && entry) Object.assign(entry, { decided: kept.decided, holds: kept.holds_from })
      },
      async () => {
        this.done = this.done.filter((d) => d.id !== body.id)
        const due = { client: view.client_name, assignment_id: view.assignment_id, first_day: view.first_day }
        this.queue = [...this.queue.slice(0, this.place), due, ...this.queue.slice(this.place)]
        await this.open()
        Object.assign(this, { verdicts: chosen, bias: body.bias, reason: body.reason, words: body.words })
      }
    )
    await this.skip()
    return true
  }
}
