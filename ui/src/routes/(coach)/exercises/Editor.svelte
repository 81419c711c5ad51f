<script lang="ts">
  import Hint from '$lib/parts/Hint.svelte'
  import { onMount } from 'svelte'
  import { api, ask, Problem, words, type Schemas } from '$lib/api/client'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import ClipMaker from '$lib/exercises/ClipMaker.svelte'
  import { whole } from '$lib/exercises/figure-entry'
  import FigureMaker from '$lib/exercises/FigureMaker.svelte'
  import Played from '$lib/exercises/Played.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'
  import DoseFields from './DoseFields.svelte'
  import EasierFields from './EasierFields.svelte'
  import { FIELDS, faultLines, faultsOf, lines, type Entry } from './entry'
  import ReachFields from './ReachFields.svelte'
  import { Unfinished } from './unfinished'

  /** An exercise of the practice's own: new, a copy of one that is there, or its next version. It is looked at by the core while it is
   * written, so that what is missing is said at once, and it can be seen as it will be played. */
  let {
    written,
    kind,
    done,
    cancel
  }: {
    written: Schemas['WrittenView']
    kind: 'new' | 'copy' | 'edit'
    done: (id: string) => void
    cancel: () => void
  } = $props()

  // svelte-ignore state_referenced_locally
  const unfinished = new Unfinished(kind, written)
  const before = unfinished.read()
  // svelte-ignore state_referenced_locally
  const from = written.entry.name as string
  // svelte-ignore state_referenced_locally
  const first = structuredClone(before?.entry ?? written.entry) as Entry
  first.figure = whole(first.figure)
  // svelte-ignore state_referenced_locally
  if (kind === 'copy' && !before) first.name = `${first.name}, own`
  let entry = $state<Entry>(first)
  // svelte-ignore state_referenced_locally
  let family = $state(before?.family ?? written.family)
  let cues = $state(first.cues.join('\n'))
  let faults = $state(faultLines(first.faults))
  let care = $state(first.care.join('\n'))
  let needs = $state(first.needs.join(', '))
  let problem = $state('')
  let field = $state('')
  let seen = $state.raw<Schemas['EntryLook'] | null>(null)
  let playing = $state(false)
  let nameField = $state<HTMLInputElement>()
  onMount(() => nameField?.select())

  const body = $derived({
    family,
    base_version: written.version,
    entry: {
      ...$state.snapshot(entry),
      cues: lines(cues),
      faults: faultsOf(faults),
      care: lines(care),
      needs: needs
        .split(',')
        .map((n) => n.trim())
        .filter(Boolean)
    } as Record<string, unknown>
  })
  const LOOK_AFTER_MS = 350
  /** As it was when the form opened: that alone is nothing to keep. */
  let opened = ''
  $effect(() => {
    const asked = body
    const text = JSON.stringify(asked)
    opened ||= text
    if (text !== opened) unfinished.keep(asked)
    let gone = false
    const timer = setTimeout(() => {
      const path = { exercise_id: kind === 'edit' ? written.id : 'new' }
      ask(api.POST('/api/exercises/{exercise_id}/look', { params: { path }, body: asked })).then(
        (found) => {
          if (!gone) seen = found
        },
        () => undefined // it is looked at again with the next letter, and once more when it is kept
      )
    }, LOOK_AFTER_MS)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  })
  const faultOf = (name: string) => seen?.faults.find((f) => f.field === name)?.words ?? ''
  const show = (name: string) => {
    const found = document.querySelector<HTMLElement>(`[data-field="${name}"]`)
    found?.scrollIntoView({ block: 'center' })
    found?.querySelector<HTMLElement>('input, textarea, select, button')?.focus({ preventScroll: true })
  }

  /** In another family what is usual there takes the place of dose and times, as long as nothing is written. */
  async function change(next: string) {
    family = next
    if (kind !== 'new') return
    const usual = await ask(api.GET('/api/exercises/blank', { params: { query: { family: next } } }))
    const { name, purpose, concerns, felt_at, eased, figure, clip, picture } = entry
    entry = { ...(usual.entry as Entry), name, purpose, concerns, felt_at, eased, figure, clip, picture }
  }
  function leave() {
    unfinished.drop()
    cancel()
  }
  async function save(event: SubmitEvent) {
    event.preventDefault()
    problem = field = ''
    try {
      let id = written.id
      if (kind !== 'edit') id = (await ask(api.POST('/api/exercises', { body }))).id
      else
        await ask(
          api.PUT('/api/exercises/{exercise_id}', { params: { path: { exercise_id: written.id } }, body })
        )
      unfinished.drop()
      done(id)
    } catch (error) {
      problem = words(error)
      field = error instanceof Problem ? (error.field ?? '').split('.')[0] || '' : ''
      show(field)
    }
  }
  const bad = (name: string) => (field === name ? 'border-stop' : '')
  const title = $derived(
    kind === 'new'
      ? 'An exercise of your own'
      : kind === 'copy'
        ? `A copy of ${from}`
        : `Edit ${written.entry.name as string}`
  )
</script>

