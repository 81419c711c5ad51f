/** An entry of the reasoning table as docs/formats/intake-tables.md describes it. */
export interface Entry {
  concern: string
  questions: { id: string; ask: string; from: string | null }[]
  causes: {
    id: string
    name: string
    usual: number
    evidence: Record<string, Partial<Record<'yes' | 'no' | 'unsure', number>>>
    because: string
    helps: string
    families: string[]
    muscles: string[]
    avoid: string
    habits: string[]
  }[]
}

export const FAMILIES = [
  'contract',
  'resist',
  'release',
  'drain',
  'press',
  'tap',
  'stretch',
  'mobilise',
  'breathe',
  'align',
  'habit'
]

/** An id from a name, unlike those that exist. */
export function idFor(name: string, taken: string[]): string {
  const base =
    name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replaceAll(/^[^a-z]+|-+$/g, '')
      .slice(0, 40) || 'new'
  let id = base
  for (let n = 2; taken.includes(id); n++) id = `${base}-${n}`
  return id
}
