/** Notices on this device: asked for in the browser, kept at the server as long as the sign-in lasts. */
import { api, ask, type Schemas } from '$lib/api/client'

const OWN = 'dimbo-notices'
type Device = Schemas['DeviceRequest']

/** Whether this browser can show notices, and if not, why. */
export function can(standIn: boolean): 'yes' | 'no' | 'home screen' | 'refused' {
  if (standIn) return 'yes'
  if (!('serviceWorker' in navigator) || !('PushManager' in window) || !('Notification' in window)) {
    const touch = navigator.maxTouchPoints > 0
    return touch && !matchMedia('(display-mode: standalone)').matches ? 'home screen' : 'no'
  }
  return Notification.permission === 'denied' ? 'refused' : 'yes'
}

/** What an account switched on here; a device may be shared. */
export function own(account: string): Device | null {
  const text = localStorage.getItem(OWN)
  const kept = text ? (JSON.parse(text) as { account: string; device: Device }) : null
  return kept?.account === account ? kept.device : null
}

const text = (bytes: ArrayBuffer | null) =>
  btoa(String.fromCharCode(...new Uint8Array(bytes ?? new ArrayBuffer(0))))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '')

const bytes = (base64: string) =>
  Uint8Array.from(atob(base64.replaceAll('-', '+').replaceAll('_', '/')), (c) => c.charCodeAt(0))

async function subscribed(key: string): Promise<Omit<Device, 'name'> | null> {
  if ((await Notification.requestPermission()) !== 'granted') return null
  const worker = await navigator.serviceWorker.ready
  const made = await worker.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: bytes(key) })
  return { endpoint: made.endpoint, p256dh: text(made.getKey('p256dh')), auth: text(made.getKey('auth')) }
}

/** Switch notices on; false when the person said no to the browser. */
export async function on(key: Schemas['PushKey'], account: string): Promise<boolean> {
  const made = key.stand_in ? await ask(api.POST('/api/stand-in-device')) : await subscribed(key.key)
  if (!made) return false
  const device = { ...made, name: name() }
  await ask(api.PUT('/api/my-devices', { body: device }))
  localStorage.setItem(OWN, JSON.stringify({ account, device }))
  return true
}

/** Switch them off, at the server first: what stays at the browser then gets nothing. */
export async function off(account: string): Promise<void> {
  const device = own(account)
  localStorage.removeItem(OWN)
  if (device) await ask(api.POST('/api/my-devices/take-off', { body: { endpoint: device.endpoint } }))
}

/** Bind this device to the sign-in that holds now: notices end with each, and come back with the next of the same person. */
export async function bindAgain(account: string): Promise<void> {
  const device = own(account)
  if (device) await ask(api.PUT('/api/my-devices', { body: device })).catch(() => undefined)
}

/** What this device is called in a list, from what the browser says of itself. */
function name(): string {
  const told = navigator.userAgent
  return /iPhone|iPad|Android|Windows|Mac|Linux/.exec(told)?.[0] ?? 'this device'
}
