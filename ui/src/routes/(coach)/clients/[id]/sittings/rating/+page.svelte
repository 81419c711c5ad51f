<script lang="ts">
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { shortDay, signed } from '$lib/format'
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
            body: { kind, rater, concern, view, before, after }
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
      }
    )
    busy = false
  }
  function keys(e: KeyboardEvent) {
    if (!look || e.ctrlKey || e.metaKey) return
    if (look.kind === 'score' && /^[0-4]$/.test(e.key)) void answer(Number(e.key))
    else if (look.kind === 'better of two' && (e.key === 'ArrowLeft' || e.key === '1')) void answer(0)
    else if (look.kind === 'better of two' && (e.key === 'ArrowRight' || e.key === '2')) void answer(1)
    else return
    e.preventDefault()
  }
  const scale = ['none', 'slight', 'moderate', 'marked', 'severe']
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Blind rating · Dimbo</title></svelte:head>
<main class="mx-auto max-w-wide px-6 pt-3 pb-12">
  {#if look}
    <div class="flex items-baseline justify-between gap-4">
      <h1>{named.get(look.concern) ?? look.concern}</h1>
      <p class="text-soft" role="status">look {look.place + 1} of {look.of}</p>
    </div>
    <progress class="mt-1 w-full" max={look.of} value={look.place} aria-label="Looks answered"></progress>
    <p class="mt-2">
      {look.kind === 'score'
        ? 'How marked is it on this photograph? 0 none, 4 severe. Dates and order are hidden; some come twice.'
        : 'On which of the two is it better?'}
    </p>
    <div class="mt-3 flex justify-center gap-4">
      {#each look.flipped as turned, which (`${look.place}-${which}`)}
        <figure>
          <img
            src="/api/rating-rounds/{look.round_id}/looks/{look.place}/{which}.jpg"
            alt="{which ? 'Second' : look.flipped.length > 1 ? 'First' : 'The'} photograph"
            class="h-[min(56vh,520px)] bg-band object-contain {turned ? '-scale-x-100' : ''}"
          />
          {#if look.kind === 'better of two'}<button
              class="mt-3 act w-full"
              onclick={() => answer(which)}
              disabled={busy}>{which ? 'The second →' : '← The first'}</button
            >{/if}
        </figure>
      {/each}
    </div>
    {#if look.kind === 'score'}
      <div class="mx-auto mt-4 grid max-w-column-wide grid-cols-5 gap-2">
        {#each scale as word, value (word)}
          <button class="act min-h-hand act-quiet" onclick={() => answer(value)} disabled={busy}
            ><b class="text-head">{value}</b> {word}</button
          >
        {/each}
      </div>
    {/if}
  {:else}
    <ClientHead name={sittings?.client_name ?? ''} {id} place="sittings" />
    <h2 class="mt-4">Blind rating</h2>
    <p class="mt-1 max-w-[68ch] text-row">
      Lines, folds and fullness cannot be measured on shading. Photographs are shown one at a time, or two
      side by side, in random order, without dates, and one in five comes twice. Results open only when the
      round is finished, and a round is never edited.
    </p>
    {#if sittings && sittings.sittings.length > 1}
      <form
        class="mt-4 flex flex-wrap items-end gap-4"
        onsubmit={(e) => {
          e.preventDefault()
          void begin()
        }}
      >
        {#snippet choice(label: string, value: string, set: (v: string) => void, options: [string, string][])}
          <label class="text-row"
            >{label}<br /><select
              class="border-b border-ink bg-transparent py-1"
              {value}
              onchange={(e) => set(e.currentTarget.value)}
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
        {@render choice('Way', kind, (v) => (kind = v as typeof kind), [
          ['score', 'rate 0 to 4'],
          ['better of two', 'pick the better of two']
        ])}
        {@render choice('Rater', rater, (v) => (rater = v as typeof rater), [
          ['coach', 'coach'],
          ['second rater', 'second rater'],
          ['client', 'client']
        ])}
        {@render choice(
          'View',
          view,
          (v) => (view = v),
          sittings.protocol.map((p) => [p.id, p.name])
        )}
        {@render choice(
          'Earlier',
          before,
          (v) => (before = v),
          sittings.sittings.map((s) => [s.id, shortDay(s.taken_on)])
        )}
        {@render choice(
          'Later',
          after,
          (v) => (after = v),
          sittings.sittings.map((s) => [s.id, shortDay(s.taken_on)])
        )}
        <button class="act" disabled={!concern || before === after}>Begin</button>
      </form>
    {:else if sittings}<p class="mt-4 text-soft">Two sittings are needed.</p>{/if}
    <ul class="mt-6">
      {#each rounds as r (r.id)}
        <li class="border-t border-rule py-3">
          <p>
            <b>{named.get(r.concern) ?? r.concern}</b>, {r.kind}, by {r.rater}, {shortDay(
              r.begun_at.slice(0, 10)
            )}
          </p>
          {#if r.change}
            <p class="text-sub">
              {r.change.before.toFixed(1)} → {r.change.after.toFixed(1)}, change {signed(r.change.amount)} (95 %
              {signed(r.change.low)} to
              {signed(r.change.high)}): <b>{r.change.beyond ? 'beyond noise' : 'within noise'}</b>
            </p>
          {:else if r.preference}
            <p class="text-sub">
              The later one was picked {r.preference.later} of {r.preference.of} times (95 %
              {Math.round(r.preference.low * 100)} to {Math.round(r.preference.high * 100)} %):
              <b>{r.preference.beyond ? 'beyond chance' : 'could be chance'}</b>
            </p>
          {/if}
          {#if r.finished_at}
            <p class="text-row text-soft">
              The rater agrees with themself on {r.repeats} repeated look{r.repeats === 1 ? '' : 's'}:
              weighted kappa {r.kappa === null ? '' : `${r.kappa.toFixed(2)}, `}{r.agreement}.
            </p>
          {:else}
            <p class="text-row">
              {r.answered} of {r.of} answered; the result opens at the end.
              <button class="link" onclick={() => open(r.id)}>Go on</button>
            </p>
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
</main>
