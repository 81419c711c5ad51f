import { api } from '$lib/api/client'
import { loaded } from '$lib/api/loaded'
import type { PageLoad } from './$types'

export const load: PageLoad = async ({ params, url }) => {
  const path = { group_id: params.id }
  return { group: await loaded(api.GET('/api/groups/{group_id}', { params: { path } }), url) }
}
