/** Confirming a review: it lays doses out and may send words, so it is only done when nobody has taken it back meanwhile. */
import { api, ask, type Schemas } from '$lib/api/client'
import { later, settle, waits } from '$lib/parts/undo.svelte'

const keyOf = (assignment: string, firstDay: string | null) => `review ${assignment} ${firstDay}`

/** Whether this review is decided and only waits for the time in which it can be taken back. */
export const isDecided = (assignment: string, firstDay: string | null) => waits(keyOf(assignment, firstDay))

/** Decide now what waits of these reviews, before they are asked for anew. */
export const decideNow = (assignment: string, firstDay: string | null) => settle(keyOf(assignment, firstDay))

export function confirmLater(
  client: string,
  verdict: string,
  assignment: string,
  body: Schemas['DecisionRequest'],
  after: (kept?: Schemas['DecidedView']) => Promise<void> | void,
  takeBack: () => Promise<unknown> | void = () => after()
): void {
  later(
    keyOf(assignment, body.first_day),
    `${client}: ${verdict}, confirmed.`,
    async (leaving) => {
      const params = { path: { assignment_id: assignment } }
      const kept = await ask(
        api.POST('/api/assignments/{assignment_id}/review', { params, body, keepalive: leaving })
      )
      if (!leaving) await after(kept)
    },
    { path: `/api/assignments/${assignment}/review`, body },
    takeBack
  )
}
