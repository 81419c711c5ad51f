/** Where an outbox keeps what waits: in the browser's database, by account, or beside a page of the coach. */
import { db, type Entry } from './db'
import type { Kept, Store } from './outbox'

/** The queue of one account. */
export function accountStore(account: string): Store<Entry> {
  return {
    all: async () => (await db()).getAllFromIndex('queue', 'account', account),
    add: async (kept) => void (await (await db()).put('queue', { ...kept, account })),
    change: async (kept) => {
      const change = (await db()).transaction('queue', 'readwrite')
      if (kept.seq !== undefined && (await change.store.get(kept.seq)))
        await change.store.put({ ...kept, account })
      await change.done
    },
    remove: async (kept) => {
      if (kept.seq !== undefined) await (await db()).delete('queue', kept.seq)
    }
  }
}

/** A short list under one name of `localStorage`. Entries of an earlier version, kept without a place, are read as well. */
export function listStore<T extends { id: string }>(name: string, storage: Storage = localStorage): Store<T> {
  const read = (): Kept<T>[] => {
    try {
      const list = JSON.parse(storage.getItem(name) ?? '[]') as (Kept<T> | T)[]
      return list.map((k, seq) => ('entry' in k ? k : { entry: k, seq }))
    } catch {
      return []
    }
  }
  const write = (list: Kept<T>[]) => {
    if (list.length) storage.setItem(name, JSON.stringify(list))
    else storage.removeItem(name)
  }
  return {
    all: () => Promise.resolve(read()),
    add: async (kept) => {
      const list = read()
      const seq = kept.seq ?? Math.max(-1, ...list.map((k) => k.seq ?? 0)) + 1
      write([...list, { ...kept, seq }].sort((a, b) => (a.seq ?? 0) - (b.seq ?? 0)))
    },
    change: async (kept) => write(read().map((k) => (k.seq === kept.seq ? kept : k))),
    remove: async (kept) => write(read().filter((k) => k.seq !== kept.seq))
  }
}
