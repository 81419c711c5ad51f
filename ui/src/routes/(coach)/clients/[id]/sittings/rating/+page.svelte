<script lang="ts">
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import Preference from '$lib/sittings/Preference.svelte'
  import RatedChange from '$lib/sittings/RatedChange.svelte'
  import ClientHead from '../../ClientHead.svelte'

  const id = page.params.id ?? ''
  const path = { client_id: id }
  let sittings = $state<Schemas['SittingsView'] | null>(null)
  let course = $state<Schemas['CourseView'] | null>(null)
  let rounds = $state<Schemas['RoundView'][]>([])
  let look = $state<Schemas['LookView'] | null>(null)
  let problem = $state('')
  let kind = $state<'score' | 'better of two'>('score')
  let rater = $state<'coach' | 'second rater' | 'client'>('coach')
  let concern = $state('')
  let view = $state('front-neutral')
  let before = $state('')
  let after = $state('')
  let busy = $state(false)

  let ahead = $state<Schemas['RoundAhead'] | null>(null)
  let notYet = $state('')
  /** A rest is offered: the next look waits for a key. */
  let resting = $state(false)
  const wanted = $derived({ kind, rater, concern, view, before, after })
  const minutes = (seconds: number) =>
    seconds < 90 ? 'about a minute' : `about ${Math.round(seconds / 60)} minutes`

  /** What the round would be, as soon as enough is chosen. */
  $effect(() => {
    const body = wanted
    if (!body.concern || !body.before || !body.after || body.before === body.after || look) return
    let stale = false
    void attempt(
      (why) => {
        if (!stale) {
          notYet = why
          ahead = null
        }
      },
      async () => {
        const found = await ask(
          api.POST('/api/clients/{client_id}/rating-rounds/preview', { params: { path }, body })
        )
        if (stale) return
        ahead = found
        notYet = ''
      }
    )
    return () => {
      stale = true
    }
  })

  const named = $derived(new Map((course?.concerns ?? []).map((c) => [c.id, c.name])))

  onMount(async () => {
    await attempt(
      (why) => (problem = why),
      async () => {
        ;[sittings, course] = await Promise.all([
          ask(api.GET('/api/clients/{client_id}/sittings', { params: { path } })),
          ask(api.GET('/api/clients/{client_id}', { params: { path } }))
        ])
        before = sittings.comparison.before ?? ''
        after = sittings.comparison.after ?? ''
        concern = course.concerns[0]?.id ?? ''
        await list()
      }
    )
  })
  async function list() {
    rounds = await ask(api.GET('/api/clients/{client_id}/rating-rounds', { params: { path } }))
  }
  async function begin() {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(
          api.POST('/api/clients/{client_id}/rating-rounds', {
            params: { path },
            body: wanted
          })
        )
        await open(made.id)
      }
    )
  }
  async function open(round: string) {
    look =
      (await ask(api.GET('/api/rating-rounds/{round_id}/look', { params: { path: { round_id: round } } }))) ??
      null
    if (!look) await list()
  }
  async function answer(value: number) {
    const at = look
    if (!at || busy) return
    busy = true
    await attempt(
      (why) => (problem = why),
      async () => {
        look =
          (await ask(
            api.POST('/api/rating-rounds/{round_id}/answers', {
              params: { path: { round_id: at.round_id } },
              body: { place: at.place, value }
            })
          )) ?? null
        if (!look) await list()
        else resting = look.place > 0 && look.place % (ahead?.rest_every ?? 15) === 0
      }
    )
    busy = false
  }
  function keys(e: KeyboardEvent) {
    if (!look || e.ctrlKey || e.metaKey || (e.target as HTMLElement).closest('[role=dialog]')) return
    if (resting) {
      if (e.key !== 'Enter' && e.key !== ' ') return
      resting = false
    } else if (look.kind === 'score' && /^[0-4]$/.test(e.key)) void answer(Number(e.key))
    else if (look.kind === 'better of two' && (e.key === 'ArrowLeft' || e.key === '1')) void answer(0)
    else if (look.kind === 'better of two' && (e.key === 'ArrowRight' || e.key === '2')) void answer(1)
    else return
    e.preventDefault()
  }
  const dates = $derived<[string, string][]>(
    (sittings?.sittings ?? []).map((s) => [s.id, `${shortDay(s.taken_on)}, ${s.kind}`])
  )
  const scale = ['none', 'slight', 'moderate', 'marked', 'severe']
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Blind rating · Dimbo</title></svelte:head>
<main class="mx-auto max-w-frame px-6 pt-3 pb-8">
  {#if look && resting}
    <section class="mx-auto max-w-column pt-16 text-center">
      <h1>Rest your eyes</h1>
      <p class="mt-2 text-lead">
        {look.place} of {look.of} looks are done. Look out of the window for half a minute; what one has just seen
        colours what one sees next.
      </p>
      <button class="mt-5 act" onclick={() => (resting = false)}>Go on (Enter)</button>
    </section>
  {:else if look}
    <div class="flex items-baseline gap-4">
      <h1 class="text-huge">{named.get(look.concern) ?? look.concern}</h1>
      <p>
        {look.kind === 'score' ? 'How marked is it? 0 none, 4 severe.' : 'On which of the two is it better?'}
      </p>
      <p class="ml-auto text-soft" role="status">look {look.place + 1} of {look.of}</p>
    </div>
    <progress class="mt-1 w-full" max={look.of} value={look.place} aria-label="Looks answered"></progress>
    <div class="mt-2 flex justify-center gap-4">
      {#each look.flipped as turned, which (`${look.place}-${which}`)}
        <figure>
          <img
            src="/api/rating-rounds/{look.round_id}/looks/{look.place}/{which}.jpg"
            alt="{which ? 'Second' : look.flipped.length > 1 ? 'First' : 'The'} photograph"
            class="h-[calc(100vh-236px)] min-h-80 bg-band object-contain {turned ? '-scale-x-100' : ''}"
          />
          {#if look.kind === 'better of two'}<button
              class="mt-2 act min-h-press w-full"
              onclick={() => answer(which)}
              disabled={busy}>{which ? 'The second →' : '← The first'}</button
            >{/if}
        </figure>
      {/each}
    </div>
    {#if look.kind === 'score'}
      <div class="mx-auto mt-3 grid max-w-page grid-cols-5 gap-2">
        {#each scale as word, value (word)}
          <button class="act min-h-hand act-quiet" onclick={() => answer(value)} disabled={busy}
            ><b class="text-head">{value}</b> {word}</button
          >
        {/each}
      </div>
    {/if}
    <p class="mt-2 text-center text-small text-soft">
      {look.kind === 'score' ? 'Keys 0 to 4.' : 'Keys ← and →.'} Leaving keeps what is answered; you can go on later.
    </p>
  {:else}
    <ClientHead name={sittings?.client_name ?? ''} {id} place="sittings" />
    <div class="mt-4 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-10 max-md:grid-cols-1">
      <section>
        <h2>Blind rating</h2>
        <p class="mt-1 text-row">
          For lines, folds and fullness, which no measurement sees. You look without knowing which photograph
          is later; a round is never edited, and its result opens at the end.
        </p>
        {#if sittings && sittings.sittings.length > 1}
          <form
            class="mt-3 grid grid-cols-2 gap-3"
            onsubmit={(e) => {
              e.preventDefault()
              void begin()
            }}
          >
            {#snippet choice(
              label: string,
              value: string,
              set: (v: string) => void,
              options: [string, string][]
            )}
              <label class="grid gap-1 text-row"
                >{label}<select class="field" {value} onchange={(e) => set(e.currentTarget.value)}
                  >{#each options as [v, name] (v)}<option value={v}>{name}</option>{/each}</select
                ></label
              >
            {/snippet}
            {@render choice(
              'Concern',
              concern,
              (v) => (concern = v),
              course?.concerns.map((c) => [c.id, c.name]) ?? []
            )}
            {@render choice('How', kind, (v) => (kind = v as typeof kind), [
              ['score', 'rate each, 0 to 4'],
              ['better of two', 'pick the better of two']
            ])}
            {@render choice('Earlier photographs', before, (v) => (before = v), dates)}
            {@render choice('Later photographs', after, (v) => (after = v), dates)}
            {@render choice(
              'View',
              view,
              (v) => (view = v),
              sittings.protocol.map((p) => [p.id, p.name])
            )}
            {@render choice('Who rates', rater, (v) => (rater = v as typeof rater), [
              ['coach', 'coach'],
              ['second rater', 'second rater'],
              ['client', 'client']
            ])}
            <div class="col-span-2 border-l-4 border-action bg-sheet px-4 py-3" aria-live="polite">
              {#if before === after}Choose two different days.
              {:else if notYet}{notYet}
              {:else if ahead}
                <b>{ahead.looks} looks, {minutes(ahead.seconds)}.</b>
                You will see {ahead.earlier === 1
                  ? 'one earlier photograph'
                  : `${ahead.earlier} earlier photographs`} and
                {ahead.later === 1 ? 'one later' : `${ahead.later} later`}, {kind === 'score'
                  ? 'one at a time'
                  : 'two side by side'}, in random order and without dates; {ahead.repeats === 1
                  ? 'one comes'
                  : `${ahead.repeats} come`} twice, to see how steady you are.{#if ahead.looks > ahead.rest_every}
                  A rest is offered after every {ahead.rest_every}.{/if}
              {:else}<span class="text-soft">Counting the looks …</span>{/if}
              <button class="mt-3 act" disabled={!ahead || before === after}>Begin</button>
            </div>
          </form>
        {:else if sittings}<p class="mt-4 text-soft">
            Two photo sessions are needed: an earlier and a later one.
          </p>{/if}
      </section>
      <section>
        <h2>Results</h2>
        <ul class="mt-1">
          {#each rounds as r (r.id)}
            <li class="border-b border-rule py-3">
              <p>
                <b>{named.get(r.concern) ?? r.concern}</b>
                <span class="text-soft"
                  >{r.kind === 'score' ? 'rated 0 to 4' : 'better of two'}, by {r.rater}, {shortDay(
                    r.begun_at.slice(0, 10)
                  )}</span
                >
              </p>
              {#if r.change}
                <RatedChange change={r.change} />
                <p class="mt-1">
                  {r.change.before.toFixed(1)} → {r.change.after.toFixed(1)}:
                  <b
                    >{r.change.beyond
                      ? `rated ${r.change.amount < 0 ? 'less' : 'more'} marked, beyond what the looks differ by`
                      : 'no change that a rating could show'}</b
                  >
                </p>
              {:else if r.preference}
                <Preference preference={r.preference} />
                <p class="mt-1">
                  The later one was picked {r.preference.later} of {r.preference.of} times:
                  <b>{r.preference.beyond ? 'more than chance explains' : 'chance could explain it'}</b>
                </p>
              {/if}
              {#if r.finished_at}
                <p class="text-row text-soft">
                  On {r.repeats === 1 ? 'the look that came' : `${r.repeats} looks that came`} twice the rater’s
                  agreement with themself is {r.agreement}{r.kappa === null
                    ? ''
                    : ` (weighted kappa ${r.kappa.toFixed(2)})`}.
                </p>
              {:else}
                <p class="text-row">
                  {r.answered} of {r.of} answered; the result opens at the end.
                  <button class="link" onclick={() => open(r.id)}>Go on</button>
                </p>
              {/if}
            </li>
          {:else}<li class="py-3 text-soft">None yet.</li>{/each}
        </ul>
      </section>
    </div>
  {/if}
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
</main>
