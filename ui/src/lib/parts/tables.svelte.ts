/** How CSV is written for this reader: chosen once, kept on the device; at first by the decimal sign of its language. */
const KEY = 'dimbo-tables'

export const READERS = {
  point: {
    name: 'a spreadsheet that writes 1.5',
    query: 'separator=comma&decimal=point&mark=true'
  },
  comma: {
    name: 'a spreadsheet that writes 1,5',
    query: 'separator=semicolon&decimal=comma&mark=true'
  },
  program: { name: 'a program', query: 'separator=comma&decimal=point&mark=false' }
}
export type Reader = keyof typeof READERS

function first(): Reader {
  const kept = localStorage.getItem(KEY)
  if (kept && kept in READERS) return kept as Reader
  return new Intl.NumberFormat().format(1.5).includes(',') ? 'comma' : 'point'
}

class Tables {
  reader = $state<Reader>(first())

  choose(reader: Reader) {
    this.reader = reader
    localStorage.setItem(KEY, reader)
  }

  /** The address of a table as CSV for the chosen reader. */
  csv(path: string): string {
    return `${path}${path.includes('?') ? '&' : '?'}${READERS[this.reader].query}`
  }
}

export const tables = new Tables()
