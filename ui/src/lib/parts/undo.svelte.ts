/**
 * What was done with one touch and can be taken back: for a while it is offered in place. Some of it is done at once and
 * taken back by asking the server; some, which the server cannot take back, is only done when the time is over or the page
 * goes.
 */
import { attempt, words } from '$lib/api/client'
import { leaveBehind, type Request } from './unfinished'

/** How long it is offered, longer while somebody points at it. */
const OFFERED_MS = 12_000
const TICK_MS = 250

export interface Offer {
  id: number
  /** What happened, as a sentence. */
  says: string
  /** Milliseconds for which it can still be taken back. */
  left: number
  held: boolean
  problem: string
  /** It could not be done after all: what is left is to go back to it. */
  failed: boolean
  takeBack: () => Promise<unknown> | void
  /** What is still to be done when the time is over; `leaving` when the page goes and nobody waits for the answer. */
  act?: (leaving: boolean) => Promise<unknown>
  /** The same as a request, for the next page, if this one goes too soon. */
  request?: Request
  /** The matter that waits, so that a page can show it as decided. */
  key: string
}

export const undo = $state<{ offers: Offer[]; person: string }>({ offers: [], person: '' })
let made = 0
let timer: ReturnType<typeof setInterval> | undefined

function drop(id: number): void {
  undo.offers = undo.offers.filter((o) => o.id !== id)
  if (!undo.offers.length) clearInterval(timer)
}

async function over(offer: Offer): Promise<void> {
  const act = offer.act
  if (!act) {
    if (!offer.failed) drop(offer.id)
    return
  }
  delete offer.act
  try {
    await act(false)
    drop(offer.id)
  } catch (error) {
    offer.problem = `Not done: ${words(error)}`
    offer.failed = true
    offer.left = OFFERED_MS
  }
}

function tick(): void {
  for (const offer of undo.offers) {
    if (offer.held) continue
    offer.left -= TICK_MS
    if (offer.left <= 0) void over(offer)
  }
}

function add(offer: Pick<Offer, 'says' | 'takeBack' | 'act' | 'key' | 'request'>): void {
  undo.offers = [
    { ...offer, id: ++made, left: OFFERED_MS, held: false, problem: '', failed: false },
    ...undo.offers
  ]
  clearInterval(timer)
  timer = setInterval(tick, TICK_MS)
}

/** It is done; `takeBack` undoes it at the server. */
export function offer(says: string, takeBack: () => Promise<unknown>): void {
  add({ says, takeBack, key: '' })
}

/** It is done once nobody has taken it back; until then `waits(key)` says so. */
export function later(
  key: string,
  says: string,
  act: (leaving: boolean) => Promise<unknown>,
  request: Request,
  takeBack: () => Promise<unknown> | void = () => undefined
): void {
  add({ says, takeBack, act, key, request: $state.snapshot(request) as Request })
}

export const waits = (key: string): boolean => undo.offers.some((o) => o.key === key && o.act)

/** Do what waits now, as when the same matter is decided again. */
export async function settle(key: string): Promise<void> {
  for (const o of undo.offers.filter((x) => x.key === key && x.act)) await over(o)
}

/** Do everything that waits now, as before somebody signs out: nobody else may do it in their name. */
export async function finishAll(): Promise<void> {
  for (const o of undo.offers.filter((x) => x.act)) await over(o)
  undo.offers = []
}

export async function takeBack(offer: Offer): Promise<void> {
  delete offer.act
  await attempt(
    (why) => (offer.problem = why),
    async () => {
      await offer.takeBack()
      drop(offer.id)
    }
  )
}

export function close(offer: Offer): void {
  if (offer.act) void over(offer)
  else drop(offer.id)
}

if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    const waiting = undo.offers.filter((o) => o.act)
    leaveBehind(
      undo.person,
      waiting.flatMap((o) => (o.request ? [$state.snapshot(o.request) as Request] : []))
    )
    for (const o of waiting) void o.act?.(true)
    undo.offers = []
    clearInterval(timer)
  })
