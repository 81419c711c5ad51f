/** The trail in sentences: what one person did in a row on one day is said once. */
import type { Schemas } from '$lib/api/client'
import { here, longDay, timeAt } from '$lib/format'

type Step = Schemas['TrailView']

export interface Line {
  key: string
  when: string
  words: string
  /** What exactly, when there were several. */
  each: string[]
}

const VERBS: Record<string, string> = {
  looked: 'looked at',
  compared: 'put side by side',
  'took out': 'took out',
  'deleted photographs': 'removed a photograph:',
  archived: 'put the record into the archive',
  restored: 'brought the record back from the archive',
  'kept longer': 'had the record kept longer,'
}

export function lines(steps: Step[], zone?: string | null): Line[] {
  const groups: { day: string; steps: Step[] }[] = []
  for (const step of steps) {
    const day = here(new Date(step.at), zone)
    const last = groups.at(-1)
    if (last?.day === day && last.steps[0]?.by_name === step.by_name && last.steps[0].what === step.what)
      last.steps.push(step)
    else groups.push({ day, steps: [step] })
  }
  return groups.map(({ day, steps: of }, i) => {
    const first = of[0] as Step
    const from = timeAt((of.at(-1) as Step).at, zone)
    const to = timeAt(first.at, zone)
    const each = [...new Set(of.map((s) => s.subject).filter(Boolean))]
    const many = first.what === 'looked' ? `${of.length} photographs` : `${of.length} times`
    const what = of.length === 1 ? first.subject : first.what === 'looked' ? many : `${each.join('; ')}`
    return {
      key: `${i} ${first.at}`,
      when: `${longDay(day)}, ${from === to ? from : `${from} to ${to}`}`,
      words: `${first.by_name} ${VERBS[first.what] ?? first.what} ${what}`.trim(),
      each: of.length > 1 && first.what === 'looked' ? each : []
    }
  })
}
