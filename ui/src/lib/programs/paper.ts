/** Where a sheet is kept: the newest version at the server, and unsaved work in this browser. */
import { api, ask, type Schemas } from '$lib/api/client'
import type { Doc } from './document'

export type Kind = 'program' | 'template'

export interface Draft {
  /** The version that it was made from. */
  version: number
  title: string
  document: Doc
}

export interface Stored extends Draft {
  sheet: Schemas['SheetView']
  savedBy: string
  /** A template that ships can be looked at and copied, not changed. */
  fixed: boolean
  /** Whom a program is for; nobody for templates. */
  client: { id: string; name: string; today: string } | null
}

export class Paper {
  constructor(
    readonly kind: Kind,
    readonly id: string
  ) {}

  private get key() {
    return `dimbo-${this.kind}-${this.id}`
  }

  async fetch(): Promise<Stored> {
    if (this.kind === 'template') {
      const found = await ask(
        api.GET('/api/templates/{template_id}', { params: { path: { template_id: this.id } } })
      )
      return {
        ...found,
        document: found.document as Doc,
        savedBy: 'Somebody',
        fixed: !found.own,
        client: null
      }
    }
    const found = await ask(
      api.GET('/api/programs/{program_id}', { params: { path: { program_id: this.id } } })
    )
    return {
      ...found,
      document: found.document as Doc,
      savedBy: found.saved_by,
      fixed: false,
      client: { id: found.client_id, name: found.client_name, today: found.client_today }
    }
  }

  /** Save over the version that a draft was made from; returns the new one. */
  async save({ version, title, document }: Draft): Promise<number> {
    const body = { base_version: version, title, document }
    if (this.kind === 'template') {
      const params = { path: { template_id: this.id } }
      return (await ask(api.PUT('/api/templates/{template_id}', { params, body }))).version
    }
    const params = { path: { program_id: this.id } }
    return (await ask(api.PUT('/api/programs/{program_id}', { params, body }))).version
  }

  /** Keep unsaved work in this browser, until it is saved. */
  keep(draft: Draft): void {
    localStorage.setItem(this.key, JSON.stringify(draft))
  }

  kept(): Draft | null {
    const text = localStorage.getItem(this.key)
    return text ? (JSON.parse(text) as Draft) : null
  }

  forget(): void {
    localStorage.removeItem(this.key)
  }
}
