/** How the sheet's columns are set, in px: what stands before the first week, and the width of each of so many weeks. */
export const LEAD = 228

const ROOM = 770
const [NARROWEST, WIDEST] = [64, 186]

export const columnOf = (weeks: number) =>
  Math.max(NARROWEST, Math.min(WIDEST, Math.floor(ROOM / Math.max(1, weeks))))

/** So many weeks stand on the page whole; more are looked at sideways. */
export const WHOLE = Math.floor(ROOM / NARROWEST)
