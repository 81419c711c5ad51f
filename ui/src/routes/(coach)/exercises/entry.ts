/** A card as it is written, for the form that edits it. The server says what does not fit. */
import type { FigureEntry } from '$lib/exercises/figure-entry'

export type Fault = { fault: string; remedy: string }
export type PhaseEntry = { kind: string; lead: number; release: number; directions: unknown[] }
/** The eased version; what it does not say is as in the exercise itself. */
export type Easier = { cues: string[]; dose: string; [key: string]: unknown }
export type Entry = {
  name: string
  stage: string
  purpose: string
  concerns: string[]
  prime_movers: string[]
  helpers: string[]
  phases: PhaseEntry[]
  rest: number
  sides: string
  start: string
  target: string
  axes: string[]
  ceiling: { seconds: number; basis: string }
  setup: number
  settle: number
  pressure: string
  needs: string[]
  position: string
  foundation: boolean
  cues: string[]
  felt_at: string
  faults: Fault[]
  eased: string
  easier?: Easier | null
  stop_rule: string
  care: string[]
  regions: string[]
  marks: string[]
  sessions: { start: number; target: number }
  figure: FigureEntry
  clip?: { hash: string; seconds: number; sound: boolean } | null
  picture?: { hash: string } | null
  [key: string]: unknown
}

export const lines = (text: string): string[] =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)

/** Faults as lines "fault: remedy". */
export const faultLines = (faults: Fault[]): string => faults.map((f) => `${f.fault}: ${f.remedy}`).join('\n')
export const faultsOf = (text: string): Fault[] =>
  lines(text).map((l) => {
    const at = l.indexOf(':')
    return at < 0
      ? { fault: l, remedy: '' }
      : { fault: l.slice(0, at).trim(), remedy: l.slice(at + 1).trim() }
  })

export const toggle = (list: string[], value: string): string[] =>
  list.includes(value) ? list.filter((v) => v !== value) : [...list, value]

/** What the fields are called where something is missing. */
export const FIELDS: Record<string, string> = {
  name: 'name',
  family: 'family',
  stage: 'stage',
  purpose: 'what it is for',
  figure: 'figure',
  cues: 'cues (two or more)',
  faults: 'faults',
  felt_at: 'where it is felt',
  position: 'position',
  eased: 'the eased way',
  easier: 'eased version',
  stop_rule: 'when to stop',
  start: 'start dose',
  target: 'target dose',
  ceiling: 'most a day',
  axes: 'what it is raised by',
  phases: 'parts of the dose',
  concerns: 'what it helps with',
  prime_movers: 'muscles',
  helpers: 'helpers',
  pressure: 'pressure',
  regions: 'regions it reaches',
  marks: 'what cautions may hold',
  needs: 'needs',
  care: 'what to mind',
  clip: 'clip',
  picture: 'picture'
}
