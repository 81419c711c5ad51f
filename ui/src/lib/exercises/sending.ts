/** A clip or a picture on its way, with its progress. */
import { Problem, type Schemas } from '$lib/api/client'

export type Medium = Schemas['MediumView']

export function send(
  fields: Record<string, string>,
  file: Blob,
  name: string,
  progress: (share: number) => void
): Promise<Medium> {
  const form = new FormData()
  for (const [key, value] of Object.entries(fields)) form.append(key, value)
  form.append('file', file, name)
  return new Promise((done, fail) => {
    // fetch tells nothing of how much has gone.
    const request = new XMLHttpRequest()
    request.open('POST', '/api/exercise-media')
    request.setRequestHeader('x-dimbo', '1')
    request.responseType = 'json'
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0)
    request.onerror = () =>
      fail(new Problem('No connection. The clip is still here; send it again when you are online.', 0))
    request.onload = () => {
      const answer = request.response as (Medium & { message?: string; field?: string }) | null
      if (request.status < 300 && answer) done(answer)
      else
        fail(
          new Problem(
            answer?.message ?? `The server answered ${request.status}.`,
            request.status,
            answer?.field
          )
        )
    }
    request.send(form)
  })
}
