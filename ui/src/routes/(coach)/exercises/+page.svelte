<script lang="ts">
  import { isSenior } from '$lib/people/session.svelte'
  import { afterNavigate, goto, replaceState } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, sendForm, type Schemas, words } from '$lib/api/client'
  import { offer } from '$lib/parts/undo.svelte'
  import FamilySign from '$lib/exercises/FamilySign.svelte'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import FacePicker from '$lib/signature/FacePicker.svelte'
  import type { Fills, View } from '$lib/signature/face-map'
  import CardPage from './CardPage.svelte'
  import Editor from './Editor.svelte'

  /** Every exercise, found by touch on the face map, by muscle, concern, family, school, need or text. */
  let problem = $state('')
  let wanted = $state('')
  let muscle = $state('')
  let concern = $state('')
  let family = $state('')
  let school = $state('')
  let need = $state('')
  let retired = $state(false)
  let chosen = $state('')
  /** Counts what was saved here, so that the open card is read again. */
  let saves = $state(0)
  let card = $state.raw<Schemas['CardView'] | null>(null)
  let view = $state<View>('facing')
  let editing = $state.raw<{ kind: 'new' | 'copy' | 'edit'; written: Schemas['WrittenView'] } | null>(null)
  /** The family that an exercise from nothing begins with; most that coaches add are massage. */
  const NEW_FAMILY = 'release'
  type Brief = Schemas['CardBrief']

  const fromHash = () => (chosen = page.url.hash.slice(1))
  afterNavigate(fromHash)
  onMount(() => {
    fromHash() // the page may come after the navigation is over
    catalogue.load().catch((error: unknown) => (problem = words(error)))
  })
  const all = $derived(catalogue.view?.cards ?? [])
  const text = (c: Brief) =>
    `${c.name} ${c.family} ${c.stage} ${c.purpose} ${c.concerns.map((x) => x.name).join(' ')} ${[...c.prime_movers, ...c.helpers].map((x) => x.name).join(' ')} ${c.needs.join(' ')}`.toLowerCase()
  const hits = $derived(
    all.filter(
      (c) =>
        (retired || !c.retired) &&
        (!muscle || [...c.prime_movers, ...c.helpers].some((m) => m.id === muscle)) &&
        (!concern || c.concerns.some((x) => x.id === concern)) &&
        (!family || c.family === family) &&
        (!school || (c.schools.includes(school) && !c.forbidden_by.includes(school))) &&
        (!need || c.needs.includes(need)) &&
        wanted
          .toLowerCase()
          .split(/\s+/)
          .every((w) => text(c).includes(w))
    )
  )
  const id = $derived(hits.some((c) => c.id === chosen) ? chosen : (hits[0]?.id ?? ''))
  $effect(() => {
    void saves
    if (!id) {
      card = null
      return
    }
    let gone = false
    ask(api.GET('/api/exercises/{exercise_id}', { params: { path: { exercise_id: id } } })).then(
      (c) => {
        if (!gone) card = c
      },
      (error: unknown) => (problem = words(error))
    )
    return () => {
      gone = true
    }
  })
  /** How many of the found exercises work each muscle, as strength on the map. */
  const fills = $derived.by((): Fills => {
    const count = new Map<string, number>()
    for (const c of hits) for (const m of c.prime_movers) count.set(m.id, (count.get(m.id) ?? 0) + 1)
    const most = Math.max(1, ...count.values())
    return Object.fromEntries([...count].map(([m, n]) => [m, { right: n / most, left: n / most }]))
  })
  const number = (m: string) => {
    const n = hits.filter((c) => [...c.prime_movers, ...c.helpers].some((x) => x.id === m)).length
    return `${n} ${n === 1 ? 'exercise' : 'exercises'}`
  }
  const filtered = $derived(!!(muscle || concern || family || school || need || wanted))
  function clear() {
    wanted = muscle = concern = family = school = need = ''
  }
  function choose(next: string) {
    chosen = next
    replaceState(`#${next}`, {})
  }
  async function edit(kind: 'new' | 'copy' | 'edit') {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const written = await ask(
          kind === 'new'
            ? api.GET('/api/exercises/blank', { params: { query: { family: NEW_FAMILY } } })
            : api.GET('/api/exercises/{exercise_id}/written', { params: { path: { exercise_id: id } } })
        )
        editing = { kind, written }
      }
    )
  }
  async function fromFile(file: File) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const form = new FormData()
        form.append('file', file)
        await saved((await sendForm<Schemas['CreatedExercise']>('/api/exercises/import', form)).id)
      }
    )
  }
  async function put(exercise: string, is: boolean) {
    await ask(
      api.POST('/api/exercises/{exercise_id}/retire', {
        params: { path: { exercise_id: exercise } },
        body: { retired: is }
      })
    )
    retired = retired || is
    saves++
    await catalogue.again()
  }
  async function retire(is: boolean) {
    const [exercise, name] = [id, card?.name ?? '']
    await attempt(
      (why) => (problem = why),
      async () => {
        await put(exercise, is)
        if (is) offer(`${name} is retired; programs that have it keep it.`, () => put(exercise, false))
      }
    )
  }
  async function saved(made: string) {
    editing = null
    saves++
    clear()
    card = null
    await catalogue.again()
    chosen = ''
    choose(made)
    await goto(`#${made}`, { replaceState: true })
  }
  const stages = $derived(catalogue.view?.stages ?? [])
  const muscleName = $derived(catalogue.view?.muscles.find((m) => m.id === muscle)?.name)
