<script lang="ts">
  import Word from '$lib/help/Word.svelte'
  import { onMount } from 'svelte'
  import { api, ask, attempt, words, type Schemas } from '$lib/api/client'
  import { longDate } from '$lib/format'
  import Back from '$lib/parts/Back.svelte'
  import OverTime from '$lib/results/OverTime.svelte'
  import Pair from '$lib/results/Pair.svelte'
  import { practisedWords } from '$lib/results/practised'
  import { valueLines } from '$lib/results/strip'
  import TimeStrip from '$lib/results/TimeStrip.svelte'

  /** What has changed since the first photographs: two of them, what they say in plain words, what was practised between, and every
   * sitting in a row. */
  let found = $state<Schemas['OwnResultsView'] | null>(null)
  let problem = $state('')
  let view = $state('')
  let chosen = $state('')
  let note = $state('')
  let told = $state('')

  onMount(async () => {
    try {
      found = await ask(api.GET('/api/my-results'))
      view = found.views[0]?.id ?? ''
      choose(seen.at(-1)?.id ?? '')
    } catch (error) {
      problem = words(error)
    }
  })
  const seen = $derived((found?.sittings ?? []).filter((s) => s.photographs[view]))
  const later = $derived(seen.find((s) => s.id === chosen) ?? seen.at(-1))
  const first = $derived(seen.find((s) => s.first) ?? seen[0])
  const pair = $derived(first && later && first.id !== later.id)
  const said = $derived((later?.said ?? []).filter((x) => x.view === view))
  const elsewhere = $derived((later?.said ?? []).filter((x) => x.view !== view))
  const reading = $derived(found?.rows.find((r) => r.view === view))
  const strip = $derived(
    seen.map((s) => {
      const point = reading?.points.find((p) => p.sitting === s.id)
      return {
        id: s.id,
        day: s.day,
        photo: s.photographs[view] ?? null,
        lines: reading ? valueLines(point, reading.unit, reading.paired) : [],
        faint: !point || point.excluded
      }
    })
  )

  function choose(id: string) {
    chosen = id
    note = found?.sittings.find((s) => s.id === id)?.note ?? ''
    told = ''
  }
  async function keep() {
    const at = later
    if (!at || note.trim() === at.note) return
    await attempt(
      (why) => (told = why),
      async () => {
        await ask(
          api.PUT('/api/my-results/{sitting_id}/note', {
            params: { path: { sitting_id: at.id } },
            body: { words: note }
          })
        )
        at.note = note.trim()
        told = 'Kept.'
      }
    )
  }
</script>

<svelte:head><title>My photographs · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column-wide px-5 pb-10 text-head">
  <Back href="/my-course" name="My course" />
  <h1 class="text-display">My photographs</h1>
  {#if problem}<p role="alert" class="mt-3">
      {problem} Photographs are not kept on this phone; they need a connection.
    </p>{/if}
  {#if found && !found.sittings.length}
    <p class="mt-3">
      No photographs yet. When your coach asks for some, they stand here, the first beside the latest.
    </p>
  {:else if found && later && first}
    {#if found.views.length > 1}
      <label class="mt-3 flex items-center gap-3 text-lead"
        >View
        <select
          class="field min-h-touch"
          bind:value={view}
          onchange={() => choose(seen.some((s) => s.id === chosen) ? chosen : (seen.at(-1)?.id ?? ''))}
        >
          {#each found.views as v (v.id)}<option value={v.id}>{v.name}</option>{/each}
        </select></label
      >
    {/if}
    <section class="mt-3" aria-label="Two photographs">
      <Pair
        before={pair ? (first.photographs[view] ?? null) : null}
        after={later.photographs[view]!}
        days={{ before: first.day, after: later.day }}
      />
    </section>
    <section class="mt-3" aria-live="polite">
      {#if !pair}
        <p>
          {seen.length > 1
            ? 'These are your first photographs; later ones are held against them.'
            : 'Your first photographs of this view. Later ones will be held against them.'}
        </p>
      {:else}
        {#each said as s (s.reading)}<p class="mt-1">{s.sentence}</p>{:else}
          <p class="mt-1">
            {later.said.length
              ? 'On this view nothing is measured.'
              : 'Not measured against the first ones yet.'}
          </p>{/each}
        {#each elsewhere as s (s.reading)}<p class="mt-1 text-lead text-soft">
            On another view: {s.sentence}
          </p>{/each}
        {#if said.length}<p class="mt-1 text-lead text-soft">
            What is meant by <Word term="More alike" said="more alike" />, and by
            <Word term="Give or take" said="give or take" />.
          </p>{/if}
        {#if later.alike[view]}<p class="mt-2 text-lead text-soft">{later.alike[view]}</p>{/if}
        {#if later.practised}<p class="mt-2">{practisedWords(later.practised)}</p>{/if}
      {/if}
    </section>
    {#if seen.length > 1}
      <h2 class="mt-7 text-huge">All of them, in order of time</h2>
      <div class="mt-2"><TimeStrip sittings={strip} {chosen} who="You" pick={choose} /></div>
      {#if reading}<p class="mt-1 text-lead text-soft">
          {reading.name}{reading.paired ? ', left minus right' : ''}, in {reading.unit || 'its own measure'},
          give or take what taking them again would move.
        </p>{/if}
    {/if}
    {#if found.rows.length && found.rows.some((r) => r.points.length > 1)}
      <h2 class="mt-7 text-huge">Over time</h2>
      <div class="mt-2 grid gap-5 sm:grid-cols-2">
        {#each found.rows as row (row.id)}<OverTime {row} {chosen} />{/each}
      </div>
      <p class="mt-2 text-lead text-soft">
        The grey bar is how far the same face, photographed again, may be read differently. A change counts
        only when it is larger. Most coaches look for one after 8 to 12 weeks, and nobody can promise it.
      </p>
    {/if}
    <h2 class="mt-7 text-huge">My own note</h2>
    <label class="block text-lead text-soft"
      >About {longDate(later.day)}. Your coach can read it too.
      <textarea
        class="mt-1 field w-full text-head text-ink"
        rows="3"
        maxlength="2000"
        bind:value={note}
        onblur={keep}></textarea></label
    >
    <p role="status" class="min-h-6 text-lead text-soft">{told}</p>
    {#if pair && Object.keys(later.photographs[view]?.points ?? {}).length}
      <h2 class="mt-5 text-huge">A picture to keep</h2>
      <p class="text-lead">
        Both photographs in one picture, with their days and whether they were taken alike. It makes no claim,
        and nobody gets it unless you give it to them.
      </p>
      <a
        class="mt-2 act min-h-press act-quiet"
        href="/api/my-results/{first.photographs[view]?.id}/{later.photographs[view]?.id}.png"
        download>Save the picture</a
      >
    {/if}
  {:else if !problem}<p class="mt-6 text-soft" role="status">Reading your photographs …</p>{/if}
</main>
