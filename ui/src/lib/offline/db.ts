/** What a client's device keeps for itself: the days ahead, and what waits to be handed in. By account, because a phone
 * may be shared. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Schemas } from '../api/client'

export type Entry = Schemas['HandInRequest']['entries'][number]
export type Days = Schemas['DaysView']

/** An entry in the order in which it was made; `refused` holds the server's words once it would not take it. */
export interface Waiting {
  seq?: number
  account: string
  entry: Entry
  refused?: string
}

interface Kept extends DBSchema {
  queue: { key: number; value: Waiting; indexes: { account: string } }
  days: { key: string; value: Days }
  plays: { key: string; value: unknown }
}

let opened: Promise<IDBPDatabase<Kept>> | null = null

export function db(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('dimbo', 1, {
    upgrade(made) {
      const queue = made.createObjectStore('queue', { keyPath: 'seq', autoIncrement: true })
      queue.createIndex('account', 'account')
      made.createObjectStore('days')
      made.createObjectStore('plays')
    }
  })
  return opened
}
