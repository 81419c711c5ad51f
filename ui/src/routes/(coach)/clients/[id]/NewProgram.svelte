<script lang="ts">
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import { clock } from '$lib/format'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { MOST_WEEKS } from '$lib/programs/document'
  import FromFile from './FromFile.svelte'

  /** A new program: drafted from the intake, from a template, from a file, or empty; looked at before it is written. */
  let {
    open = $bindable(false),
    id,
    done
  }: { open?: boolean; id: string; done: (id: string) => void } = $props()
  let source = $state('intake')
  let weeks = $state(12)
  let draft = $state.raw<Schemas['DraftView'] | null>(null)
  let templates = $state.raw<Schemas['TemplateRow'][]>([])
  let problem = $state('')
  let writing = $state(false)

  $effect(() => {
    if (open && !templates.length)
      ask(api.GET('/api/templates')).then(
        (t) => (templates = t),
        (e) => (problem = words(e))
      )
  })
  $effect(() => {
    draft = null
    problem = ''
    if (!open || source === 'empty' || source === 'file' || !(weeks >= 1 && weeks <= MOST_WEEKS)) return
    let gone = false
    const body = { source, weeks, title: '' }
    ask(
      api.POST('/api/clients/{client_id}/programs/draft', { params: { path: { client_id: id } }, body })
    ).then(
      (d) => {
        if (!gone) draft = d
      },
      (e) => {
        if (!gone) problem = words(e)
      }
    )
    return () => {
      gone = true
    }
  })
  async function create(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    writing = true
    await attempt(
      (why) => (problem = why),
      async () => {
        const body = { source, weeks, title: source === 'empty' ? 'New program' : '' }
        const made = await ask(
          api.POST('/api/clients/{client_id}/programs', { params: { path: { client_id: id } }, body })
        )
        done(made.id)
      }
    )
    writing = false
  }
  const lines = $derived(draft?.document.lines ?? [])
  const first = (i: number) => lines[i]?.cells.find((c) => c) ?? ''
  const last = (i: number) => lines[i]?.cells.at(-1) || 'rest'
  const longest = $derived(Math.max(0, ...(draft?.sheet.weeks.map((w) => w.seconds) ?? [])))
  const notes = $derived(draft?.sheet.notes.filter((n) => n.weight === 'stop' || n.weight === 'watch') ?? [])
</script>

<Dialog bind:open title="New program" width={860}>
  <form class="grid grid-cols-[300px_minmax(0,1fr)] gap-7" onsubmit={create}>
    <div class="grid content-start gap-3">
      <label class="grid gap-1"
        >Begin from<select class="field" bind:value={source}>
          <option value="intake">the intake: concerns, causes, cautions</option>
          <optgroup label="A template">
            {#each templates as t (t.id)}<option value={t.id}>{t.title}, {t.weeks} weeks</option>{/each}
          </optgroup>
          <option value="file">a file that was exported</option>
          <option value="empty">an empty sheet</option>
        </select></label
      >
      {#if source === 'intake' || source === 'empty'}<label class="grid gap-1"
          >Weeks<input class="field" type="number" min="1" max={MOST_WEEKS} bind:value={weeks} /></label
        >{/if}
      {#if source !== 'file'}<button class="act" disabled={writing || (source !== 'empty' && !draft)}
          >{writing ? 'Writing …' : 'Write it'}</button
        >{/if}
      <p class="text-small text-soft">
        The draft is a proposal: what is locked is never in it, and you change what you want on the sheet.
      </p>
    </div>
    <div class="min-w-0 border-l border-rule pl-6" aria-live="polite">
      {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
      {#if source === 'file'}
        <FromFile {id} {done} />
      {:else if source === 'empty'}
        <p class="text-soft">No exercises; add them by typing their names.</p>
      {:else if draft}
        <h3 class="text-sub">{draft.title}</h3>
        <p class="text-small text-soft">
          {lines.length} exercises, {draft.document.weeks} weeks, the longest session {clock(longest)}{draft
            .document.minutes
            ? ` of ${draft.document.minutes} min`
            : ''}
        </p>
        <ol class="mt-2 max-h-[44vh] overflow-y-auto">
          {#each draft.sheet.lines as l, i (l.id)}<li class="border-b border-rule py-1.5">
              <span class="grid grid-cols-[1fr_auto] gap-x-3"
                ><b>{l.name}</b><span class="dose text-row">{first(i)} → {last(i)}</span></span
              >
              {#if l.why}<span class="block text-small text-soft">{l.why}</span>{/if}
            </li>{/each}
        </ol>
        {#if draft.left_out.length}<p class="mt-3 text-small">
            <b>Left out:</b>
            {draft.left_out.map((x) => `${x.name} (${x.reason})`).join('; ')}.
          </p>{/if}
        {#if notes.length}<p class="mt-2 text-small text-watch">
            {notes.length} to look at in the margin: {notes[0]?.text}
          </p>{/if}
      {:else if !problem}<p class="text-soft">Drafting …</p>{/if}
    </div>
  </form>
</Dialog>
