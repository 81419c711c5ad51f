/** What a client's device keeps for itself: the days ahead, and what waits to be handed in. By account, because a phone
 * may be shared. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Schemas } from '../api/client'

export type Entry = Schemas['HandInRequest']['entries'][number]
export type Days = Schemas['DaysView']
export interface Course {
  course: Schemas['OwnCourseView']
  results: Schemas['OwnResultsView']
}

/** An entry in the order in which it was made; `refused` holds the server's words once it would not take it. */
export interface Waiting {
  seq?: number
  account: string
  entry: Entry
  refused?: string
  /** How often the server could not take it for a fault of its own, and the moment (ms) before which it is not tried again. */
  tries?: number
  after?: number
}

/** The days as they were kept, and how far this device's clock was off then (ms to be added to it). */
export interface KeptDays {
  view: Days
  off: number
}

/** A session that was begun and not handed in: written as it is played, so that whatever ends the page loses nothing. */
export interface Play {
  /** Of the log that it becomes; the same however often it is picked up. */
  id: string
  account: string
  day: string
  part: Days['days'][number]['parts'][number]
  session: Days['sessions'][string]
  /** The log of an earlier part of this session that was handed in, and what of it is done. */
  continues: string | null
  before: number[]
  at: number
  stretches: Stretch[]
  stays: { item: number; stay: Stay }[]
  skips: [number, string][]
  hurt: [string, Pain][]
  /** What is left out with it, and why; absent in plays of an earlier version. */
  out?: [string, string][]
  eased: string[]
  spent: [string, Sides][]
  worked: [string, Sides][]
  finished: boolean
  /** When it was written last (ms); the newest of two copies holds. */
  written: number
}

type Log = Extract<Entry, { kind: 'log' }>
export type Stretch = NonNullable<Log['stretches']>[number]
export type Stay = NonNullable<Log['items'][number]['stays']>[number]
export type Sides = Record<'right' | 'left', number>
export interface Pain {
  side: 'right' | 'left' | 'both'
  level: number
  where: string
  since: string
}

interface Kept extends DBSchema {
  queue: { key: number; value: Waiting; indexes: { account: string } }
  days: { key: string; value: KeptDays }
  plays: { key: string; value: Play }
  /** The client's own course as it was when there last was a connection. */
  courses: { key: string; value: Course }
  /** Letters that the client was sent. */
  letters: { key: string; value: Schemas['OwnLetter'][] }
  /** Clips and pictures of the exercises ahead, by account and name. */
  shown: { key: string; value: Blob }
}

let opened: Promise<IDBPDatabase<Kept>> | null = null

export function db(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('dimbo', 5, {
    upgrade(made, from) {
      if (from < 1) {
        const queue = made.createObjectStore('queue', { keyPath: 'seq', autoIncrement: true })
        queue.createIndex('account', 'account')
        made.createObjectStore('days')
        made.createObjectStore('plays')
      }
      if (from >= 2 && from < 5) made.deleteObjectStore('courses') // a course is kept with its results now
      if (from < 5) made.createObjectStore('courses')
      if (from < 5) made.createObjectStore('letters')
      if (from < 4) made.createObjectStore('shown')
      if (from === 1 || from === 2) {
        // Days and plays are kept in another shape now; both are read from the server again.
        made.deleteObjectStore('days')
        made.createObjectStore('days')
        made.deleteObjectStore('plays')
        made.createObjectStore('plays')
      }
    },
    blocking() {
      // A newer version of the application wants to open it in another tab: make room, what is kept stays.
      void opened?.then((kept) => kept.close())
      opened = null
    }
  })
  return opened
}
