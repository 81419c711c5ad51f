<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { ZONES } from '$lib/parts/zones'

  type Preview = Schemas['ImportPreview']
  type Choices = Schemas['ImportChoices']

  /** Clients from a table: choose the file, match the columns, decide what is unclear, look at every row, then import. */
  let file = $state<File | null>(null)
  let preview = $state<Preview | null>(null)
  const nothing = (): Choices => ({
    columns: null,
    year_first: null,
    rest: false,
    left_out: [],
    left_out_columns: [],
    rows: []
  })
  let choices = $state<Choices>(nothing())
  let zone = $state(Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC')
  let problem = $state('')
  let busy = $state('')
  let done = $state<Preview | null>(null)

  async function post(path: string, more: Record<string, string>): Promise<Preview | null> {
    const form = new FormData()
    if (!file) return null
    form.append('file', file, file.name)
    form.append('time_zone', zone)
    form.append('choices', JSON.stringify(choices))
    for (const [key, value] of Object.entries(more)) form.append(key, value)
    problem = ''
    try {
      const answer = await fetch(path, { method: 'POST', headers: { 'x-dimbo': '1' }, body: form })
      const body = (await answer.json()) as Preview & { message?: string }
      if (answer.ok) return body
      problem = body.message ?? `The server answered ${answer.status}.`
    } catch {
      problem = 'No connection. Nothing was imported; try again.'
    }
    return null
  }

  async function look() {
    done = null
    busy = 'Reading the table …'
    const first = choices.columns === null
    const found = await post('/api/import/preview', {})
    busy = ''
    if (found) {
      preview = found
      choices.columns = found.columns.map((c) => c.field)
    } else if (first) preview = null
  }
  async function run() {
    busy = `Importing ${clients(preview?.new ?? 0)} …`
    const found = await post('/api/import', { expected: String(preview?.new ?? 0) })
    busy = ''
    if (found) {
      done = found
      preview = null
    }
  }
  function choose(list: FileList | null) {
    file = list?.[0] ?? null
    preview = null
    choices = nothing()
    if (file) void look()
  }
  function match(column: number, field: string) {
    choices.columns![column] = field
    choices.left_out_columns = choices.left_out_columns?.filter((c) => c !== column)
    choices.left_out = choices.left_out?.filter((c) => c.column !== column)
    void look()
  }
  function leaveColumn(column: number) {
    choices.left_out_columns = [...(choices.left_out_columns ?? []), column]
    void look()
  }
  function leaveCell(line: number, column: number) {
    choices.left_out = [...(choices.left_out ?? []), { line, column }]
    void look()
  }
  function say(lines: number[], says: 'client' | 'leave') {
    const others = (choices.rows ?? []).filter((r) => !lines.includes(r.line))
    choices.rows = [...others, ...lines.map((line) => ({ line, says }))]
    void look()
  }
  const nameless = $derived(!choices.columns?.some((c) => ['name', 'first_name', 'last_name'].includes(c)))
  const asked = $derived(preview?.rows.filter((r) => r.fate === 'ask') ?? [])
  const others = $derived(preview?.columns.filter((c) => !c.field).length ?? 0)
  /** What is used instead of a cell that is left out. */
  function instead(field: string, count: number): string {
    if (field === 'time_zone') return `Use ${zone} instead`
    if (field === 'status') return 'Use active instead'
    return count === 1 ? 'Leave it out' : 'Leave them out'
  }
  const clients = (n: number) => `${n} ${n === 1 ? 'client' : 'clients'}`
  const SHOWN = ['name', 'email', 'birth_year', 'minutes', 'concerns', 'status'] as const
  const fates = { new: 'new', here: 'here already', wrong: 'left out', ask: 'asked', none: 'no client' }
</script>

<svelte:head><title>Import clients · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <h1>Import clients</h1>
  <p class="mt-1 max-w-page text-soft">
    From a workbook (.xlsx) or a CSV file as you keep it. Nothing is imported until you have seen every row
    and said so; running it twice adds nobody twice.
  </p>
  <div class="mt-4 flex flex-wrap items-end gap-5">
    <label class="grid gap-1"
      >The file<input
        type="file"
        accept=".xlsx,.csv,.txt,text/csv"
        class="text-row file:mr-3 file:min-h-touch file:rounded-[4px] file:border-firm file:border-action file:bg-sheet file:px-4 file:font-bold"
        onchange={(e) => choose(e.currentTarget.files)}
      /></label
    >
    <label class="grid gap-1"
      >Time zone where the table names none<input
        class="field !w-[240px]"
        list="zones"
        bind:value={zone}
        onchange={() => preview && look()}
      /></label
    >
    <datalist id="zones"
      >{#each ZONES as z (z)}<option value={z}></option>{/each}</datalist
    >
  </div>
  {#if busy}<p class="mt-4" role="status">{busy}</p>{/if}
  {#if problem}<p role="alert" class="mt-4 text-stop">{problem}</p>{/if}
  {#if done}
    <p role="status" class="mt-5 border-l-4 border-mark-fine pl-3">
      {clients(done.new)} imported{done.here ? `; ${done.here} were here already` : ''}{done.wrong
        ? `; ${done.wrong} rows were left out`
        : ''}. <a class="link" href="/clients">Go to the clients</a>
    </p>
  {/if}
  {#if preview}
    <h2 class="mt-6 border-b border-ink pb-1">Columns</h2>
    <p class="mt-1 text-small text-soft">
      Read as {preview.encoding}{preview.delimiter
        ? `, separated by ${preview.delimiter}`
        : ''}{preview.named_in > 1
        ? `; line ${preview.named_in} names the columns, what stands above it is left out`
        : ''}.
    </p>
    <table class="mt-2 text-row">
      <thead class="text-left text-small text-soft">
        <tr
          ><th class="pr-6 font-normal">In the file</th><th class="pr-6 font-normal">Becomes</th><th
            class="pr-6 font-normal">For instance</th
          ><th class="font-normal">Not readable</th></tr
        >
      </thead>
      <tbody>
        {#each preview.columns as column, i (i)}
          <tr class="border-b border-rule">
            <td class="py-1 pr-6 font-bold">{column.header || `column ${i + 1}`}</td>
            <td class="py-1 pr-6"
              ><select
                class="field !min-h-chip !w-[170px]"
                aria-label="Field for {column.header || `column ${i + 1}`}"
                value={choices.columns?.[i] ?? ''}
                onchange={(e) => match(i, e.currentTarget.value)}
              >
                <option value="">{choices.rest ? 'kept in the note' : 'not imported'}</option>
                {#each preview.fields as f (f.id)}<option value={f.id}>{f.name}</option>{/each}
              </select></td
            >
            <td class="py-1 pr-6 text-soft">{column.samples.join(' · ')}</td>
            <td class="py-1 whitespace-nowrap"
              >{#if column.unreadable}<span class="mr-2 text-stop"
                  >{column.unreadable}
                  {column.unreadable === 1 ? 'cell' : 'cells'}</span
                ><button class="link" onclick={() => leaveColumn(i)}
                  >{instead(column.field, column.unreadable)}</button
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    {#if others}
      <label class="mt-2 flex items-center gap-2"
        ><input type="checkbox" bind:checked={choices.rest} onchange={look} />Keep what stands in the other {others ===
        1
          ? 'column'
          : `${others} columns`} as a note of each client</label
      >
    {/if}
    {#if preview.asks_order || choices.year_first !== null}
      <label class="mt-2 flex flex-wrap items-center gap-2"
        >Short dates such as 04-05-71 are written<select
          class="field w-auto"
          value={choices.year_first === null ? '' : String(choices.year_first)}
          onchange={(e) => {
            choices.year_first = e.currentTarget.value === '' ? null : e.currentTarget.value === 'true'
            void look()
          }}
          ><option value="">please say</option><option value="false">with the year last</option><option
            value="true">with the year first</option
          ></select
        ></label
      >
    {/if}
    {#if asked.length}
      <h2 class="mt-6 border-b border-ink pb-1">
        {asked.length === 1 ? 'One row is' : `${asked.length} rows are`} asked about
      </h2>
      <ul class="mt-1" aria-label="Rows that are asked about">
        {#each asked as row (row.line)}
          <li class="flex flex-wrap items-center gap-3 border-b border-rule py-1.5">
            <span class="min-w-0 flex-1"
              >Line {row.line}: <b>{row.values.name}</b>{row.values.birth_year
                ? `, born ${row.values.birth_year}`
                : ''}{row.values.email ? `, ${row.values.email}` : ''}
              <span class="text-soft">{row.remark}</span></span
            ><button class="act act-quiet" onclick={() => say([row.line], 'client')}>A new client</button
            ><button class="act act-quiet" onclick={() => say([row.line], 'leave')}>Leave it out</button>
          </li>
        {/each}
      </ul>
      {#if asked.length > 2}<p class="mt-2">
          <button
            class="link"
            onclick={() =>
              say(
                asked.map((r) => r.line),
                'leave'
              )}>Leave all {asked.length} out</button
          >
        </p>{/if}
    {/if}
    <div class="mt-6 flex items-end gap-4 border-b border-ink pb-1">
      <h2>
        {preview.new} new, {preview.here} here already, {preview.wrong} left out{preview.none
          ? `, ${preview.none} ${preview.none === 1 ? 'line is no client' : 'lines are no clients'}`
          : ''}
      </h2>
      <button
        class="ml-auto act"
        disabled={!preview.new || nameless || !!asked.length || !!busy}
        onclick={run}>Import {clients(preview.new)}</button
      >
    </div>
    {#if nameless}<p class="mt-2 text-stop">
        Match one column to the client’s name, or two to first and last name.
      </p>{/if}
    {#if preview.errors.length}
      <ul class="mt-2 text-row text-stop" aria-label="Rows that are left out">
        {#each preview.errors.slice(0, 12) as e, i (i)}
          <li>
            Line {e.line}{e.column ? `, ${e.column}` : ''}: {e.message}
            {#if e.place !== null}<button class="link" onclick={() => leaveCell(e.line, e.place ?? 0)}
                >Leave this cell out</button
              >{/if}
          </li>
        {/each}
      </ul>
      {#if preview.errors.length + preview.more_errors > 12}
        <details class="text-row text-stop">
          <summary class="link">and {preview.errors.length + preview.more_errors - 12} more</summary>
          <ul>
            {#each preview.errors.slice(12) as e, i (i)}<li>
                Line {e.line}{e.column ? `, ${e.column}` : ''}: {e.message}
              </li>{/each}
          </ul>
          {#if preview.more_errors}<p>{preview.more_errors} more are not listed.</p>{/if}
        </details>
      {/if}
    {/if}
    <table class="mt-3 w-full text-row">
      <thead class="text-left text-small text-soft">
        <tr
          ><th class="w-[52px] font-normal">Line</th><th class="w-[100px] font-normal">Fate</th
          >{#each SHOWN as f (f)}<th class="font-normal">{f.replace('_', ' ')}</th>{/each}</tr
        >
      </thead>
      <tbody>
        {#each preview.rows as row (row.line)}
          <tr class="border-t border-rule align-top {row.fate === 'new' ? '' : 'text-soft'}">
            <td class="py-1">{row.line}</td>
            <td class="py-1 {row.fate === 'wrong' || row.fate === 'ask' ? 'font-bold text-stop' : ''}"
              >{fates[row.fate]}</td
            >
            {#each SHOWN as f (f)}<td class="py-1 pr-3">{row.values[f] ?? ''}</td>{/each}
          </tr>
          {#if row.remark}<tr class="text-small text-soft"
              ><td></td><td colspan="7" class="pb-1">{row.remark}</td></tr
            >{/if}
        {/each}
      </tbody>
    </table>
    {#if preview.rows.length < preview.new + preview.here + preview.wrong + preview.none + preview.ask}
      <p class="mt-1 text-small text-soft">
        {preview.rows.length} rows are shown, those with something to decide first.
      </p>
    {/if}
  {/if}
</main>
