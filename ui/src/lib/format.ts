/** Numbers and dates as Dimbo writes them. */

export function clock(seconds: number): string {
  const whole = Math.round(seconds)
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}

/** A length of time as it is said: 14 min 37 s. */
export function inWords(seconds: number): string {
  const whole = Math.round(seconds)
  const [minutes, rest] = [Math.floor(whole / 60), whole % 60]
  return [minutes && `${minutes} min`, (rest || !minutes) && `${rest} s`].filter(Boolean).join(' ')
}

/** A calendar day, read as that date everywhere. */
export function day(iso: string): Date {
  return new Date(`${iso}T12:00:00Z`)
}

/** The calendar day that it is now where this device is, year-month-day. Put together from its numbers: what a locale
 * writes differs between browsers and is for people to read, never for machines. */
export function here(at = new Date(), zone?: string | null): string {
  if (zone) {
    const parts = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      year: 'numeric',
      month: '2-digit',
      day: '2-digit'
    }).formatToParts(at)
    const part = (type: string) => parts.find((p) => p.type === type)?.value ?? ''
    return `${part('year').padStart(4, '0')}-${part('month')}-${part('day')}`
  }
  const two = (n: number) => String(n).padStart(2, '0')
  return `${String(at.getFullYear()).padStart(4, '0')}-${two(at.getMonth() + 1)}-${two(at.getDate())}`
}

/** The clock at a moment, in a zone or where this device is. */
export const timeAt = (iso: string, zone?: string | null): string =>
  new Date(iso).toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    ...(zone ? { timeZone: zone } : {})
  })

const make = (options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', ...options })
const short = make({ day: 'numeric', month: 'short' })
const long = make({ weekday: 'long', day: 'numeric', month: 'long' })
const full = make({ day: 'numeric', month: 'long', year: 'numeric' })
const weekday = make({ weekday: 'short', day: 'numeric' })

export const shortDay = (iso: string) => short.format(day(iso))
export const longDay = (iso: string) => long.format(day(iso))
export const longDate = (iso: string) => full.format(day(iso))
export const weekDay = (iso: string) => weekday.format(day(iso))

export function addDays(iso: string, days: number): string {
  return new Date(day(iso).getTime() + days * 86_400_000).toISOString().slice(0, 10)
}

/** Whole days from one date to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((day(to).getTime() - day(from).getTime()) / 86_400_000)
}

/** A signed length, with a real minus sign. */
export function signed(value: number, digits = 1): string {
  const text = Math.abs(value).toFixed(digits)
  return Number(text) === 0 ? text : `${value < 0 ? '−' : '+'}${text}`
}

/** Sessions done, with a tenth only where one was done partly. */
export function share(done: number): string {
  return Number.isInteger(Math.round(done * 10) / 10) ? String(Math.round(done)) : done.toFixed(1)
}
