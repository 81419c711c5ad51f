/** Photographs on their way: each file with its progress, sent again safely because its id is made here. */
import { Problem } from '../api/client'

export interface Upload {
  id: string
  name: string
  file: File
  sent: number
  problem: string
}

export const uploads = $state<{ list: Upload[] }>({ list: [] })

/** Send one file with progress (fetch cannot tell it). Resolves when the server has kept it. */
function send(sitting: string, upload: Upload): Promise<void> {
  return new Promise((resolve, reject) => {
    const form = new FormData()
    form.append('photograph_id', upload.id)
    form.append('file', upload.file, upload.name)
    const request = new XMLHttpRequest()
    request.open('POST', `/api/sittings/${sitting}/photographs`)
    request.setRequestHeader('x-dimbo', '1')
    request.upload.onprogress = (e) => (upload.sent = e.lengthComputable ? e.loaded / e.total : 0)
    request.onerror = () =>
      reject(new Problem(`${upload.name} did not arrive: no connection. Send it again.`, 0))
    request.onload = () => {
      if (request.status < 300) return resolve()
      let message = `${upload.name} was not taken (${request.status}).`
      try {
        message = (JSON.parse(request.responseText) as { message: string }).message
      } catch {
        // keep the plain message
      }
      reject(new Problem(message, request.status))
    }
    request.send(form)
  })
}

export async function take(sitting: string, files: File[], arrived: () => Promise<void>): Promise<void> {
  for (const file of files) {
    uploads.list.push({ id: crypto.randomUUID(), name: file.name, file, sent: 0, problem: '' })
    const upload = uploads.list[uploads.list.length - 1] as Upload
    await deliver(sitting, upload, arrived)
  }
}

export async function deliver(sitting: string, upload: Upload, arrived: () => Promise<void>): Promise<void> {
  upload.problem = ''
  try {
    await send(sitting, upload)
    drop(upload)
    await arrived()
  } catch (error) {
    upload.problem = error instanceof Error ? error.message : String(error)
  }
}

export function drop(upload: Upload): void {
  uploads.list = uploads.list.filter((u) => u.id !== upload.id)
}
