/** The typed client of Dimbo's own API. Every refusal becomes a Problem with a message for people. */
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

export class Problem extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly field: string | null = null,
    readonly code: Schemas['Problem']['code'] | null = null
  ) {
    super(message)
  }
}

export const api = createClient<paths>({ baseUrl: '/', headers: { 'x-dimbo': '1' } })

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** The data of an answer, or a Problem that says what happened and what to do. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Problem('No connection. Nothing was lost; try again when you are online.', 0)
  }
  if (answer.response.ok) return answer.data as T
  const told = answer.error as Partial<Schemas['Problem']> | undefined
  throw new Problem(
    told?.message ?? `The server answered ${answer.response.status}.`,
    answer.response.status,
    told?.field,
    told?.code
  )
}

/** Send a file or more with what is said of them. */
export async function sendForm<T>(path: string, form: FormData): Promise<T> {
  const request = fetch(path, { method: 'POST', body: form, headers: { 'x-dimbo': '1' } }).then(
    async (response) => {
      const body: unknown = await response.json()
      return response.ok ? { data: body as T, response } : { error: body, response }
    }
  )
  return ask(request)
}

export function words(error: unknown): string {
  return error instanceof Error ? error.message : String(error)
}

/** Do something that can be refused; what goes wrong is said in words. What was said before stays when it goes well: it may
 * have come from something that was done on the way. */
export async function attempt(say: (why: string) => void, what: () => Promise<void>): Promise<void> {
  try {
    await what()
  } catch (error) {
    say(words(error))
  }
}
