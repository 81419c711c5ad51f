/** The desk in the browser: who is shown, who is chosen, and what was just done. The core says who needs whom, and why. */
import { goto } from '$app/navigation'
import { api, ask, attempt, type Schemas } from '$lib/api/client'
import { fromAddress } from '$lib/parts/address.svelte'
import { offer } from '$lib/parts/undo.svelte'
import { session } from '$lib/people/session.svelte'
import { confirmLater, isDecided } from '$lib/review/reviewing'
import { actionOf } from './actions'

type Row = Schemas['DeskRow']
const SEEN_MS = 900
/** Kinds that are shown whoever took the client on: nobody may miss them. */
const EVERYBODYS = ['urgent']

export class Desk {
  view = $state<Schemas['DeskView'] | null>(null)
  problem = $state('')
  wanted = $state(fromAddress('find'))
  /** Whose clients: a coach's id, `all`, or one's own and those that nobody took on. */
  whose = $state(fromAddress('whose'))
  group = $state(fromAddress('group'))
  status = $state(fromAddress('status'))
  /** The client whose line the keys are at. */
  at = $state('')
  /** Those who are chosen together. */
  picked = $state<string[]>([])
  said = $state<Record<string, string>>({})
  /** How many of the chosen are done, while it goes on. */
  going = $state<{ done: number; of: number } | null>(null)
  /** Begins a message to the client at whom the keys are. */
  write: (text: string) => void = () => undefined

  private own = (r: Row) => r.coach_id === null || r.coach_id === session.me?.id
  hasColleagues = $derived(
    (this.view?.coaches.length ?? 0) > 1 &&
      new Set((this.view?.clients ?? []).map((r) => r.coach_id)).size > 1
  )
  private fits = (r: Row) =>
    r.name.toLowerCase().includes(this.wanted.trim().toLowerCase()) &&
    (!this.group || r.programs.some((p) => p.group_id === this.group)) &&
    (!this.status || r.status === this.status)
  private everybody = $derived((this.view?.clients ?? []).filter(this.fits))
  /** Without a choice one's own; everybody where one has none. */
  private shows = (r: Row) => {
    if (this.whose === 'all') return true
    if (this.whose) return r.coach_id === this.whose
    return this.own(r) || !this.everybody.some(this.own) || EVERYBODYS.includes(r.alarms[0]?.kind ?? '')
  }
  found = $derived(this.everybody.filter(this.shows))
  /** Colleagues' clients who are not shown and need somebody. */
  elsewhere = $derived(this.everybody.filter((r) => r.alarms.length && !this.shows(r)))
  needy = $derived(this.found.filter((r) => r.alarms.length))
  quiet = $derived(this.found.filter((r) => !r.alarms.length))
  states = $derived([...new Set((this.view?.clients ?? []).map((r) => r.status))].sort())
  due = $derived(this.needy.reduce((n, r) => n + r.reviews.length, 0))
  chosen = $derived(this.needy.find((r) => r.id === this.at))
  together = $derived(this.needy.filter((r) => this.picked.includes(r.id)))
  coachOf = (r: Row) =>
    this.own(r) ? '' : (this.view?.coaches.find((c) => c.id === r.coach_id)?.name ?? 'a colleague')

  /** Of a list, what is about those who are shown. */
  ofShown<T extends { client_id: string }>(of: T[]): T[] {
    const shown = new Set(this.found.map((r) => r.id))
    return of.filter((x) => shown.has(x.client_id))
  }

  load = async () => {
    await attempt(
      (why) => (this.problem = why),
      async () => {
        this.view = await ask(api.GET('/api/desk'))
        if (!this.at) this.at = this.needy[0]?.id ?? ''
        this.picked = this.picked.filter((id) => this.needy.some((r) => r.id === id))
      }
    )
  }

  /** What was decided and can still be taken back. */
  decided = (row: Row) =>
    row.reviews[0] && isDecided(row.reviews[0].assignment_id, row.reviews[0].first_day)
      ? `${row.reviews[0].verdict}, confirmed`
      : ''

