<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { MOST_WEEKS } from '$lib/programs/document'
  import DraftFound from './DraftFound.svelte'
  import FromFile from './FromFile.svelte'
  import Schools from './Schools.svelte'

  /** A new program: drafted from the intake, from a template, from a file, or empty; looked at before it is written, and drawn anew
   * with every choice. */
  let {
    open = $bindable(false),
    id,
    done
  }: { open?: boolean; id: string; done: (id: string) => void } = $props()
  /** What can be left out, and what a coach reads of it. */
  const SPARED = [
    ['oil', 'oil'],
    ['hands inside the mouth', 'hands inside the mouth'],
    ['mirror', 'a mirror'],
    ['pinch', 'pinching'],
    ['wide-open', 'a wide open mouth']
  ] as const
  let source = $state('intake')
  let weeks = $state(12)
  let minutes = $state<number | null>(null)
  let school = $state('')
  let spared = $state<string[]>([])
  let abreast = $state(false)
  let draft = $state.raw<Schemas['DraftView'] | null>(null)
  let before = $state.raw<Schemas['DraftView'] | null>(null)
  let drawing = $state(false)
  let templates = $state.raw<Schemas['TemplateRow'][]>([])
  let schools = $state.raw<Schemas['WaysView']['approaches']>([])
  let problem = $state('')
  let writing = $state(false)

  const drafts = $derived(source !== 'empty' && source !== 'file')
  const good = $derived(
    weeks >= 1 && weeks <= MOST_WEEKS && (minutes === null || (minutes >= 1 && minutes <= 180))
  )
  const body = $derived({
    source,
    weeks,
    title: source === 'empty' ? 'New program' : '',
    approach: school || null,
    minutes,
    leave_out: [...spared]
  })

  $effect(() => {
    if (open && !templates.length)
      ask(api.GET('/api/templates')).then(
        (t) => (templates = t),
        (e) => (problem = words(e))
      )
    if (open && !schools.length)
      ask(api.GET('/api/settings/ways')).then(
        (w) => (schools = w.approaches),
        (e) => (problem = words(e))
      )
  })
  $effect(() => {
    problem = ''
    if (!open || !drafts || !good) return
    const asked = body
    let gone = false
    drawing = true
    ask(
      api.POST('/api/clients/{client_id}/programs/draft', {
        params: { path: { client_id: id } },
        body: asked
      })
    ).then(
      (d) => {
        if (gone) return
        before = draft
        draft = d
        drawing = false
      },
      (e) => {
        if (gone) return
        problem = words(e)
        draft = null
        drawing = false
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
        const made = await ask(
          api.POST('/api/clients/{client_id}/programs', { params: { path: { client_id: id } }, body })
        )
        done(made.id)
      }
    )
    writing = false
  }
  function begin(from: string) {
    source = from
    school = ''
    before = draft = null
  }
  const spare = (what: string) =>
    (spared = spared.includes(what) ? spared.filter((x) => x !== what) : [...spared, what])
  const own = $derived(spared.filter((s) => !SPARED.some(([key]) => key === s)))
</script>

<Dialog bind:open title="New program" width={1120}>
  <form class="grid grid-cols-[270px_minmax(0,1fr)] gap-7" onsubmit={create}>
    <div class="grid content-start gap-3">
      <label class="grid gap-1"
        >Begin from<select class="field" value={source} onchange={(e) => begin(e.currentTarget.value)}>
          <option value="intake">the intake: concerns, causes, cautions</option>
          <optgroup label="A template">
            {#each templates as t (t.id)}<option value={t.id}>{t.title}, {t.weeks} weeks</option>{/each}
          </optgroup>
          <option value="file">a file that was exported</option>
          <option value="empty">an empty sheet</option>
        </select></label
      >
      {#if source === 'intake' || source === 'empty'}<label class="grid gap-1"
          >Weeks<NumberField min="1" max={MOST_WEEKS} bind:value={weeks} /></label
        >{/if}
      {#if drafts}
        <label class="grid gap-1"
          >Minutes a session<NumberField
            min="1"
            max="180"
            placeholder={draft?.document.minutes ? String(draft.document.minutes) : 'as long as it takes'}
            bind:value={minutes}
          /></label
        >
        <label class="grid gap-1"
          >Approach<select class="field" bind:value={school}>
            <option value="">{source === 'intake' ? 'the client’s' : 'as it was written'}</option>
            {#each schools as s (s.id)}<option value={s.id}>{s.name}</option>{/each}
          </select></label
        >
        <fieldset>
          <legend class="mb-1">Without</legend>
          {#each SPARED as [key, name] (key)}<label class="flex min-h-7 items-center gap-2"
              ><input
                type="checkbox"
                checked={spared.includes(key)}
                onchange={() => spare(key)}
              />{name}</label
            >{/each}
          {#if own.length}<button
              type="button"
              class="mt-1 text-small link"
              onclick={() => (spared = spared.filter((s) => !own.includes(s)))}
              >Take back the {own.length === 1 ? 'exercise' : `${own.length} exercises`} left out</button
            >{/if}
        </fieldset>
      {/if}
      {#if source !== 'file'}<button class="act" disabled={writing || drawing || (drafts && !draft)}
          >{writing ? 'Writing …' : 'Create program'}</button
        >{/if}
      <p class="text-small text-soft">
        The draft is a proposal: what is locked is never in it, and you change what you want on the sheet.
      </p>
    </div>
    <div class="min-h-[56vh] min-w-0 border-l border-rule pl-6">
      {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
      {#if source === 'file'}
        <FromFile {id} {done} />
      {:else if source === 'empty'}
        <p class="text-soft">No exercises; add them by typing their names.</p>
      {:else if draft}
        {#if source === 'intake'}<p class="mb-2 text-row">
            <button type="button" class="link" aria-expanded={abreast} onclick={() => (abreast = !abreast)}
              >{abreast ? 'Back to this draft' : 'The four approaches side by side'}</button
            >
          </p>{/if}
        {#if abreast && source === 'intake'}
          <Schools
            {id}
            {body}
            {schools}
            take={(s) => {
              school = s
              abreast = false
            }}
          />
        {:else}
          <DraftFound {draft} {before} {drawing} leave={source === 'intake' ? spare : undefined} />
        {/if}
      {:else if !problem}<p class="text-soft">Drafting …</p>{/if}
    </div>
  </form>
</Dialog>
