/** What the action of an alarm does: it opens a page, opens the review, confirms a suggestion, or begins a message. */
import type { Schemas } from '../api/client'

type Row = Schemas['DeskRow']
type Alarm = Schemas['AlarmView']

export type Action =
  | { does: 'open'; label: string; href: string }
  | { does: 'confirm'; label: string; review: Schemas['DueReviewView'] }
  | { does: 'write'; label: string }

const review = (r: { assignment_id: string; first_day: string }) =>
  `/reviews?assignment=${r.assignment_id}&first_day=${r.first_day}`

export function actionOf(row: Row, alarm: Alarm): Action {
  const due = row.reviews[0]
  const client = `/clients/${row.id}`
  switch (alarm.kind) {
    case 'urgent':
    case 'lock':
    case 'intake':
      return { does: 'open', label: alarm.step, href: `${client}/intake` }
    case 'sore':
    case 'overdone':
      return due ? { does: 'open', label: alarm.step, href: review(due) } : { does: 'write', label: 'Write' }
    case 'review':
      return due
        ? { does: 'confirm', label: alarm.step, review: due }
        : { does: 'open', label: 'Open', href: client }
    case 'corrected': {
      const running = row.programs[0]
      const href = running
        ? `/reviews?assignment=${running.assignment_id}&first_day=${alarm.key.slice(0, 10)}`
        : client
      return { does: 'open', label: alarm.step, href }
    }
    case 'missed':
    case 'sitting':
    case 'consent':
      return { does: 'write', label: alarm.step }
    case 'pain':
      return { does: 'open', label: alarm.step, href: `${client}#decide` }
    case 'words':
      return { does: 'open', label: alarm.step, href: `${client}#words` }
    default:
      return { does: 'open', label: alarm.step, href: client }
  }
}

/** Where a client is in their programs, in words. */
export function whereabouts(row: Row): string {
  const at = row.programs[0]
  if (!at) return ''
  if (at.week < 1) return 'begins soon'
  return at.week > at.weeks ? `${at.weeks} weeks done` : `week ${at.week} of ${at.weeks}`
}
