<script lang="ts">
  import { api, ask, Problem, words, type Schemas } from '$lib/api/client'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import EasierFields from './EasierFields.svelte'
  import { faultLines, faultsOf, lines, type Entry } from './entry'

  /** An exercise of the practice's own: a copy of one that is there, edited. Running programs keep the card they have. */
  let {
    written,
    copy,
    done,
    cancel
  }: {
    written: Schemas['WrittenView']
    copy: boolean
    done: (id: string) => void
    cancel: () => void
  } = $props()

  // svelte-ignore state_referenced_locally
  const first = structuredClone(written.entry) as Entry
  // svelte-ignore state_referenced_locally
  if (copy) first.name = `${first.name}, own`
  let entry = $state<Entry>(first)
  // svelte-ignore state_referenced_locally
  let family = $state(written.family)
  let cues = $state(first.cues.join('\n'))
  let faults = $state(faultLines(first.faults))
  let care = $state(first.care.join('\n'))
  let needs = $state(first.needs.join(', '))
  let problem = $state('')
  let field = $state('')
  const regions = $derived([...new Set((catalogue.view?.muscles ?? []).map((m) => m.region))])
  /** Regions of the muscles that are chosen: they count whatever is written. */
  const own = $derived(
    new Set(
      (catalogue.view?.muscles ?? [])
        .filter((m) => entry.prime_movers.includes(m.id) || entry.helpers.includes(m.id))
        .map((m) => m.region)
    )
  )
  const AXES = ['hold', 'reps', 'sets', 'sessions']

  function toggle(list: string[], value: string): string[] {
    return list.includes(value) ? list.filter((v) => v !== value) : [...list, value]
  }
  async function save(event: SubmitEvent) {
    event.preventDefault()
    problem = field = ''
    const body = {
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
    }
    try {
      if (copy) {
        done((await ask(api.POST('/api/exercises', { body }))).id)
      } else {
        await ask(
          api.PUT('/api/exercises/{exercise_id}', { params: { path: { exercise_id: written.id } }, body })
        )
        done(written.id)
      }
    } catch (error) {
      problem = words(error)
      field = error instanceof Problem ? (error.field ?? '').split('.')[0] || '' : ''
      document.querySelector(`[data-field="${field}"]`)?.scrollIntoView({ block: 'center' })
    }
  }
  const bad = (name: string) => (field === name ? 'border-stop' : '')
</script>

