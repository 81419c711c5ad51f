/**
 * After the build. Which files a device keeps: one list for the pages of clients and of links, one for what coaches have beside them.
 * And what a browser may fetch at once with the page of an address, instead of finding it out one file after the other.
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'

const KIT = '.svelte-kit'
const NODES = `${KIT}/generated/client-optimized/nodes`
const manifest = JSON.parse(readFileSync(`${KIT}/output/client/.vite/manifest.json`, 'utf8'))

/** Whose page a node is: a layout of everybody, or by the folder of its route. */
function whose(node) {
  const source = readFileSync(`${NODES}/${node}`, 'utf8')
  return source.includes('/routes/(coach)/') ? 'coach' : 'client'
}

/** Every file that an entry of the manifest needs to run, by itself or by what it imports. */
function needed(key, found = new Set()) {
  const entry = manifest[key]
  if (!entry || found.has(entry.file)) return found
  found.add(entry.file)
  for (const file of [...(entry.css ?? []), ...(entry.assets ?? [])]) found.add(file)
  for (const other of entry.imports ?? []) needed(other, found)
  return found
}

const lists = { client: new Set(), coach: new Set() }
const start = Object.keys(manifest).filter((k) => manifest[k].isEntry && !k.includes('/nodes/'))
for (const key of start) needed(key).forEach((f) => lists.client.add(f))
for (const node of readdirSync(NODES)) {
  const list = lists[whose(node)]
  needed(`${NODES}/${node}`).forEach((f) => list.add(f))
}
/* What a page fetches only when it is needed goes with whoever has the page, and what that fetches in its turn. */
const every = Object.values(manifest)
for (const list of Object.values(lists)) {
  for (let before = -1; before < list.size;) {
    before = list.size
    for (const entry of every.filter((e) => list.has(e.file))) {
      for (const later of entry.dynamicImports ?? []) {
        if (!later.includes('/nodes/')) needed(later).forEach((f) => list.add(f))
      }
    }
  }
}
const client = [...lists.client].sort()
const coach = [...lists.coach].filter((f) => !lists.client.has(f)).sort()
writeFileSync(
  'build/_app/kept.json',
  JSON.stringify({ client: client.map((f) => `/${f}`), coach: coach.map((f) => `/${f}`) })
)

/** What a page asks the server for first, whatever it shows; by its route. */
const DATA = {
  '/(coach)/desk': ['/api/desk'],
  '/(client)/my-course': ['/api/my-course', '/api/my-results'],
  '/(client)/my-photographs': ['/api/my-results'],
  '/(client)/my-letters': ['/api/my-letters']
}
const routes = readFileSync(`${KIT}/generated/client-optimized/app.js`, 'utf8').matchAll(
  /^\s*"(\/[^"]*)": \[~?(\d+)(?:,\[([\d,]*)\])?/gm
)
const begun = readFileSync('build/index.html', 'utf8')
const early = {}
for (const [, route, page, layouts = ''] of routes) {
  const nodes = [page, ...layouts.split(',')].filter((n) => n)
  const found = nodes.flatMap((n) => [...needed(`${NODES}/${n}.js`)])
  const files = [...new Set(found)].filter((f) => !begun.includes(f) && /\.(js|css)$/.test(f))
  const own = route.startsWith('/(') ? ['/api/me'] : []
  early[route.replace(/\/\([^)]*\)/g, '') || '/'] = {
    files: files.map((f) => `/${f}`),
    data: [...own, ...(DATA[route] ?? [])]
  }
}
writeFileSync('build/_app/early.json', JSON.stringify(early))

const size = (files) => files.reduce((sum, f) => sum + gzipSync(readFileSync(`build/${f}`)).length, 0)
const kb = (files) => `${files.length} files, ${Math.round(size(files) / 1000)} kB packed`
console.log(`kept by every device: ${kb(client)}; by a coach's beside them: ${kb(coach)}`)
