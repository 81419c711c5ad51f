import { api } from '$lib/api/client'
import { loaded } from '$lib/api/loaded'
import type { PageLoad } from './$types'

export const load: PageLoad = async ({ depends, url }) => {
  depends('dimbo:templates')
  return { rows: await loaded(api.GET('/api/templates'), url) }
}
