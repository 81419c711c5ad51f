<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { atClock, momentAt } from '$lib/format'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { Preview } from '../preview.svelte'
  import WhatChanges from '../WhatChanges.svelte'
  import Unreached from '$lib/messages/Unreached.svelte'

  /** Reminders in the practice's own words, quiet hours, and everything that the messenger carried. */
  let own = $state<Schemas['RemindingView'] | null>(null)
  let letters = $state<Schemas['PostedView'][]>([])
  let text = $state('')
  let first = $state<string | null>('21:30')
  let last = $state<string | null>('07:00')
  let problem = $state('')
  let saved = $state('')
  let only = $state<'' | Schemas['PostedView']['state']>('')

  onMount(async () => {
    await attempt(
      (why) => (problem = why),
      async () => {
        own = await ask(api.GET('/api/reminding'))
        put()
        letters = await ask(api.GET('/api/outbox'))
      }
    )
  })

  const put = () => {
    if (!own) return
    text = own.text
    first = own.quiet.first.slice(0, 5)
    last = own.quiet.last.slice(0, 5)
  }
  const body = $derived({ quiet: { first: first ?? '', last: last ?? '' }, text })
  const moved = $derived(
    !!own && (first !== own.quiet.first.slice(0, 5) || last !== own.quiet.last.slice(0, 5))
  )
  const changed = $derived(!!own && (text !== own.text || moved) && !!first && !!last)
  const preview = new Preview(
    () => (changed ? body : null),
    (sent) => (moved ? ask(api.POST('/api/reminding/preview', { body: sent })) : Promise.resolve([]))
  )
  const keep = (event?: SubmitEvent) => {
    event?.preventDefault()
    return attempt(
      (why) => (preview.problem = why),
      async () => {
        await ask(api.PUT('/api/reminding', { body }))
        own = await ask(api.GET('/api/reminding'))
        saved = 'Kept. It holds for the next reminder.'
      }
    )
  }
  const sample = $derived(
    (text.trim() || own?.shipped_text || '')
      .replaceAll('{name}', 'Mara')
      .replaceAll('{minutes}', '14')
      .replaceAll('{time}', '07:30')
      .replaceAll('{practice}', 'your practice')
  )
  const states = {
    waiting: ['on its way', 'text-watch'],
    delivered: ['arrived', 'text-fine'],
    failed: ['did not arrive', 'text-stop'],
    withheld: ['held back', 'text-soft']
  } as const
  const shown = $derived(letters.filter((x) => !only || x.state === only))
  /** By person, whoever something went wrong with first, then by the newest. */
  const people = $derived(
    [...Map.groupBy(shown, (x) => x.address || `no address: ${x.subject}`)]
      .map(([address, all]) => ({
        address: all[0]?.address ? address : 'no address',
        all,
        wrong: all.filter((x) => x.state === 'failed').length,
        waits: all.filter((x) => x.state === 'waiting').length
      }))
      .toSorted((a, b) => b.wrong - a.wrong || ((a.all[0]?.due_at ?? '' < (b.all[0]?.due_at ?? '')) ? 1 : -1))
  )
</script>

<svelte:head><title>Messenger · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-desk grid-cols-[360px_minmax(0,1fr)] gap-x-12 px-6 pt-5 pb-12">
  <form class="grid content-start gap-4" onsubmit={keep}>
    <h1>Messenger</h1>
    <p class="text-row">
      A session gets one reminder at most, and none once it is done, paused or locked. A client can end them
      by the link in each.
    </p>
    <label class="grid gap-1"
      ><b>Reminder in your own words</b><textarea
        class="field min-h-lines py-2"
        maxlength="400"
        placeholder={own?.shipped_text}
        bind:value={text}></textarea></label
    >
    <p class="text-small text-soft">
      {#each own?.places ?? [] as place (place)}<code class="mr-2">&#123;{place}&#125;</code>{/each} are filled
      in.
    </p>
    <p class="border-l-4 border-rule pl-3 text-row italic">{sample}</p>
    <fieldset>
      <legend class="font-bold">Quiet hours, by the client’s clock</legend>
      <div class="mt-1 flex items-center gap-3">
        <label>from <WhenField class="field w-[136px]" type="time" required bind:value={first} /></label>
        <label>to <WhenField class="field w-[136px]" type="time" required bind:value={last} /></label>
      </div>
    </fieldset>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <WhatChanges
      {preview}
      {changed}
      kept={saved}
      idle="Nothing is changed yet. With other quiet hours you see here which reminders move."
      keep={() => keep()}
      leave={put}
    >
      {#snippet told(found)}
        <p class="mt-2 text-row">
          {moved
            ? found.length
              ? 'These go at another time, by the client’s clock. Clients with quiet hours of their own keep theirs.'
              : 'No reminder moves.'
            : 'The next reminders read as above.'}
        </p>
        <ul class="mt-1 text-small">
          {#each found as m (`${m.client_id}${m.title}${m.part}`)}<li class="border-b border-rule py-1">
              <a class="link" href="/clients/{m.client_id}">{m.client}</a>, {m.part}:
              <b>{m.before ? atClock(m.before) : 'none'} → {m.after ? atClock(m.after) : 'not at all'}</b>
            </li>{/each}
        </ul>
      {/snippet}
    </WhatChanges>
  </form>
  <section>
    <div class="grid gap-3 text-row has-[p]:mb-5"><Unreached /></div>
    <div class="flex items-baseline gap-5">
      <h2>What was sent, by person</h2>
      <label class="text-row"
        >show <select class="pick" bind:value={only}>
          <option value="">all</option>
          {#each Object.entries(states) as [key, [name]] (key)}<option value={key}>{name}</option>{/each}
        </select></label
      >
    </div>
    {#each people as p, n (`${p.address}${n}`)}
      <details class="border-b border-rule" open={p.wrong > 0}>
        <summary class="flex min-h-chip cursor-pointer items-center gap-x-3 py-1"
          ><svg viewBox="0 0 10 10" class="fold size-2.5 shrink-0" aria-hidden="true"
            ><path d="M2 1l6 4-6 4Z" fill="currentColor" /></svg
          ><b class="min-w-0 break-all">{p.address}</b><span class="text-row text-soft"
            >{p.all.length} letter{p.all.length === 1 ? '' : 's'}, the last {momentAt(
              p.all[0]?.due_at ?? ''
            )}</span
          >{#if p.wrong}<b class="ml-auto text-row text-stop">{p.wrong} did not arrive</b>
          {:else if p.waits}<span class="ml-auto text-row text-watch">{p.waits} on the way</span
            >{/if}</summary
        >
        <ul class="mb-2 ml-4 text-row">
          {#each p.all as x (x.id)}<li
              class="grid grid-cols-[108px_1fr_190px] gap-x-3 border-t border-rule py-1.5"
            >
              <span>{momentAt(x.due_at)}</span>
              <span
                ><b>{x.subject}</b><span class="line-clamp-2 text-soft">{x.body.split('\n\n')[0]}</span></span
              >
              <span
                ><span class="font-bold {states[x.state][1]}"
                  >{states[x.state][0]}{x.way === 'device' ? ' as a notice' : ''}</span
                >{#if x.problem}<span class="block text-small"
                    >{x.problem}{x.tries > 1 ? ` Tried ${x.tries} times.` : ''}</span
                  >{/if}</span
              >
            </li>{/each}
        </ul>
      </details>
    {:else}<p class="py-3 text-soft">Nothing was sent yet.</p>{/each}
  </section>
</main>

<style>
  details[open] .fold {
    rotate: 90deg;
  }
</style>
