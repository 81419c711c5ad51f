/** Who is signed in, asked once and kept while the page lives; a client is also remembered by the device, because
 * practice must open without a connection. */
import { goto } from '$app/navigation'
import { api, ask, Problem, type Schemas } from '$lib/api/client'
import { finishLeft } from '$lib/parts/unfinished'
import { finishAll, undo } from '$lib/parts/undo.svelte'
import { bindAgain } from '$lib/messages/devices'
import { db } from '$lib/offline/db'
import { forget as forgetShown } from '$lib/offline/shown.svelte'

export const session = $state<{ me: Schemas['Me'] | null }>({ me: null })
/** Whether it is a coach or an owner: what holds for the whole practice, takes clients on, or takes data out is not an assistant's. */
export const isSenior = () => session.me?.standing !== 'assistant'
const KNOWN = 'dimbo-me'

function remembered(): Schemas['Me'] | null {
  const text = localStorage.getItem(KNOWN)
  return text ? (JSON.parse(text) as Schemas['Me']) : null
}

/** The signed-in person; leads to the sign-in page when there is none, and home when the role is another. */
export async function need(role: 'coach' | 'client'): Promise<boolean> {
  try {
    if (!session.me) {
      session.me = await ask(api.GET('/api/me'))
      undo.person = session.me.id
      await finishLeft(session.me.id)
      void bindAgain(session.me.id)
    }
    if (session.me.role === 'client') localStorage.setItem(KNOWN, JSON.stringify(session.me))
    else localStorage.removeItem(KNOWN)
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    if (error.status === 401) return signIn()
    const known = remembered()
    if (error.status !== 0 || role !== 'client' || known?.role !== 'client') throw error
    session.me = known
  }
  if (session.me.role !== role) {
    await goto(home(session.me.role))
    return false
  }
  return true
}

/** To the sign-in page and back here; what waits on this device stays. */
export async function signIn(): Promise<false> {
  session.me = null
  await goto(`/sign-in?then=${encodeURIComponent(location.pathname)}`)
  return false
}

export const home = (role: string) => (role === 'coach' ? '/desk' : '/today')

/** The account is gone for good: nothing of it stays on this device either, not even what waits. */
export async function vanish(): Promise<void> {
  const account = session.me?.client_id
  if (account) {
    const kept = await db()
    const waiting = await kept.getAllKeysFromIndex('queue', 'account', account)
    await Promise.all([
      kept.delete('days', account),
      kept.delete('courses', account),
      kept.delete('letters', account),
      kept.delete('plays', account),
      forgetShown(account),
      ...waiting.map((key) => kept.delete('queue', key))
    ])
    for (const store of [localStorage, sessionStorage])
      for (const key of Object.keys(store)) if (key.includes(account)) store.removeItem(key)
  }
  session.me = null
  localStorage.removeItem(KNOWN)
}

/** Sign out. What waits to be handed in stays for the next sign-in; the days and the course that were kept go. */
export async function leave(): Promise<void> {
  await finishAll()
  await ask(api.POST('/api/sign-out'))
  const account = session.me?.client_id
  if (account) {
    const kept = await db()
    await Promise.all([
      kept.delete('days', account),
      kept.delete('courses', account),
      kept.delete('letters', account),
      forgetShown(account)
    ])
  }
  session.me = null
  localStorage.removeItem(KNOWN)
  await goto('/sign-in')
}
