/** What is chosen on a page is kept in its address: a reload, a link and the way back show the same again. */
import { replaceState } from '$app/navigation'

/** What the address says now of `key`. */
export const fromAddress = (key: string, otherwise = ''): string =>
  new URLSearchParams(location.search).get(key) ?? otherwise

/** Keep what is chosen in the address, without a step of the way back for each key; what is empty is left out. */
export function keepInAddress(chosen: Record<string, string>): void {
  const url = new URL(location.href)
  for (const [key, value] of Object.entries(chosen)) {
    if (value) url.searchParams.set(key, value)
    else url.searchParams.delete(key)
  }
  if (url.href !== location.href) replaceState(url, {})
}
