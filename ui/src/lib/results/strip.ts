/** What a time strip shows of each sitting. */
import type { Schemas } from '$lib/api/client'
import { signed } from '$lib/format'

export type Picture = Pick<Schemas['ShownPhotograph'], 'id' | 'width' | 'height' | 'flipped' | 'points'>

export interface StripSitting {
  id: string
  day: string
  photo: Picture | null
  /** The value of the chosen reading with its band, or why there is none. */
  lines: string[]
  faint: boolean
}

/** A value with its band as two short lines: a difference says which side has more. */
export function valueLines(
  value: { value: number; band: number; real: boolean; excluded: boolean } | undefined,
  unit: string,
  paired: boolean
): string[] {
  if (!value) return ['not read']
  if (value.excluded) return [`${amount(value.value, unit, paired)}`, 'not comparable']
  const side = paired && value.real ? (value.value > 0 ? ' left more' : ' right more') : ''
  return [`${amount(value.value, unit, paired)}${side}`, `± ${value.band.toFixed(1)}`]
}

const amount = (value: number, unit: string, paired: boolean) =>
  `${paired ? signed(value) : value.toFixed(1)} ${unit}`.trim()
