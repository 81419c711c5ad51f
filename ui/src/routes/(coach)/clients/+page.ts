import { api } from '$lib/api/client'
import { loaded } from '$lib/api/loaded'
import type { PageLoad } from './$types'

export const load: PageLoad = async ({ url }) => ({ rows: await loaded(api.GET('/api/clients'), url) })
