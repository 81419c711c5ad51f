/// <reference types="@sveltejs/kit" />
/// <reference no-default-lib="true"/>
/// <reference lib="esnext" />
/// <reference lib="webworker" />
/** Keeps on the device what its owner opens, so that it opens and plays with no network: the pages of clients on every device, those
 * of coaches once one of them was here. Data are not its business. */
import { files, version } from '$service-worker'

const me = globalThis.self as unknown as ServiceWorkerGlobalScope
const SHELF = `dimbo-${version}`
const SHELL = '/'
const LISTS = '/_app/kept.json'
/** Stands on a shelf on which the coach's pages are kept as well. */
const COACH = '/_app/kept-coach'
const PATIENCE_MS = 4000

async function lists(): Promise<{ client: string[]; coach: string[] }> {
  return (await (await fetch(LISTS)).json()) as { client: string[]; coach: string[] }
}

async function keepCoach(shelf: Cache): Promise<void> {
  if (await shelf.match(COACH)) return
  await shelf.addAll((await lists()).coach)
  await shelf.put(COACH, new Response(''))
}

async function install(): Promise<void> {
  const coach = await caches.match(COACH)
  const shelf = await caches.open(SHELF)
  await shelf.addAll([SHELL, ...(await lists()).client, ...files.filter((f) => !/\.(csv|txt)$/.test(f))])
  if (coach) await keepCoach(shelf)
  await me.skipWaiting()
}

me.addEventListener('install', (event) => event.waitUntil(install()))

me.addEventListener('message', (event) => {
  if (event.data === 'coach') event.waitUntil(caches.open(SHELF).then(keepCoach))
})

me.addEventListener('activate', (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((keys) => Promise.all(keys.filter((key) => key !== SHELF).map((key) => caches.delete(key))))
      .then(() => me.clients.claim())
  )
})

/** A page: the newest when the network answers soon, else the one that is kept. */
async function page(request: Request): Promise<Response> {
  const kept = await caches.match(SHELL)
  const patience = new Promise<never>((_, reject) => setTimeout(() => reject(new Error('slow')), PATIENCE_MS))
  try {
    const fresh = await Promise.race([fetch(request), patience])
    return fresh.ok || !kept ? fresh : kept
  } catch {
    return kept ?? Response.error()
  }
}

/** A notice: who and what kind. It opens the page that it is about, in a tab that is open already if there is one. */
me.addEventListener('push', (event) => {
  const told = (event.data?.json() ?? {}) as { title?: string; body?: string; opens?: string; tag?: string }
  event.waitUntil(
    me.registration.showNotification(told.title ?? 'Dimbo', {
      body: told.body ?? '',
      tag: told.tag ?? '',
      data: told.opens ?? '/',
      icon: '/icon-192.png'
    })
  )
})

me.addEventListener('notificationclick', (event) => {
  event.notification.close()
  const to = new URL(String(event.notification.data), me.location.origin)
  event.waitUntil(
    me.clients.matchAll({ type: 'window', includeUncontrolled: true }).then(async (open) => {
      const tab = open.find((c) => new URL(c.url).pathname === to.pathname) ?? open[0]
      if (!tab) return me.clients.openWindow(to)
      await tab.focus()
      return new URL(tab.url).pathname === to.pathname ? tab : tab.navigate(to)
    })
  )
})

me.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== me.location.origin) return
  if (url.pathname.startsWith('/api/') || url.pathname.startsWith('/calendar/')) return
  if (request.mode === 'navigate') event.respondWith(page(request))
  else event.respondWith(caches.match(request).then((kept) => kept ?? fetch(request)))
})
