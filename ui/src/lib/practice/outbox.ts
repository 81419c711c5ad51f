/** Finished sessions wait here until the server has them. Ids are made on this device, so sending twice is harmless. */
import { api, ask, Problem, type Schemas } from '../api/client'

type Report = Schemas['ReportIn']
const KEY = 'dimbo-outbox'

export function waiting(): Report[] {
  return JSON.parse(localStorage.getItem(KEY) ?? '[]') as Report[]
}

function keep(list: Report[]): void {
  localStorage.setItem(KEY, JSON.stringify(list))
}

export function put(report: Report): void {
  keep([...waiting().filter((r) => r.id !== report.id), report])
}

/** Hand everything in, oldest first. Returns what was refused, in words; what did not get through stays. */
export async function handIn(): Promise<string[]> {
  const refused: string[] = []
  for (const report of waiting()) {
    try {
      await ask(api.PUT('/api/practice-logs', { body: report }))
    } catch (error) {
      if (!(error instanceof Problem) || ![404, 422].includes(error.status)) return refused
      refused.push(error.message)
    }
    keep(waiting().filter((r) => r.id !== report.id))
  }
  return refused
}