<form class="pt-4 pb-10" onsubmit={save}>
  <h2 class="text-huge">{copy ? 'An exercise of your own' : `Edit ${entry.name}`}</h2>
  <p class="mt-1 max-w-[70ch] text-soft">
    {copy
      ? `A copy of ${(written.entry as Entry).name}; change what you want.`
      : 'Saving makes a new version. Programs that run keep the card that they were assigned with.'}
  </p>
  <div class="mt-4 grid max-w-page-wide grid-cols-2 gap-x-6 gap-y-3">
    <label class="grid gap-1" data-field="name"
      >Name<input class="field {bad('name')}" required bind:value={entry.name} /></label
    >
    <div class="grid grid-cols-2 gap-3">
      <label class="grid gap-1" data-field="family"
        >Family<select class="field" bind:value={family}>
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
      >Purpose<textarea class="field min-h-hand py-2 {bad('purpose')}" bind:value={entry.purpose}
      ></textarea></label
    >
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
      >Eased, in a sentence<input class="field {bad('eased')}" bind:value={entry.eased} /></label
    >
    <label class="grid gap-1" data-field="stop_rule"
      >When to stop<input class="field {bad('stop_rule')}" bind:value={entry.stop_rule} /></label
    >
    <fieldset class="col-span-2 border-t border-rule pt-3">
      <legend class="sr-only">Dose</legend>
      <div class="grid grid-cols-4 gap-3">
        <label class="grid gap-1" data-field="start"
          >Start dose<input class="field dose {bad('start')}" bind:value={entry.start} /></label
        >
        <label class="grid gap-1" data-field="target"
          >Target dose<input class="field dose {bad('target')}" bind:value={entry.target} /></label
        >
        <label class="grid gap-1" data-field="ceiling"
          >Most a day, {entry.ceiling.basis === 'times' ? 'times' : 's'}<input
            class="field {bad('ceiling')}"
            type="number"
            min="1"
            bind:value={entry.ceiling.seconds}
          /></label
        >
        <label class="grid gap-1" data-field="sides"
          >Sides<select class="field" bind:value={entry.sides}>
            <option value="together">together</option>
            <option value="each">each apart</option>
            <option value="weak">each apart, the weaker may get more</option>
          </select></label
        >
        {#each entry.phases as phase, i (i)}
          <label class="grid gap-1"
            >Lead, part {i + 1}, s<input
              class="field"
              type="number"
              step="0.1"
              min="0"
              bind:value={phase.lead}
            /></label
          >
          <label class="grid gap-1"
            >Release, part {i + 1}, s<input
              class="field"
              type="number"
              step="0.1"
              min="0"
              bind:value={phase.release}
            /></label
          >
        {/each}
        <label class="grid gap-1"
          >Rest, s<input class="field" type="number" min="0" bind:value={entry.rest} /></label
        >
        <label class="grid gap-1"
          >Setup, s<input class="field" type="number" min="0" bind:value={entry.setup} /></label
        >
      </div>
      <div class="mt-3 flex flex-wrap gap-x-5 gap-y-1" data-field="axes">
        <span class={field === 'axes' ? 'text-stop' : ''}
          >Raised by, in this order: {entry.axes.join(', ') || 'nothing'}</span
        >
        {#each AXES as a (a)}<label class="flex items-center gap-1.5"
            ><input
              type="checkbox"
              checked={entry.axes.includes(a)}
              onchange={() => (entry.axes = toggle(entry.axes, a))}
            />{a}</label
          >{/each}
      </div>
    </fieldset>
    <EasierFields bind:easier={entry.easier} bad={field === 'easier'} />
    <label class="grid gap-1" data-field="needs"
      >Needs, separated by commas<input class="field {bad('needs')}" bind:value={needs} /></label
    >
    <label class="grid gap-1" data-field="pressure"
      >Pressure<select class="field" bind:value={entry.pressure}>
        {#each ['none', 'feather', 'light', 'firm'] as p (p)}<option>{p}</option>{/each}
      </select></label
    >
    <fieldset data-field="concerns" class="max-h-[190px] overflow-y-auto border border-rule p-2">
      <legend>Helps with</legend>
      {#each catalogue.view?.concerns ?? [] as c (c.id)}<label class="flex items-center gap-2 text-row"
          ><input
            type="checkbox"
            checked={entry.concerns.includes(c.id)}
            onchange={() => (entry.concerns = toggle(entry.concerns, c.id))}
          />{c.name}</label
        >{/each}
    </fieldset>
    <fieldset data-field="prime_movers" class="max-h-[190px] overflow-y-auto border border-rule p-2">
      <legend>Prime movers and helpers</legend>
      {#each catalogue.view?.muscles ?? [] as m (m.id)}<div
          class="grid grid-cols-[1fr_auto_auto] gap-3 text-row"
        >
          <span>{m.name}</span>
          <label class="flex items-center gap-1"
            ><input
              type="checkbox"
              checked={entry.prime_movers.includes(m.id)}
              onchange={() => (entry.prime_movers = toggle(entry.prime_movers, m.id))}
            />prime</label
          ><label class="flex items-center gap-1"
            ><input
              type="checkbox"
              checked={entry.helpers.includes(m.id)}
              onchange={() => (entry.helpers = toggle(entry.helpers, m.id))}
            />helper</label
          >
        </div>{/each}
    </fieldset>
    <fieldset class="col-span-2 border-t border-rule pt-2" data-field="regions">
      <legend class={field === 'regions' ? 'text-stop' : ''}>Regions that hands or work reach</legend>
      <p class="text-small text-soft">
        Those of the muscles and of the figure’s hands always count; choose what the words reach besides.
        Cautions hold an exercise by them.
      </p>
      <div class="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-row">
        {#each regions as r (r)}<label class="flex items-center gap-1.5"
            ><input
              type="checkbox"
              checked={own.has(r) || entry.regions.includes(r)}
              disabled={own.has(r)}
              onchange={() => (entry.regions = toggle(entry.regions, r))}
            />{r}</label
          >{/each}
      </div>
    </fieldset>
    <fieldset class="col-span-2" data-field="marks">
      <legend class={field === 'marks' ? 'text-stop' : ''}>What else a caution may hold</legend>
      <div class="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-row">
        {#each catalogue.view?.marks ?? [] as m (m.id)}<label class="flex items-center gap-1.5"
            ><input
              type="checkbox"
              checked={entry.marks.includes(m.id)}
              onchange={() => (entry.marks = toggle(entry.marks, m.id))}
            />{m.name}</label
          >{/each}
      </div>
    </fieldset>
    <label class="col-span-2 grid gap-1" data-field="care"
      >To mind in any case, one a line<textarea class="field min-h-press py-2" bind:value={care}
      ></textarea></label
    >
  </div>
  {#if problem}<p role="alert" class="mt-4 max-w-page-wide text-stop">
      {problem} What you wrote is kept here.
    </p>{/if}
  <div class="mt-4 flex gap-3">
    <button class="act">{copy ? 'Keep this exercise' : 'Save the next version'}</button>
    <button type="button" class="act act-quiet" onclick={cancel}>Leave it</button>
  </div>
</form>
