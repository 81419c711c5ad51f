import { describe, expect, test } from 'vitest'
import { Problem } from '../api/client'
import { meaningOf, pauseOf } from './meaning'
import { listen, Outbox, type Held, type Kept, type Result, type State, type Store } from './outbox'
import { listStore } from './stores'

interface Told {
  id: string
  text?: string
}

/** A store in memory that hands out copies, as a database does, and may have no room. */
class Memory implements Store<Told> {
  rows: Kept<Told>[] = []
  full = false
  #next = 1
  all = async () => structuredClone(this.rows)
  async add(kept: Kept<Told>) {
    if (this.full) throw new DOMException('no room', 'QuotaExceededError')
    this.rows.push({ ...structuredClone(kept), seq: kept.seq ?? this.#next++ })
    this.rows.sort((a, b) => (a.seq ?? 0) - (b.seq ?? 0))
  }
  async change(kept: Kept<Told>) {
    this.rows = this.rows.map((k) => (k.seq === kept.seq ? structuredClone(kept) : k))
  }
  async remove(kept: Kept<Told>) {
    this.rows = this.rows.filter((k) => k.seq !== kept.seq)
  }
}

/** A server that keeps each id once, and whose moods are set by the test. */
class Server {
  got: string[] = []
  deliveries: string[][] = []
  mood: (entries: Told[]) => void = () => {}
  verdict: (entry: Told) => Partial<Result> = () => ({})
  send = async (entries: Told[]): Promise<Result[]> => {
    await new Promise((done) => setTimeout(done))
    this.deliveries.push(entries.map((e) => e.id))
    this.mood(entries)
    return entries.map((e) => {
      const had = this.got.includes(e.id)
      const result: Result = { id: e.id, state: had ? 'had' : 'kept', said: [], ...this.verdict(e) }
      if (result.state === 'kept') this.got.push(e.id)
      return result
    })
  }
}

function desk(
  more: {
    most?: number
    server?: Server
    store?: Memory
    alone?: <R>(w: () => Promise<R>) => Promise<R>
  } = {}
) {
  const { server = new Server(), store = new Memory(), ...rest } = more
  const clock = { at: 1_000_000 }
  const seen: State<Told>[] = []
  const given = {
    store,
    send: server.send,
    changed: (s: State<Told>) => seen.push(s),
    now: () => clock.at,
    ...rest
  }
  return { server, store, clock, seen, outbox: new Outbox<Told>(given) }
}

const fail =
  (status: number, words = 'no') =>
  () => {
    throw new Problem(words, status)
  }
async function keep(outbox: Outbox<Told>, ...ids: string[]) {
  for (const id of ids) await outbox.put({ id })
}
const ids = (kept: Kept<Told>[]) => kept.map((k) => k.entry.id)

describe('order and once', () => {
  test('everything arrives, the oldest first, in deliveries of at most so many', async () => {
    const { outbox, server, store } = desk({ most: 2 })
    await keep(outbox, 'a', 'b', 'c', 'd', 'e')
    await outbox.deliver()
    expect(server.deliveries).toEqual([['a', 'b'], ['c', 'd'], ['e']])
    expect(server.got).toEqual(['a', 'b', 'c', 'd', 'e'])
    expect(store.rows).toEqual([])
    expect(outbox.state).toMatchObject({ waiting: [], held: '', sending: false })
  })

  test('asked twice at once it is sent once', async () => {
    const { outbox, server } = desk()
    await keep(outbox, 'a')
    await Promise.all([outbox.deliver(), outbox.deliver(), outbox.deliver()])
    expect(server.deliveries).toEqual([['a']])
  })

  test('what is put while it sends goes in the same round, behind what was there', async () => {
    const { outbox, server } = desk({ most: 1 })
    await keep(outbox, 'a', 'b')
    const delivered = outbox.deliver()
    await keep(outbox, 'c')
    await delivered
    expect(server.got).toEqual(['a', 'b', 'c'])
  })

  test('an answer that was lost is asked for again, and counts once', async () => {
    const { outbox, server, store } = desk()
    await keep(outbox, 'a')
    const { send } = server
    const lossy = new Outbox<Told>({
      store,
      send: async (entries) => {
        await send(entries)
        throw new Problem('the connection broke', 0)
      },
      changed: () => {}
    })
    await lossy.deliver()
    expect(lossy.state).toMatchObject({ held: 'offline' })
    expect(ids(lossy.state.waiting)).toEqual(['a'])
    const next = new Outbox<Told>({ store, send, changed: () => {} })
    await next.deliver()
    expect(server.got).toEqual(['a'])
    expect(store.rows).toEqual([])
    expect(next.state.said).toEqual([])
  })

  test('a page that was closed leaves what waits to the next one', async () => {
    const { outbox, store } = desk()
    await keep(outbox, 'a', 'b')
    const later = desk({ store })
    await later.outbox.read()
    expect(ids(later.outbox.state.waiting)).toEqual(['a', 'b'])
  })
})

describe('what an answer means', () => {
  test.each([
    [0, 'unreachable'],
    [401, 'signed-out'],
    [403, 'signed-out'],
    [404, 'refused'],
    [409, 'refused'],
    [413, 'refused'],
    [422, 'refused'],
    [429, 'busy'],
    [500, 'fault'],
    [502, 'busy'],
    [503, 'busy'],
    [504, 'busy']
  ])('%i is %s', (status, meaning) => expect(meaningOf(new Problem('', status))).toBe(meaning))

  test('what is no answer at all is an error of ours, and not swallowed', () => {
    expect(() => meaningOf(new TypeError('a slip'))).toThrow('a slip')
  })

  test('an entry that is refused is set aside with the server’s words, and the others go on', async () => {
    const { outbox, server } = desk()
    await keep(outbox, 'a', 'b', 'c')
    server.mood = (entries) => {
      if (entries.some((e) => e.id === 'b')) throw new Problem('Nobody can read b.', 422)
    }
    await outbox.deliver()
    expect(server.got).toEqual(['a', 'c'])
    expect(outbox.state.refused).toMatchObject([{ entry: { id: 'b' }, refused: 'Nobody can read b.' }])
    expect(outbox.state).toMatchObject({ waiting: [], held: '' })
    const before = server.deliveries.length
    await outbox.deliver()
    expect(server.deliveries).toHaveLength(before)
  })

  test('one that trips the server up rests, twice as long each time, and the others go on', async () => {
    const { outbox, server, clock } = desk()
    await keep(outbox, 'a', 'b')
    server.mood = (entries) => {
      if (entries.some((e) => e.id === 'a')) throw new Problem('Something broke.', 500)
    }
    await outbox.deliver()
    expect(server.got).toEqual(['b'])
    expect(outbox.state).toMatchObject({ held: 'server', waiting: [{ entry: { id: 'a' }, tries: 1 }] })
    const rests: number[] = []
    for (let i = 0; i < 8; i++) {
      rests.push((outbox.state.waiting[0]?.after ?? 0) - clock.at)
      clock.at += rests.at(-1) ?? 0
      await outbox.deliver()
    }
    expect(rests).toEqual([30, 60, 120, 240, 480, 900, 900, 900].map((s) => s * 1000))
    server.mood = () => {}
    clock.at += 900_000
    await outbox.deliver()
    expect(server.got).toEqual(['b', 'a'])
  })

  test.each([
    [0, 'offline'],
    [503, 'server'],
    [429, 'server'],
    [401, 'signed-out'],
    [403, 'signed-out']
  ] as [number, Held][])(
    'after %i all of it waits, in its order, and it is said why',
    async (status, held) => {
      const { outbox, server } = desk()
      await keep(outbox, 'a', 'b')
      server.mood = fail(status)
      await outbox.deliver()
      expect(outbox.state).toMatchObject({ held, sending: false })
      expect(ids(outbox.state.waiting)).toEqual(['a', 'b'])
      expect(server.deliveries).toHaveLength(1)
      server.mood = () => {}
      await outbox.deliver()
      expect(server.got).toEqual(['a', 'b'])
      expect(outbox.state.held).toBe('')
    }
  )

  test('a server that does not answer is left in peace by the clock, not by the client’s own wish', async () => {
    const { outbox, server, clock } = desk()
    await keep(outbox, 'a')
    server.mood = fail(503)
    await outbox.deliver()
    await outbox.tick()
    expect(server.deliveries).toHaveLength(1)
    clock.at += pauseOf(1)
    await outbox.tick()
    expect(server.deliveries).toHaveLength(2)
    clock.at += pauseOf(1)
    await outbox.tick()
    expect(server.deliveries).toHaveLength(2)
    await outbox.deliver()
    expect(server.deliveries).toHaveLength(3)
  })

  test('what the server says of an entry that it takes is kept until it was heard', async () => {
    const { outbox, server } = desk()
    server.verdict = (e) => ({ said: [`About ${e.id}.`] })
    await keep(outbox, 'a', 'b')
    await outbox.deliver()
    expect(outbox.state.said).toEqual(['About a.', 'About b.'])
    outbox.heard()
    expect(outbox.state.said).toEqual([])
  })
})

describe('two tabs', () => {
  /** A lock as browsers have it: one after the other. */
  const lock = () => {
    let last: Promise<unknown> = Promise.resolve()
    return <R>(work: () => Promise<R>): Promise<R> => {
      const mine = last.then(work, work)
      last = mine
      return mine
    }
  }

  test('send each entry once', async () => {
    const [server, store, alone] = [new Server(), new Memory(), lock()]
    const [one, two] = [desk({ server, store, alone }), desk({ server, store, alone })]
    await keep(one.outbox, 'a', 'b')
    await keep(two.outbox, 'c')
    await Promise.all([one.outbox.deliver(), two.outbox.deliver()])
    expect(server.deliveries).toEqual([['a', 'b', 'c']])
    await two.outbox.read()
    expect(two.outbox.state.waiting).toEqual([])
  })

  test('without locks nothing comes back that the other has finished with', async () => {
    const [server, store] = [new Server(), new Memory()]
    const [one, two] = [desk({ server, store }), desk({ server, store })]
    await keep(one.outbox, 'a')
    server.verdict = () => ({ state: server.deliveries.length > 1 ? 'refused' : 'kept' })
    await Promise.all([one.outbox.deliver(), two.outbox.deliver()])
    expect(store.rows).toEqual([])
    expect(server.got).toEqual(['a'])
  })
})

describe('a device without room', () => {
  test('hands in what it could not keep, and says that the page must stay open until then', async () => {
    const { outbox, server, store } = desk()
    store.full = true
    server.mood = fail(0)
    await keep(outbox, 'a')
    expect(outbox.state.held).toBe('storage')
    await outbox.deliver()
    expect(ids(outbox.state.waiting)).toEqual(['a'])
    server.mood = () => {}
    await outbox.deliver()
    expect(server.got).toEqual(['a'])
    expect(outbox.state).toMatchObject({ waiting: [], held: '' })
  })

  test('keeps the server’s words of what was refused', async () => {
    const { outbox, server, store } = desk()
    store.full = true
    server.mood = fail(422, 'Not like this.')
    await keep(outbox, 'a')
    await outbox.deliver()
    expect(outbox.state.refused).toMatchObject([{ refused: 'Not like this.' }])
  })
})

test('a refused entry is taken away once it was read, and can be brought back', async () => {
  const { outbox, server } = desk()
  await keep(outbox, 'a')
  server.mood = fail(422, 'Not like this.')
  await outbox.deliver()
  const [refused] = outbox.state.refused
  const back = await outbox.forget(refused as Kept<Told>)
  expect(outbox.state.refused).toEqual([])
  await back()
  expect(outbox.state.refused).toMatchObject([{ entry: { id: 'a' }, refused: 'Not like this.' }])
})

test('what something newer says in its place is dropped', async () => {
  const { outbox, server } = desk()
  await keep(outbox, 'a', 'b')
  await outbox.drop((e) => e.id === 'a')
  await outbox.deliver()
  expect(server.got).toEqual(['b'])
})

test('it listens for a connection, for being looked at and to the clock, until it is stopped', () => {
  const heard = new Map<string, () => void>()
  const asked: string[] = []
  const on = {
    addEventListener: (t: string, f: () => void) => void heard.set(t, f),
    removeEventListener: (t: string) => void heard.delete(t)
  }
  const page = {
    ...on,
    document: { ...on, visibilityState: 'hidden' },
    setInterval: (f: () => void) => (heard.set('clock', f), 7),
    clearInterval: (id: number) => void (id === 7 && heard.delete('clock'))
  }
  const stop = listen(
    { deliver: async () => void asked.push('deliver'), tick: async () => void asked.push('tick') },
    page
  )
  heard.get('visibilitychange')?.()
  expect(asked).toEqual([])
  page.document.visibilityState = 'visible'
  for (const what of ['visibilitychange', 'online', 'clock']) heard.get(what)?.()
  expect(asked).toEqual(['deliver', 'deliver', 'tick'])
  stop()
  expect([...heard.keys()]).toEqual([])
})

describe('a list beside a page', () => {
  const shelf = () => {
    const kept = new Map<string, string>()
    return {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => void kept.set(k, v),
      removeItem: (k: string) => void kept.delete(k)
    } as unknown as Storage
  }

  test('keeps order, and what an earlier version left there is read', async () => {
    const storage = shelf()
    storage.setItem('list', JSON.stringify([{ id: 'old' }]))
    const store = listStore<Told>('list', storage)
    await store.add({ entry: { id: 'a' } })
    await store.add({ entry: { id: 'b' } })
    expect(ids(await store.all())).toEqual(['old', 'a', 'b'])
    const [old, a] = await store.all()
    await store.remove(old as Kept<Told>)
    await store.change({ ...(a as Kept<Told>), tries: 2 })
    await store.change({ entry: { id: 'gone' }, seq: 99 })
    expect(await store.all()).toMatchObject([{ entry: { id: 'a' }, tries: 2 }, { entry: { id: 'b' } }])
  })

  test('what cannot be read is an empty list', async () => {
    const storage = shelf()
    storage.setItem('list', '{')
    expect(await listStore<Told>('list', storage).all()).toEqual([])
  })
})