</script>

<svelte:head><title>Exercises · Dimbo</title></svelte:head>
<main
  class="mx-auto grid max-w-frame grid-cols-[290px_minmax(0,1fr)] gap-x-7 px-6 pb-12 max-lg:grid-cols-1 max-sm:px-3"
>
  <section class="pt-4" aria-label="All exercises">
    <div class="flex items-baseline gap-3">
      <h1 class="text-big">Exercises</h1>
      <p class="text-small text-soft" aria-live="polite">{hits.length} of {all.length}</p>
    </div>
    {#if isSenior()}<p class="flex gap-4 text-small">
        <button class="link" onclick={() => edit('new')}>A new one of your own</button>
        <label class="cursor-pointer link focus-within:outline-3"
          >From a file<input
            type="file"
            class="sr-only"
            accept=".zip,application/zip"
            onchange={(e) => {
              const file = e.currentTarget.files?.[0]
              if (file) void fromFile(file)
              e.currentTarget.value = ''
            }}
          /></label
        >
      </p>{/if}
    <input
      class="mt-2 field"
      placeholder="name, muscle, word"
      aria-label="Find an exercise"
      bind:value={wanted}
    />
    {#if catalogue.view}
      <div class="mt-2 grid grid-cols-2 gap-1.5 text-small">
        <select class="field min-h-chip px-1" aria-label="Concern" bind:value={concern}>
          <option value="">any concern</option>
          {#each catalogue.view.concerns as c (c.id)}<option value={c.id}>{c.name}</option>{/each}
        </select>
        <select class="field min-h-chip px-1" aria-label="School" bind:value={school}>
          <option value="">any school</option>
          {#each catalogue.view.approaches as a (a.id)}<option value={a.id}>{a.name}</option>{/each}
        </select>
        <select class="field min-h-chip px-1" aria-label="Need" bind:value={need}>
          <option value="">any need</option>
          {#each catalogue.view.needs as n (n)}<option value={n}>{n}</option>{/each}
        </select>
      </div>
      <div class="mt-2 grid grid-cols-3 gap-1" role="group" aria-label="Families">
        {#each catalogue.view.families as f (f)}<button
            class="flex min-h-7 items-center gap-1.5 border px-1 text-left text-note {family === f
              ? 'border-action bg-action text-sheet'
              : 'border-edge-soft bg-sheet hover:border-action'}"
            aria-pressed={family === f}
            onclick={() => (family = family === f ? '' : f)}><FamilySign family={f} />{f}</button
          >{/each}
      </div>
      <div class="mt-3">
        <FacePicker
          muscles={catalogue.view.muscles}
          {fills}
          words={number}
          label="Exercises by muscle"
          pick={(m) => (muscle = muscle === m ? '' : m)}
          bind:view
          height={200}
          hint={muscleName
            ? `Only ${muscleName}; touch it again for all.`
            : 'Touch a muscle to see what works it.'}
        />
      </div>
    {/if}
    {#if filtered}<button class="text-small link" onclick={clear}>show all again</button>{/if}
    <label class="mt-1 flex items-center gap-2 text-small text-soft"
      ><input type="checkbox" bind:checked={retired} />retired ones, too</label
    >
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    <div class="mt-2">
      {#each stages as stage (stage)}
        {@const list = hits.filter((c) => c.stage === stage)}
        {#if list.length}
          <h2 class="mt-3 border-b border-ink text-small font-bold">
            {stage[0]?.toUpperCase()}{stage.slice(1)}
          </h2>
          {#each list as c (c.id)}
            <button
              class="grid w-full grid-cols-[34px_1fr] items-center border-b border-rule px-1 py-1 text-left {c.id ===
              id
                ? 'bg-sheet font-bold'
                : ''}"
              aria-pressed={c.id === id}
              onclick={() => choose(c.id)}
            >
              <span class="row-span-2 text-soft"><FamilySign family={c.family} /></span>{c.name}<span
                class="block text-note font-normal text-soft"
                >{c.family}{c.foundation ? ', foundation' : ''}{c.own ? ', own' : ''}{c.retired
                  ? ', retired'
                  : ''}</span
              >
            </button>
          {/each}
        {/if}
      {:else}{#if !problem}<p class="text-soft">Reading the exercises …</p>{/if}{/each}
      {#if catalogue.view && !hits.length}<p class="mt-3">
          No exercise is all of that. <button class="link" onclick={clear}>Show all again</button>
        </p>{/if}
    </div>
  </section>
  {#if editing}
    <Editor written={editing.written} kind={editing.kind} done={saved} cancel={() => (editing = null)} />
  {:else if card}
    <div
      class="sticky top-0 max-h-dvh self-start overflow-y-auto max-lg:static max-lg:order-first max-lg:max-h-none"
    >
      <CardPage {card} copy={() => edit('copy')} edit={() => edit('edit')} {retire} />
    </div>
  {/if}
</main>
