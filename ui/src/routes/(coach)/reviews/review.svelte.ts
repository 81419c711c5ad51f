/** One review at a time, out of those that are due: verdicts by line, what differs from the suggestion, and the decision. */
import { api, ask, Problem, words, type Schemas } from '$lib/api/client'

export type Verdict = Schemas['ReviewLineView']['suggested']
export type Due = { client: string; assignment_id: string; first_day: string | null }
export const VERDICTS: readonly Verdict[] = ['advance', 'hold', 'ease back', 'stop']
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
  line = $state(0)
  problem = $state('')
  field = $state('')
  busy = $state(false)
  done = $state<{ client: string; decided: string; holds: string | null }[]>([])
  private id = crypto.randomUUID()

  readonly due = $derived(this.queue[this.place])
  readonly changed = $derived(
    (this.view?.lines ?? []).filter((n) => (this.verdicts[n.line_id] ?? n.suggested) !== n.suggested)
  )
  readonly needsReason = $derived(this.changed.length > 0 || this.bias.length > 0)

  /** Begin with the reviews that are due, or with one that was asked for. */
  async begin(asked: Due | null): Promise<void> {
    this.problem = ''
    try {
      const desk = await ask(api.GET('/api/desk'))
      const due = desk.clients.flatMap((c) =>
        c.reviews.map((r) => ({
          client: c.name,
          assignment_id: r.assignment_id,
          first_day: r.first_day as string | null
        }))
      )
      const others = due.filter((d) => d.assignment_id !== asked?.assignment_id)
      this.queue = asked ? [asked, ...others] : due
      this.begun = true
      await this.open()
    } catch (error) {
      this.problem = words(error)
    }
  }

  async open(): Promise<void> {
    const due = this.due
    this.view = null
    this.problem = this.field = ''
    this.verdicts = {}
    this.bias = []
    this.reason = this.words = ''
    this.line = 0
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
      if (due === this.due) this.view = view // another may have been asked for meanwhile
    } catch (error) {
      if (due === this.due) this.problem = words(error)
    }
  }

  of(line: Schemas['ReviewLineView']): Verdict {
    return this.verdicts[line.line_id] ?? line.suggested
  }

  choose(verdict: Verdict, every = false): void {
    const lines = this.view?.lines ?? []
    for (const n of every ? lines : lines.slice(this.line, this.line + 1)) this.verdicts[n.line_id] = verdict
  }

  async skip(): Promise<void> {
    this.place += 1
    await this.open()
  }

  async confirm(): Promise<boolean> {
    const view = this.view
    if (!view || this.busy || view.refused) return false
    this.busy = true
    this.problem = this.field = ''
    try {
      const verdicts = Object.fromEntries(view.lines.map((n) => [n.line_id, this.of(n)]))
      const kept = await ask(
        api.POST('/api/assignments/{assignment_id}/review', {
          params: { path: { assignment_id: view.assignment_id } },
          body: {
            id: this.id,
            first_day: view.first_day,
            verdicts,
            bias: this.bias,
            reason: this.reason.trim(),
            words: this.words.trim()
          }
        })
      )
      this.done = [{ client: view.client_name, decided: kept.decided, holds: kept.holds_from }, ...this.done]
      await this.skip()
      return true
    } catch (error) {
      this.problem = words(error)
      this.field = error instanceof Problem ? (error.field ?? '') : ''
      return false
    } finally {
      this.busy = false
    }
  }
}
