import { Problem, words } from '$lib/api/client'

/** So long after the last touch what a change would do is asked for. */
const REST_MS = 400

/** What a change of settings would do, asked for while it is being made and before it is kept. Make one while a component begins. */
export class Preview<Body, Found> {
  told = $state.raw<Found | null>(null)
  looking = $state(false)
  problem = $state('')
  /** The setting that cannot be as it is. */
  field = $state('')

  constructor(wanted: () => Body | null, look: (body: Body) => Promise<Found>) {
    $effect(() => {
      const body = wanted()
      this.told = null
      this.problem = this.field = ''
      this.looking = body !== null
      if (body === null) return
      let gone = false
      const timer = setTimeout(() => {
        look(body)
          .then(
            (found) => !gone && (this.told = found),
            (error: unknown) => gone || this.refused(error)
          )
          .finally(() => gone || (this.looking = false))
      }, REST_MS)
      return () => {
        gone = true
        clearTimeout(timer)
      }
    })
  }

  refused(error: unknown) {
    this.problem = words(error)
    this.field = error instanceof Problem ? (error.field ?? '') : ''
  }
}
