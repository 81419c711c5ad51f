/** Photographs on their way, in pieces: each file with its progress; a connection that broke goes on where it stopped. */
import { Problem, words } from '../api/client'
import { meaningOf, pauseOf, type Meaning } from '../offline/meaning'

export interface Upload {
  id: string
  name: string
  file: File
  view: string | null
  /** Share of the file that has arrived, 0 to 1. */
  sent: number
  problem: string
}

/** Where files go: a sitting of the coach, or a link of the client. */
export interface Target {
  /** `/api/sittings/{id}` or `/api/taking/{token}` */
  base: string
}

const PIECE = 256 * 1024
const TRIES = 4
const FIRST_PAUSE_MS = 600
/** After these it is worth sending the rest again. */
const WAITS: ReadonlySet<Meaning> = new Set(['unreachable', 'busy'])

export const uploads = $state<{ list: Upload[] }>({ list: [] })

async function call(path: string, init: RequestInit): Promise<Response> {
  let answer: Response
  try {
    answer = await fetch(path, { ...init, headers: { 'x-dimbo': '1' } })
  } catch {
    throw new Problem('no connection', 0)
  }
  if (answer.ok) return answer
  let message = `The server answered ${answer.status}.`
  try {
    message = ((await answer.json()) as { message: string }).message
  } catch {
    // keep the plain message
  }
  throw new Problem(message, answer.status)
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

async function send(to: Target, upload: Upload): Promise<void> {
  const address = `${to.base}/uploads/${upload.id}`
  const total = upload.file.size
  const known = (await (await call(address, {})).json()) as { received: number }
  let at = known.received
  while (at < total) {
    const form = new FormData()
    form.append('data', upload.file.slice(at, at + PIECE))
    const kept = (await (
      await call(`${address}?starts_at=${at}&total=${total}`, { method: 'PUT', body: form })
    ).json()) as { received: number }
    at = kept.received
    upload.sent = total ? at / total : 1
  }
  const done = new FormData()
  done.append('name', upload.name)
  done.append('total', String(total))
  if (upload.view) {
    done.append('view', upload.view)
    done.append('device_time', new Date(upload.file.lastModified || Date.now()).toISOString())
  }
  await call(`${address}/done`, { method: 'POST', body: done })
}

/** Take files in one after the other; one that cannot be used does not stop the others. */
export async function take(
  to: Target,
  files: File[],
  arrived: () => Promise<void>,
  view: string | null = null
): Promise<void> {
  const added = files.map((file) => ({
    id: crypto.randomUUID(),
    name: file.name,
    file,
    view,
    sent: 0,
    problem: ''
  }))
  uploads.list.push(...added)
  for (const one of added) {
    const upload = uploads.list.find((u) => u.id === one.id)
    if (upload) await deliver(to, upload, arrived)
  }
}

export async function deliver(to: Target, upload: Upload, arrived: () => Promise<void>): Promise<void> {
  upload.problem = ''
  for (let attempt = 1; ; attempt++) {
    try {
      await send(to, upload)
      break
    } catch (error) {
      const away = WAITS.has(meaningOf(error))
      if (away && attempt < TRIES) {
        await pause(pauseOf(attempt, FIRST_PAUSE_MS))
        continue
      }
      upload.problem = away
        ? `${upload.name} is here to ${Math.round(upload.sent * 100)} %: no connection, or the server is busy. Send it again; it goes on from there.`
        : words(error)
      return
    }
  }
  drop(upload)
  await arrived()
}

export function drop(upload: Upload): void {
  uploads.list = uploads.list.filter((u) => u.id !== upload.id)
}
