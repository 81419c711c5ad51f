/** Assigning a program, or letting its new version hold from a day on: the wish, its preview, and keeping it. */
import { api, ask, words, type Schemas } from '$lib/api/client'

type Wish = Schemas['WishIn']
export type Prepared = Schemas['PreparedView']
type Running = Schemas['AssignmentView']

export class Plan {
  readonly id: string
  program = $state.raw<Schemas['ProgramView'] | null>(null)
  /** The running assignment of this program, when it only changes. */
  running = $state.raw<Running | null>(null)
  people = $state.raw<Schemas['ClientName'][]>([])
  start = $state('')
  end = $state('')
  weekdays = $state<number[]>([])
  morning = $state('07:30')
  evening = $state('20:30')
  remind = $state<number | null>(15)
  part = $state<'morning' | 'evening' | null>(null)
  reason = $state('')
  others = $state<string[]>([])
  group = $state('')
  prepared = $state.raw<Prepared[]>([])
  shown = $state('')
  problem = $state('')
  busy = $state(false)
  private asked = 0

  constructor(id: string) {
    this.id = id
  }

  get parts(): string[] {
    return this.program?.sheet.parts ?? ['morning']
  }

  get changes(): boolean {
    return this.running !== null
  }

  async load(): Promise<void> {
    const program = await ask(
      api.GET('/api/programs/{program_id}', { params: { path: { program_id: this.id } } })
    )
    const course = await ask(
      api.GET('/api/clients/{client_id}', { params: { path: { client_id: program.client_id } } })
    )
    this.people = await ask(api.GET('/api/client-names'))
    const running = course.assignments.find((a) => a.running && a.program_id === this.id)
    this.start = program.client_today
    this.part = (program.sheet.parts[0] ?? 'morning') as 'morning' | 'evening'
    if (running) {
      this.running = running
      this.weekdays = [...running.plan.weekdays]
      this.morning = running.plan.times.morning ?? this.morning
      this.evening = running.plan.times.evening ?? this.evening
      this.remind = running.plan.remind_min
      this.end = running.plan.end_date ?? ''
      this.part = running.plan.as_part ?? this.part
    }
    this.program = program
    this.shown = program.client_id
    await this.look()
  }

  get wish(): Wish {
    const own = this.parts[0]
    const moved = this.parts.length === 1 && this.part !== own ? this.part : null
    const at = moved ?? (this.parts.length === 1 ? own : null)
    return {
      start: this.start,
      end: this.end || null,
      weekdays: [...this.weekdays].sort(),
      times: {
        morning: at === 'evening' ? null : this.morning || null,
        evening: at === 'morning' ? null : this.evening || null
      },
      remind_min: this.remind,
      as_part: moved
    }
  }

  /** Ask what the wish would mean; only the newest answer counts. */
  async look(): Promise<void> {
    if (!this.start || !this.program) return
    const mine = ++this.asked
    this.problem = ''
    try {
      const found = this.running
        ? [
            await ask(
              api.POST('/api/assignments/{assignment_id}/change/preview', {
                params: { path: { assignment_id: this.running.id } },
                body: this.wish
              })
            )
          ]
        : await ask(
            api.POST('/api/programs/{program_id}/assignment/preview', {
              params: { path: { program_id: this.id } },
              body: {
                wish: this.wish,
                clients: this.others.length ? [this.program.client_id, ...this.others] : []
              }
            })
          )
      if (mine === this.asked) this.prepared = found
    } catch (error) {
      if (mine === this.asked) this.problem = words(error)
    }
  }

  /** Keep it. Returns where to go on, or nothing when it was refused. */
  async keep(): Promise<string> {
    const program = this.program
    if (!program) return ''
    this.busy = true
    this.problem = ''
    try {
      if (this.running) {
        await ask(
          api.POST('/api/assignments/{assignment_id}/change', {
            params: { path: { assignment_id: this.running.id } },
            body: { wish: this.wish, reason: this.reason }
          })
        )
      } else if (this.others.length) {
        // Only those whom nothing stands against: the others are named in the margin.
        const able = this.prepared.filter((p) => !p.refusals.length).map((p) => p.client_id)
        const got = await ask(
          api.POST('/api/programs/{program_id}/group', {
            params: { path: { program_id: this.id } },
            body: { name: this.group, clients: able, wish: this.wish }
          })
        )
        return `/clients/${got.started[0]?.client_id ?? program.client_id}`
      } else {
        await ask(
          api.POST('/api/programs/{program_id}/assignment', {
            params: { path: { program_id: this.id } },
            body: this.wish
          })
        )
      }
      return `/clients/${program.client_id}`
    } catch (error) {
      this.problem = words(error)
      return ''
    } finally {
      this.busy = false
    }
  }
}
