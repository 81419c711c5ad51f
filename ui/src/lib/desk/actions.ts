/** What the step of an alarm does here: it opens a page, confirms a suggestion, or begins a message. The core says which. */
import type { Schemas } from '../api/client'

type Row = Schemas['DeskRow']
type Alarm = Schemas['AlarmView']

export type Action =
  | { does: 'open'; label: string; href: string }
  | { does: 'confirm'; label: string; review: Schemas['DueReviewView'] }
  | { does: 'write'; label: string }

export function actionOf(row: Row, alarm: Alarm): Action {
  const { does, opens, step: label, assignment_id, first_day } = alarm
  if (does === 'write') return { does, label }
  const client = `/clients/${row.id}`
  const review = row.reviews.find((r) => r.assignment_id === assignment_id && r.first_day === first_day)
  if (does === 'confirm' && review) return { does, label, review }
  const href = {
    client,
    intake: `${client}/intake`,
    decide: `${client}#decide`,
    words: `${client}#words`,
    review: `/reviews?assignment=${assignment_id}&first_day=${first_day}`
  }[opens]
  return { does: 'open', label, href }
}

/** Where a client is in their programs, in words. */
export function whereabouts(row: Row): string {
  const at = row.programs[0]
  if (!at) return ''
  if (at.week < 1) return 'begins soon'
  return at.week > at.weeks ? `${at.weeks} weeks done` : `week ${at.week} of ${at.weeks}`
}
