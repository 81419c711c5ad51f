/** What a client's device keeps for itself: the days ahead, and what waits to be handed in. By account, because a phone
 * may be shared. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Schemas } from '../api/client'

export type Entry = Schemas['HandInRequest']['entries'][number]
export type Days = Schemas['DaysView']
export type Course = Schemas['OwnCourseView']

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
  /** The client's own course as it was when there last was a connection. */
  courses: { key: string; value: Course }
}

let opened: Promise<IDBPDatabase<Kept>> | null = null

export function db(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('dimbo', 2, {
    upgrade(made, from) {
      if (from < 1) {
        const queue = made.createObjectStore('queue', { keyPath: 'seq', autoIncrement: true })
        queue.createIndex('account', 'account')
        made.createObjectStore('days')
        made.createObjectStore('plays')
      }
      if (from < 2) made.createObjectStore('courses')
    },
    blocking() {
      // A newer version of the application wants to open it in another tab: make room, what is kept stays.
      void opened?.then((kept) => kept.close())
      opened = null
    }
  })
  return opened
}
