<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { ZONES } from '$lib/parts/zones'

  /** Clients from a table: choose the file, match the columns, look at every row, then import. */
  let file = $state<File | null>(null)
  let preview = $state<Schemas['ImportPreview'] | null>(null)
  let columns = $state<string[]>([])
  let zone = $state(Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC')
  let problem = $state('')
  let busy = $state('')
  let done = $state<Schemas['ImportPreview'] | null>(null)

  async function post(path: string, more: Record<string, string>): Promise<Schemas['ImportPreview'] | null> {
    const form = new FormData()
    if (!file) return null
    form.append('file', file, file.name)
    form.append('time_zone', zone)
    for (const [key, value] of Object.entries(more)) form.append(key, value)
    problem = ''
    try {
      const answer = await fetch(path, { method: 'POST', headers: { 'x-dimbo': '1' }, body: form })
      const body = (await answer.json()) as Schemas['ImportPreview'] & { message?: string }
      if (answer.ok) return body
      problem = body.message ?? `The server answered ${answer.status}.`
    } catch {
      problem = 'No connection. Nothing was imported; try again.'
    }
    return null
  }

  async function look(matched: boolean) {
    done = null
    busy = 'Reading the table …'
    const found = await post('/api/import/preview', matched ? { columns: columns.join(',') } : {})
    busy = ''
    if (found) {
      preview = found
      columns = found.columns.map((c) => c.field)
    } else if (!matched) preview = null
  }
  async function run() {
    busy = `Importing ${preview?.new} clients …`
    const found = await post('/api/import', {
      columns: columns.join(','),
      expected: String(preview?.new ?? 0)
    })
    busy = ''
    if (found) {
      done = found
      preview = null
    }
  }
  function choose(list: FileList | null) {
    file = list?.[0] ?? null
    preview = null
    if (file) void look(false)
  }
  const SHOWN = ['name', 'email', 'birth_year', 'minutes', 'concerns', 'status'] as const
  const fates = { new: 'new', here: 'here already', wrong: 'left out' }
</script>

<svelte:head><title>Import clients · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <h1>Import clients</h1>
  <p class="mt-1 max-w-page text-soft">
    From a CSV file of any program, with a first line that names the columns. Nothing is imported until you
    have seen every row and said so; running it twice adds nobody twice.
  </p>
  <div class="mt-4 flex flex-wrap items-end gap-5">
    <label class="grid gap-1"
      >The file<input
        type="file"
        accept=".csv,.txt,text/csv"
        class="text-row file:mr-3 file:min-h-touch file:rounded-[4px] file:border-firm file:border-action file:bg-sheet file:px-4 file:font-bold"
        onchange={(e) => choose(e.currentTarget.files)}
      /></label
    >
    <label class="grid gap-1"
      >Time zone where the table names none<input
        class="field !w-[240px]"
        list="zones"
        bind:value={zone}
        onchange={() => preview && look(true)}
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
      {done.new} clients are imported{done.here ? `; ${done.here} were here already` : ''}{done.wrong
        ? `; ${done.wrong} rows were left out`
        : ''}. <a class="link" href="/clients">Go to the clients</a>
    </p>
  {/if}
  {#if preview}
    <h2 class="mt-6 border-b border-ink pb-1">Columns</h2>
    <p class="mt-1 text-small text-soft">
      Read as {preview.encoding}, separated by {preview.delimiter}.
    </p>
    <table class="mt-2 text-row">
      <thead class="text-left text-small text-soft">
        <tr
          ><th class="pr-6 font-normal">In the file</th><th class="pr-6 font-normal">Becomes</th><th
            class="font-normal">For instance</th
          ></tr
        >
      </thead>
      <tbody>
        {#each preview.columns as column, i (i)}
          <tr class="border-b border-rule">
            <td class="py-1 pr-6 font-bold">{column.header || `column ${i + 1}`}</td>
            <td class="py-1 pr-6"
              ><select
                class="field !min-h-chip !w-[170px]"
                aria-label="Field for {column.header}"
                bind:value={columns[i]}
                onchange={() => look(true)}
              >
                <option value="">not imported</option>
                {#each preview.fields as f (f.id)}<option value={f.id}>{f.name}</option>{/each}
              </select></td
            >
            <td class="py-1 text-soft">{column.samples.join(' · ')}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <div class="mt-6 flex items-end gap-4 border-b border-ink pb-1">
      <h2>
        {preview.new} new, {preview.here} here already, {preview.wrong} left out
      </h2>
      <button class="ml-auto act" disabled={!preview.new || !columns.includes('name') || !!busy} onclick={run}
        >Import {preview.new} clients</button
      >
    </div>
    {#if preview.errors.length}
      <ul class="mt-2 text-row text-stop" aria-label="Rows that are left out">
        {#each preview.errors.slice(0, 12) as e, i (i)}
          <li>Line {e.line}{e.column ? `, ${e.column}` : ''}: {e.message}</li>
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
          <tr class="border-b border-rule align-top {row.fate === 'new' ? '' : 'text-soft'}">
            <td class="py-1">{row.line}</td>
            <td class="py-1 {row.fate === 'wrong' ? 'font-bold text-stop' : ''}">{fates[row.fate]}</td>
            {#each SHOWN as f (f)}<td class="py-1 pr-3">{row.values[f] ?? ''}</td>{/each}
          </tr>
          {#if row.remark}<tr class="text-small text-soft"><td></td><td colspan="7">{row.remark}</td></tr
            >{/if}
        {/each}
      </tbody>
    </table>
    {#if preview.rows.length < preview.new + preview.here + preview.wrong}
      <p class="mt-1 text-small text-soft">
        {preview.rows.length} rows are shown, those with something wrong first.
      </p>
    {/if}
  {/if}
</main>
