<script lang="ts">
  import { onMount } from 'svelte'
  import OnThisDevice from '$lib/messages/OnThisDevice.svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { atClock, longDay } from '$lib/format'
  import { leave } from '$lib/people/session.svelte'
  import Helps from './Device.svelte'

  /** Reminders, the calendar, and what the messenger brought. */
  let reminders = $state<Schemas['RemindersView'] | null>(null)
  let feed = $state<Schemas['FeedView'] | null>(null)
  let letters = $state<Schemas['PostedView'][]>([])
  let link = $state('')
  let problem = $state('')
  let saved = $state('')
  let own = $state(false)
  let first = $state('21:30')
  let last = $state('07:00')

  const PAGES = [
    ['/my-account', 'Your account', 'name, password, devices'],
    ['/agreements', 'What you agreed to', 'and until when; you can choose otherwise'],
    ['/my-record', 'What is kept of you', 'who looked, take it with you, erase it']
  ] as const

  async function tried(work: () => Promise<void>) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await work()
      }
    )
  }
  onMount(() =>
    tried(async () => {
      reminders = await ask(api.GET('/api/my-reminders'))
      own = reminders.quiet !== null
      const quiet = reminders.quiet ?? reminders.practice_quiet
      first = quiet.first.slice(0, 5)
      last = quiet.last.slice(0, 5)
      feed = await ask(api.GET('/api/my-feed'))
      letters = await ask(api.GET('/api/my-outbox'))
    })
  )

  const keep = (on: boolean) =>
    tried(async () => {
      await ask(api.PUT('/api/my-reminders', { body: { on, quiet: own ? { first, last } : null } }))
      reminders = await ask(api.GET('/api/my-reminders'))
      saved = on ? 'Kept.' : 'No more reminders.'
    })
  const openFeed = () =>
    tried(async () => {
      link = location.origin + (await ask(api.POST('/api/my-feed'))).path
      feed = await ask(api.GET('/api/my-feed'))
    })
  const closeFeed = () =>
    tried(async () => {
      await ask(api.DELETE('/api/my-feed'))
      link = ''
      feed = await ask(api.GET('/api/my-feed'))
    })
  const states = {
    waiting: 'on its way',
    delivered: 'arrived',
    failed: 'did not arrive',
    withheld: 'held back'
  }
</script>

<svelte:head><title>Settings · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pb-10 text-sub">
  <h1 class="text-display">Settings</h1>
  <ul class="mt-2">
    {#each PAGES as [href, name, about] (href)}<li class="border-b border-rule">
        <a {href} class="flex min-h-hand items-center justify-between gap-3 py-1"
          ><span><b class="block">{name}</b><span class="text-lead text-soft">{about}</span></span><svg
            viewBox="0 0 12 12"
            class="size-4 shrink-0"
            aria-hidden="true"
            ><path d="M4 1l5 5-5 5" fill="none" stroke="var(--color-action)" stroke-width="2" /></svg
          ></a
        >
      </li>{/each}
  </ul>
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
  {#if reminders}
    <section class="mt-5">
      <h2 class="text-big">Reminders</h2>
      <p class="mt-1">
        {reminders.on
          ? 'At most one a session, at the time that you and your coach agreed on.'
          : 'You get no reminders.'}
      </p>
      <label class="mt-3 flex min-h-touch items-center gap-3"
        ><input type="checkbox" class="size-6 shrink-0" bind:checked={own} /> Quiet hours of my own</label
      >
      {#if own}
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2">
          <label>from <input class="field min-h-press w-[148px]" type="time" bind:value={first} /></label>
          <label>to <input class="field min-h-press w-[148px]" type="time" bind:value={last} /></label>
        </div>
      {:else}<p class="text-soft">
          Nothing comes between {atClock(reminders.practice_quiet.first)} and {atClock(
            reminders.practice_quiet.last
          )}.
        </p>{/if}
      <div class="mt-3 flex flex-wrap gap-3">
        <button class="act min-h-press" onclick={() => keep(true)}
          >{reminders.on ? 'Keep' : 'Remind me again'}</button
        >
        {#if reminders.on}<button class="act min-h-press act-quiet" onclick={() => keep(false)}
            >No reminders</button
          >{/if}
        {#if saved}<span role="status" class="self-center">{saved}</span>{/if}
      </div>
    </section>
  {/if}
  <div class="mt-8"><OnThisDevice /></div>
  {#if feed}
    <section class="mt-8">
      <h2 class="text-big">Your calendar</h2>
      <p class="mt-1">
        A private address that your calendar program reads by itself. Whoever has it sees when you practise,
        and nothing else.
      </p>
      {#if link}
        <p class="mt-2 border border-ink bg-sheet p-3 text-lead break-all">{link}</p>
        <p class="mt-1 text-lead text-soft">It is shown this once. Copy it into your calendar program now.</p>
      {:else if feed.open}<p class="mt-2">
          An address is in use{feed.read_at ? `, last read ${longDay(feed.read_at.slice(0, 10))}` : ''}.
        </p>{/if}
      <div class="mt-3 flex flex-wrap gap-3">
        <button class="act min-h-press" onclick={openFeed}
          >{feed.open ? 'Make a new address' : 'Make an address'}</button
        >
        {#if feed.open}<button class="act min-h-press act-quiet" onclick={closeFeed}>Close it</button>{/if}
        <a class="inline-flex min-h-press items-center link" href="/api/my-calendar.ics" download
          >Save as a file</a
        >
      </div>
    </section>
  {/if}
  <Helps />
  <section class="mt-8">
    <h2 class="text-big">What was sent to you</h2>
    <ul class="mt-1">
      {#each letters as x (x.id)}
        <li class="border-b border-rule py-2">
          <p class="flex justify-between gap-3">
            <b>{x.subject}</b><span class="text-base text-soft">{states[x.state]}</span>
          </p>
          <p class="text-lead whitespace-pre-line">{x.body.split('\n\n')[0]}</p>
        </li>
      {:else}<li class="py-2 text-soft">Nothing yet.</li>{/each}
    </ul>
  </section>
  <button class="mt-8 act min-h-press w-full act-quiet" onclick={leave}>Sign out</button>
</main>
