/** The practice's exercises, asked for once and kept until something of its own changes. */
import { api, ask, type Schemas } from '$lib/api/client'

class Catalogue {
  view = $state.raw<Schemas['CatalogueView'] | null>(null)
  private asked: Promise<void> | null = null

  async load(): Promise<void> {
    this.asked ??= ask(api.GET('/api/catalogue')).then(
      (found) => {
        this.view = found
      },
      (error: unknown) => {
        this.asked = null
        throw error
      }
    )
    await this.asked
  }

  async again(): Promise<void> {
    this.asked = null
    await this.load()
  }
}

export const catalogue = new Catalogue()
