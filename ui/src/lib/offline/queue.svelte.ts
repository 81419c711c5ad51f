/** Everything that a client tells goes through here: kept on this device, and handed in as soon as there is a connection. */
import { api, ask } from '../api/client'
import type { Entry } from './db'
import { listen, oneTab, Outbox, type Kept, type State } from './outbox'
import { accountStore } from './stores'

export const queue = $state<State<Entry>>({ waiting: [], refused: [], said: [], sending: false, held: '' })

let outbox: Outbox<Entry> | null = null

function outboxOf(account: string): Outbox<Entry> {
  return new Outbox<Entry>({
    store: accountStore(account),
    send: async (entries) =>
      (await ask(api.POST('/api/hand-in', { body: { sent_at: new Date().toISOString(), entries } }))).results,
    changed: (state) => Object.assign(queue, state),
    alone: oneTab(`dimbo hand-in ${account}`)
  })
}

/** Whose queue it is; called when a client is known, signed in or not. Returns how to stop listening for a connection. */
export async function begin(account: string): Promise<() => void> {
  outbox = outboxOf(account)
  const stop = listen(outbox, window as never)
  await outbox.read()
  await outbox.deliver()
  return stop
}

/** Keep an entry on this device, to be handed in later. Resolves when it is kept. */
export const put: Keep = async (entry) => {
  // Nothing that somebody tells may be dropped in silence.
  if (!outbox) throw new Error('Nobody is known on this page yet; open it again.')
  await outbox.put(entry)
}

/** Where what a client tells is kept. */
export type Keep = (entry: Entry) => Promise<void>

/** Keep an entry on this device and hand it in as soon as there is a connection. */
export const keepHere: Keep = async (entry) => {
  await put(entry)
  void handIn()
}

export const handIn = async (): Promise<void> => outbox?.deliver()

/** Take a refused entry away, once the client has read why; returns what brings it back. */
export async function forget(entry: Kept<Entry>): Promise<() => Promise<void>> {
  return (await outbox?.forget($state.snapshot(entry) as Kept<Entry>)) ?? (async () => {})
}

export const heard = (): void => outbox?.heard()