  async act(row: Row) {
    const alarm = row.alarms[0]
    if (!alarm || this.decided(row)) return
    this.at = row.id
    const action = actionOf(row, alarm)
    if (action.does === 'open') await goto(action.href)
    else if (action.does === 'write') this.write(alarm.first_words)
    else {
      const { assignment_id, first_day, verdict } = action.review
      const body = { id: crypto.randomUUID(), first_day, verdicts: {}, bias: [], reason: '', words: '' }
      confirmLater(row.name, verdict, assignment_id, body, this.load)
      this.done([row], `${verdict}, confirmed`)
    }
  }

  /** Mark what is seen, or put it off until tomorrow, for one client or several; those whose matter allows neither stay. */
  async settle(rows: Row[], untilTomorrow: boolean) {
    const fit = rows.flatMap((r) => {
      const alarm = r.alarms[0]
      return alarm && (untilTomorrow ? alarm.may_wait : alarm.may_settle) ? [{ row: r, alarm }] : []
    })
    const left = rows.length - fit.length
    const stay = left ? ` ${left} must be decided and stay${left === 1 ? 's' : ''}.` : ''
    if (!fit.length) {
      this.problem = `This must be decided; it cannot be ${untilTomorrow ? 'put off' : 'marked as seen'}.`
      return
    }
    const bodies = fit.map(({ row, alarm }) => ({
      client_id: row.id,
      kind: alarm.kind,
      key: alarm.key,
      until_tomorrow: untilTomorrow
    }))
    const how = untilTomorrow ? 'put off until tomorrow' : 'marked as seen'
    await attempt(
      (why) => (this.problem = why),
      async () => {
        await this.each(bodies, (body) => ask(api.POST('/api/desk/settled', { body })))
        this.done(
          fit.map((f) => f.row),
          how
        )
        const who = fit.length === 1 ? fit[0]?.row.name : `${fit.length} clients`
        offer(`${who}: ${how}.${stay}`, async () => {
          for (const body of bodies) await ask(api.POST('/api/desk/unsettled', { body }))
          await this.load()
        })
      }
    )
  }

  /** Send each their message; what it was about is seen then. Each goes once, however often it is tried. */
  async send(messages: { row: Row; id: string; text: string }[]) {
    await this.each(messages, ({ row, id, text }) =>
      ask(
        api.POST('/api/clients/{client_id}/messages', {
          params: { path: { client_id: row.id } },
          body: { id, text, about_day: null, exercise_id: null }
        })
      )
    )
    const rows = messages.map((m) => m.row)
    if (rows.some((r) => r.alarms[0]?.may_settle))
      await this.settle(
        rows.filter((r) => r.alarms[0]?.may_settle),
        false
      )
    const rest = rows.filter((r) => !r.alarms[0]?.may_settle)
    if (rest.length) this.done(rest, 'written')
  }

  private async each<T>(of: T[], does: (one: T) => Promise<unknown>) {
    try {
      for (const [n, one] of of.entries()) {
        if (of.length > 1) this.going = { done: n, of: of.length }
        await does(one)
      }
    } finally {
      this.going = null
    }
  }

  /** Say it on the line, go to the next one, and read the desk again. */
  private done(rows: Row[], what: string) {
    for (const row of rows) this.said[row.id] = what
    const gone = new Set(rows.map((r) => r.id))
    const place = this.needy.findIndex((r) => gone.has(r.id))
    const stay = this.needy.filter((r) => !gone.has(r.id))
    this.at = stay[Math.min(Math.max(place, 0), stay.length - 1)]?.id ?? ''
    this.picked = this.picked.filter((id) => !gone.has(id))
    setTimeout(async () => {
      await this.load()
      this.said = {}
    }, SEEN_MS)
  }

  pick(row: Row) {
    this.picked = this.picked.includes(row.id)
      ? this.picked.filter((id) => id !== row.id)
      : [...this.picked, row.id]
  }
}
