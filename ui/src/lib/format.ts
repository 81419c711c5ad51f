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

/** How this reader's own clock is written: 18:30, or 6:30 pm where twelve hours are counted twice. */
const READERS: Intl.DateTimeFormatOptions = new Intl.DateTimeFormat(undefined, {
  hour: 'numeric'
}).resolvedOptions().hour12
  ? { hour: 'numeric', minute: '2-digit', hourCycle: 'h12' }
  : { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }

/** The clock at a moment, in a zone or where this device is. */
export const timeAt = (iso: string, zone?: string | null, style = READERS): string =>
  new Date(iso).toLocaleTimeString('en-GB', { ...style, ...(zone ? { timeZone: zone } : {}) })

/** A time of day, hour:minute, by the reader's own clock. */
export const atClock = (time: string, style = READERS): string =>
  timeAt(`2000-01-01T${time.slice(0, 5)}:00Z`, 'UTC', style)

/** A moment as a day and a time: 12 Nov, 18:30. The year stands where it is not this one. */
export const momentAt = (iso: string, zone?: string | null): string => {
  const on = here(new Date(iso), zone)
  const year = on.slice(0, 4) === here().slice(0, 4) ? '' : ` ${on.slice(0, 4)}`
  return `${shortDay(on)}${year}, ${timeAt(iso, zone)}`
}

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
