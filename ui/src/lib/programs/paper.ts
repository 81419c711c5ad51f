/** Where a sheet is kept: the newest version at the server, and unsaved work in this browser. */
import { api, ask, type Schemas } from '$lib/api/client'
import type { Doc } from './document'

export type Kind = 'program' | 'template'

export interface Draft {
  /** The save that it was made from. */
  revision: number
  /** The open sheet that it comes from: a save whose answer was lost is sent again under the same one. */
  sheet: string
  title: string
  document: Doc
}

export interface Stored {
  version: number
  revision: number
  title: string
  document: Doc
  sheet: Schemas['SheetView']
  savedBy: string
  /** A template that ships can be looked at and copied, not changed. */
  fixed: boolean
  /** Whom a program is for; nobody for templates. */
  client: { id: string; name: string; today: string } | null
  /** Where each week stands with whoever practises it; nothing for drafts and templates. */
  standing: Schemas['WeekStandingView'][]
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
        revision: found.version,
        document: found.document as Doc,
        savedBy: 'Somebody',
        fixed: !found.own,
        client: null,
        standing: []
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

  /** Check and save in one go, over what a draft was made from. */
  async save({ revision, sheet, title, document }: Draft): Promise<Schemas['KeptView']> {
    const body = { base_revision: revision, sheet, title, document }
    if (this.kind === 'template')
      return ask(
        api.PUT('/api/templates/{template_id}', { params: { path: { template_id: this.id } }, body })
      )
    return ask(api.PUT('/api/programs/{program_id}', { params: { path: { program_id: this.id } }, body }))
  }

  /** Keep unsaved work in this browser, until it is saved. */
  keep(draft: Draft): void {
    localStorage.setItem(this.key, JSON.stringify(draft))
  }

  kept(): Draft | null {
    const text = localStorage.getItem(this.key)
    if (!text) return null
    // Work that was kept before saves were counted names its version; the two were the same then.
    const kept = JSON.parse(text) as Draft & { version?: number }
    return {
      ...kept,
      revision: kept.revision ?? kept.version ?? 0,
      sheet: kept.sheet ?? crypto.randomUUID()
    }
  }

  forget(): void {
    localStorage.removeItem(this.key)
  }
}

/** Titles of the sheets of which unsaved work is kept in this browser. */
export function keptTitles(): string[] {
  const keys = Object.keys(localStorage).filter((k) => /^dimbo-(program|template)-/.test(k))
  return keys.flatMap((key) => {
    try {
      const draft = JSON.parse(localStorage.getItem(key) ?? '') as Partial<Draft>
      return draft.title ? [draft.title] : []
    } catch {
      return []
    }
  })
}
