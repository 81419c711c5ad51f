/** Who is signed in, asked once and kept while the page lives. */
import { goto } from '$app/navigation'
import { api, ask, Problem, type Schemas } from './api/client'

export const session = $state<{ me: Schemas['Me'] | null }>({ me: null })

/** The signed-in person; leads to the sign-in page when there is none, and home when the role is another. */
export async function need(role: 'coach' | 'client'): Promise<boolean> {
  try {
    session.me ??= await ask(api.GET('/api/me'))
  } catch (error) {
    if (error instanceof Problem && error.status === 401) {
      await goto(`/sign-in?then=${encodeURIComponent(location.pathname)}`)
      return false
    }
    throw error
  }
  if (session.me.role !== role) {
    await goto(home(session.me.role))
    return false
  }
  return true
}

export const home = (role: string) => (role === 'coach' ? '/clients' : '/today')

export async function leave(): Promise<void> {
  await ask(api.POST('/api/sign-out'))
  session.me = null
  await goto('/sign-in')
}
