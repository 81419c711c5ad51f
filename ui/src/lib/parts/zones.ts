/** Time zones that this browser knows. */
export const ZONES: string[] = Intl.supportedValuesOf('timeZone')
