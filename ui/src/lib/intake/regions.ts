/** From what the intake says to what the face map shows. */
import type { Schemas } from '../api/client'
import type { Fills } from '../signature/face-map'

/** Severity of the rated concerns, on the muscles where each shows; the gravest counts. */
export function severityFills(
  concerns: Schemas['ConcernTableView'][],
  ratings: Record<string, { right: number; left: number }>
): Fills {
  const fills: Fills = {}
  for (const c of concerns) {
    const rating = ratings[c.id]
    if (!rating) continue
    for (const muscle of c.muscles) {
      const fill = (fills[muscle] ??= {})
      fill.right = Math.max(fill.right ?? 0, rating.right / 4)
      fill.left = Math.max(fill.left ?? 0, rating.left / 4)
    }
  }
  return fills
}
