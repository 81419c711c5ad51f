/** What is written of an exercise and not kept yet stays in this browser, whatever ends the page. */
import type { Schemas } from '$lib/api/client'

type Body = Schemas['WrittenRequest']
type Kind = 'new' | 'copy' | 'edit'

export class Unfinished {
  private readonly key: string

  constructor(
    kind: Kind,
    private written: Schemas['WrittenView'],
    private storage: Storage = localStorage
  ) {
    this.key = `dimbo-exercise-${kind}-${written.id}`
  }

  /** What was kept, if the exercise is still the version that it was written over. */
  read(): Body | null {
    try {
      const kept = JSON.parse(this.storage.getItem(this.key) ?? 'null') as Body | null
      return kept?.base_version === this.written.version ? kept : null
    } catch {
      return null
    }
  }

  keep(body: Body): void {
    try {
      this.storage.setItem(this.key, JSON.stringify(body))
    } catch {
      // A full device keeps what it can; the form itself is whole.
    }
  }

  drop(): void {
    this.storage.removeItem(this.key)
  }
}