<form class="pt-4 pb-4" onsubmit={save}>
  <h2 class="text-huge">{title}</h2>
  <p class="mt-1 max-w-[70ch] text-soft">
    {kind === 'edit'
      ? 'Saving makes a new version. Programs that run keep the card that they were assigned with.'
      : 'It is yours: change whatever you want. Clients see nothing of it before you keep it.'}
  </p>
  {#if before}<p class="mt-1 text-row" role="status">
      What you had written and not kept is here again.
      <button type="button" class="link" onclick={leave}>Drop it</button>
    </p>{/if}
  <div class="mt-4 grid max-w-page-wide grid-cols-2 gap-x-6 gap-y-3">
    <label class="grid gap-1" data-field="name"
      >Name<input class="field {bad('name')}" required bind:this={nameField} bind:value={entry.name} /></label
    >
    <div class="grid grid-cols-2 gap-3">
      <label class="grid gap-1" data-field="family"
        >Family<select class="field" value={family} onchange={(e) => change(e.currentTarget.value)}>
          {#each catalogue.view?.families ?? [] as f (f)}<option>{f}</option>{/each}
        </select></label
      >
      <label class="grid gap-1" data-field="stage"
        >Stage<select class="field" bind:value={entry.stage}>
          {#each catalogue.view?.stages ?? [] as s (s)}<option>{s}</option>{/each}
        </select></label
      >
    </div>
    <label class="col-span-2 grid gap-1" data-field="purpose"
      >What it is for<textarea class="field min-h-hand py-2 {bad('purpose')}" bind:value={entry.purpose}
      ></textarea></label
    >
    <section class="col-span-2 border-t border-rule pt-3" data-field="figure" aria-label="Figure">
      <h3 class="text-big font-bold">How it is done</h3>
      <FigureMaker bind:figure={entry.figure} hands={seen?.hands ?? ''} fault={faultOf('figure')} />
    </section>
    <section class="col-span-2 border-t border-rule pt-3" aria-label="Words">
      <h3 class="text-big font-bold">What is said</h3>
    </section>
    <label class="grid gap-1" data-field="cues"
      >Cues in the order they are said, one a line<textarea
        class="field min-h-lines py-2 {bad('cues')}"
        bind:value={cues}></textarea></label
    >
    <label class="grid gap-1" data-field="faults"
      >Faults, one a line: what is seen, a colon, what to say<textarea
        class="field min-h-lines py-2 {bad('faults')}"
        bind:value={faults}></textarea></label
    >
    <label class="grid gap-1" data-field="felt_at"
      >Where it should be felt<input class="field {bad('felt_at')}" bind:value={entry.felt_at} /></label
    >
    <label class="grid gap-1" data-field="position"
      >Position<input class="field {bad('position')}" bind:value={entry.position} /></label
    >
    <label class="grid gap-1" data-field="eased"
      >Eased, in a sentence<textarea class="field min-h-press py-2 {bad('eased')}" bind:value={entry.eased}
      ></textarea></label
    >
    <label class="grid gap-1" data-field="stop_rule"
      >When to stop<textarea class="field min-h-press py-2 {bad('stop_rule')}" bind:value={entry.stop_rule}
      ></textarea></label
    >
    <section class="col-span-2 border-t border-rule pt-3" aria-label="Dose">
      <h3 class="text-big font-bold">How much</h3>
    </section>
    <DoseFields bind:entry {field} />
    <EasierFields bind:easier={entry.easier} bad={field === 'easier'} />
    <section class="col-span-2 border-t border-rule pt-3" aria-label="Reach">
      <h3 class="text-big font-bold">What it works, and what to mind</h3>
    </section>
    <label class="grid gap-1" data-field="needs"
      >Needs, separated by commas<input class="field {bad('needs')}" bind:value={needs} /></label
    >
    <label class="grid gap-1" data-field="pressure"
      >Pressure<select class="field" bind:value={entry.pressure}>
        {#each ['none', 'feather', 'light', 'firm'] as p (p)}<option>{p}</option>{/each}
      </select></label
    >
    <ReachFields bind:entry {field} />
    <label class="col-span-2 grid gap-1" data-field="care"
      >To mind in any case, one a line<textarea class="field min-h-press py-2" bind:value={care}
      ></textarea></label
    >
    <section class="col-span-2 border-t border-rule pt-3" data-field="clip" aria-label="Clip and picture">
      <h3 class="sr-only">Clip and picture</h3>
      <ClipMaker bind:clip={entry.clip} bind:picture={entry.picture} name={entry.name} />
    </section>
  </div>
  <div class="sticky bottom-0 z-10 mt-4 max-w-page-wide border-t border-ink bg-paper py-3">
    {#if problem}<p role="alert" class="mb-2 text-stop">{problem} What you wrote is kept here.</p>
    {:else if seen?.faults.length}<p class="mb-2 text-row" aria-live="polite">
        <span class="font-bold">Still to do:</span>
        {#each seen.faults as f, i (f.field)}{i ? ' · ' : ' '}<Hint text={f.words}
            >{#snippet child({ props })}<button
                {...props}
                type="button"
                class="link"
                onclick={() => show(f.field)}>{FIELDS[f.field] ?? f.field}</button
              >{/snippet}</Hint
          >{/each}
        {#if seen.faults.length === 1}<span class="text-soft">{seen.faults[0]?.words}</span>{/if}
      </p>{:else if seen}<p class="mb-2 text-row text-soft" aria-live="polite">
        Everything is there. It starts with {seen.card?.start_line}.
      </p>{/if}
    <div class="flex gap-3">
      <button class="act">{kind === 'edit' ? 'Save the next version' : 'Keep this exercise'}</button>
      <button type="button" class="act act-quiet" disabled={!seen?.played} onclick={() => (playing = true)}
        >See it as it is played</button
      >
      <button type="button" class="act act-quiet" onclick={leave}>Leave it</button>
    </div>
  </div>
</form>
<Dialog bind:open={playing} title="As a client sees it the first time" width={420}>
  {#if seen?.played}<Played played={seen.played} />{/if}
</Dialog>
