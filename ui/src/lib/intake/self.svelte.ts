/** An intake that a client fills in alone: a draft kept in this browser and on the server as one types. */
import { api, ask, Problem, attempt, type Schemas, words } from '../api/client'
import { meaningOf, pauseOf } from '../offline/meaning'

export type Draft = Required<Schemas['Draft']>
const TYPING_MS = 700
const FIRST_RETRY_MS = 4000

export class SelfIntake {
  view = $state<Schemas['SelfIntakeView'] | null>(null)
  draft = $state<Draft>({ profile: {}, ratings: {}, answers: {}, tests: {}, cautions: {}, consents: {} })
  urgent = $state('')
  saved = $state<'saved' | 'saving' | 'offline'>('saved')
  /** Why the link cannot be used, or what went wrong for good. */
  failure = $state('')
  sent = $state(false)
  refused = $state<{ message: string; field: string | null } | null>(null)
  #base = 0
  #timer: ReturnType<typeof setTimeout> | undefined
  #dirty = false
  #sending = false
  /** Saves in a row that came to nothing. */
  #tries = 0

  constructor(readonly token: string) {}

  get #place() {
    return `dimbo own intake ${this.token}`
  }

  async load() {
    await attempt(
      (why) => (this.failure = why),
      async () => {
        const view = await ask(
          api.GET('/api/self-intakes/{token}', { params: { path: { token: this.token } } })
        )
        this.#base = view.revision
        this.draft = view.document as Draft
        this.urgent = view.urgent
        const kept = localStorage.getItem(this.#place)
        if (kept) {
          const local = JSON.parse(kept) as { draft: Draft; base: number }
          if (local.base === view.revision) {
            this.draft = local.draft
            this.#touch(0)
          } else localStorage.removeItem(this.#place)
        }
        this.view = view
      }
    )
  }

  /** Change a value; an empty one takes the entry out. */
  set(section: keyof Draft, key: string, value: unknown) {
    const entries = this.draft[section] as Record<string, unknown>
    if (value === undefined) delete entries[key]
    else entries[key] = value
    if (this.refused?.field === `${section}.${key}`) this.refused = null
    this.#touch(TYPING_MS)
  }

  #touch(wait: number) {
    this.#dirty = true
    this.saved = 'saving'
    localStorage.setItem(this.#place, JSON.stringify({ draft: this.draft, base: this.#base }))
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.save(), wait)
  }

  async save(): Promise<boolean> {
    clearTimeout(this.#timer)
    if (this.#sending) {
      this.#timer = setTimeout(() => void this.save(), 200)
      return false
    }
    if (!this.#dirty) return true
    this.#sending = true
    this.#dirty = false
    try {
      const answer = await ask(
        api.PUT('/api/self-intakes/{token}', {
          params: { path: { token: this.token } },
          body: { document: this.draft, base: this.#base }
        })
      )
      this.#base = answer.revision
      this.#tries = 0
      this.urgent = answer.urgent
      if (!this.#dirty) {
        this.saved = 'saved'
        localStorage.removeItem(this.#place)
      }
      return true
    } catch (error) {
      this.#dirty = true
      const meaning = meaningOf(error)
      if (meaning === 'refused' || meaning === 'signed-out') {
        this.failure = words(error)
        if (error instanceof Problem && error.code === 'conflict') localStorage.removeItem(this.#place)
      } else {
        this.saved = 'offline'
        this.#timer = setTimeout(() => void this.save(), pauseOf(++this.#tries, FIRST_RETRY_MS))
      }
      return false
    } finally {
      this.#sending = false
    }
  }

  /** Send it in; ``leaves`` names the health questions that are left open on purpose. */
  async submit(leaves: string[]) {
    this.refused = null
    while (this.#sending) await new Promise((done) => setTimeout(done, 100))
    if (!(await this.save())) {
      if (this.saved === 'offline')
        this.refused = {
          message: 'No connection. All of it is kept on this phone; send it in once you are online.',
          field: null
        }
      return
    }
    try {
      await ask(
        api.POST('/api/self-intakes/{token}/submit', {
          params: { path: { token: this.token } },
          body: { leaves }
        })
      )
      this.sent = true
      localStorage.removeItem(this.#place)
    } catch (error) {
      if (error instanceof Problem) this.refused = { message: error.message, field: error.field }
      else this.failure = words(error)
    }
  }
}
