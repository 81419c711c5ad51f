<script lang="ts">
  import { onMount } from 'svelte'
  import { Problem, words } from '$lib/api/client'
  import CheckIn from '$lib/practice/CheckIn.svelte'
  import Habits from '$lib/practice/Habits.svelte'
  import Waiting from '$lib/practice/Waiting.svelte'
  import Zone from '$lib/practice/Zone.svelte'
  import { inWords, longDay, share } from '$lib/format'
  import SignsLink from '$lib/safety/SignsLink.svelte'
  import { begun, days, done, due, goOn, haltOf, load, now } from '$lib/offline/days.svelte'
  import type { Play } from '$lib/offline/db'
  import { handIn, heard, put, queue } from '$lib/offline/queue.svelte'
  import { Player } from '$lib/practice/player.svelte'
  import { alone, drop, playedOf, recall } from '$lib/practice/plays'
  import { session as signed, signIn } from '$lib/people/session.svelte'
  import AskAgain from './AskAgain.svelte'
  import Asked from './Asked.svelte'
  import Left from './Left.svelte'
  import News from './News.svelte'
  import Session from './Session.svelte'

  let problem = $state('')
  /** A session that was begun on this phone and neither ended nor handed in. */
  let left = $state.raw<Play | null>(null)
  const account = signed.me?.client_id ?? ''
  const view = $derived(days.view)
  const day = $derived(view ? now(view) : undefined)
  const next = $derived(view && day ? due(view, day) : null)
  const planned = $derived(day?.parts.filter((p) => p.session || p.done_at) ?? [])
  const finished = $derived(!!day && planned.length > 0 && planned.every((p) => view && done(view, day, p)))
  const halt = $derived(view ? haltOf(view) : '')
  const asks = $derived(!!view && !halt && (view.questions.length > 0 || view.no_age || !!view.to_agree))
  /** After a pause health comes before the session; what was answered here and waits passes for answered. */
  const askFirst = $derived(
    !!view?.ask?.first &&
      !halt &&
      !asks &&
      !queue.waiting.some(({ entry }) => entry.kind === 'asked' || entry.kind === 'answer')
  )
  /** A session of today that is done for the most part, and can be gone on with all the same. */
  const rest = $derived(
    finished && view && day
      ? day.parts.flatMap((part) => {
          const from = view && part.session ? begun(view, day, part) : null
          return from ? [{ part: part.part, at: from.at_s }] : []
        })[0]
      : undefined
  )
  const leftIsSame = $derived(
    !!left && !!day?.parts.some((p) => p.part === left?.part.part && p.session === left?.session.key)
  )
  const fresh = $derived(view?.messages.findLast((m) => m.by_coach && !m.read_at))

  async function read() {
    try {
      await load(account)
      await pickUp()
    } catch (error) {
      if (error instanceof Problem && error.status === 401) await signIn()
      else problem = words(error)
    }
  }
  /** What was played and never handed in: that of a session that was ended, or of a day that is over, goes by itself; the
   * rest can be gone on with. A page that plays right now is left alone. */
  async function pickUp() {
    const free = await alone(account, 0)
    if (!free) return
    try {
      const play = await recall(account)
      const today = days.view ? now(days.view) : undefined
      if (play && playedOf(play) < 1) return await drop(account)
      const over = play && today && (play.finished || play.day !== today.day || haltOf(days.view!))
      if (!over) {
        left = play
        return
      }
      await putAway(play)
    } finally {
      free()
    }
    await handIn()
    await load(account)
  }

  /** A play becomes a log that waits to be handed in. */
  async function putAway(play: Play) {
    await put(Player.of(play).log(null, null, ''))
    await drop(account)
    left = null
  }

  async function handOver(play: Play) {
    await putAway(play)
    await handIn()
    await load(account)
  }

  onMount(() => {
    void read()
    const still = goOn()
    const again = () => document.visibilityState === 'visible' && void read()
    document.addEventListener('visibilitychange', again)
    window.addEventListener('online', again)
    return () => {
      heard()
      still()
      document.removeEventListener('visibilitychange', again)
      window.removeEventListener('online', again)
    }
  })
  let waited = 0
  $effect(() => {
    const waits = queue.waiting.length
    if (waited && !waits) void read() // all is handed in: the server's view holds again
    waited = waits
  })
</script>

<svelte:head><title>Today · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pb-10 text-sub">
  {#if problem || days.problem}<p role="alert" class="mt-4 text-stop">{problem || days.problem}</p>{/if}
  <Waiting halted={!!halt} />
  {#if view}
    <Zone zone={view.time_zone} moved={read} />
    {#if day}<p class="text-soft">
        {longDay(day.day)}{days.offline ? ', without a connection' : ''}
      </p>{/if}
    {#if halt}
      <p
        role="alert"
        class="mt-2 border-[4px] border-stop bg-sheet p-4 text-big leading-[1.25] font-bold text-stop"
      >
        {halt}
      </p>
      <p class="mt-3">Nothing is planned until then, and nothing has to be made up.</p>
    {:else if !day}
      <h1 class="mt-1 text-display">Connect once</h1>
      <p class="mt-2">
        The days that this phone had kept are over. Open this page while you are online, and the next ones are
        here.
      </p>
    {:else if asks}
      <Asked {view} />
    {:else if askFirst}
      <AskAgain {view} halted={read} />
    {:else if view.ask?.first}
      <h1 class="mt-1 text-display">Thank you</h1>
      <p class="mt-2">
        {queue.held
          ? 'Your answer is kept on this phone. Your session appears as soon as there is a connection.'
          : 'Your answer is on its way, and your session appears here.'}
      </p>
    {:else if left}
      <Left play={left} same={leftIsSame} handOver={() => left && handOver(left)} />
    {:else if next}
      <Session {view} {day} part={next.part} session={next.session} />
    {:else if finished}
      <h1 class="mt-1 text-display">Done for today</h1>
      <p class="mt-2">
        Nothing more is planned today; resting is part of the plan.
        {#if rest}You left off at {inWords(rest.at)}:
          <a class="inline-flex min-h-touch items-center link" href="/practice?part={rest.part}"
            >go on with the rest</a
          >, if you like.{/if}
      </p>
    {:else if day.paused}
      <h1 class="mt-1 text-display">A pause</h1>
    {:else if view.titles.length}
      <h1 class="mt-1 text-display">A rest day</h1>
      <p class="mt-2">
        {view.next_day
          ? 'No session is planned.'
          : 'This program is at its end; your coach plans what comes next.'} There is nothing to make up.
      </p>
    {:else}
      <h1 class="mt-1 text-display">Welcome, {view.name.split(' ')[0]}</h1>
      <p class="mt-2">
        Your coach at {view.practice_name} has not assigned a program yet. It appears here when it begins.
      </p>
    {/if}
    {#if !next && view.next_day && !halt && !asks}<p class="mt-2">Next: {longDay(view.next_day)}.</p>{/if}
    {#each view.notes as note (note)}<p class="mt-3 border-l-4 border-mark-fine pl-3">{note}</p>{/each}
    {#if view.missed && !finished && view.titles.length}
      <p class="mt-3">
        {view.missed === 1 ? 'One day was' : `${view.missed} days were`} not practised. That happens; go on where
        the plan stands. Nothing is made up.
      </p>
    {/if}
    {#if !halt}
      <News {view} {fresh} {day} />
      <CheckIn {view} />
      {#if day?.habits.length}<Habits {day} />{/if}
    {/if}
    {#if !halt && !asks}
      {#if !askFirst}<AskAgain {view} halted={read} />{/if}
    {/if}
    {#if !halt}<p class="mt-3"><SignsLink {view} /></p>{/if}
    <footer class="mt-8 flex flex-wrap gap-x-6 border-t border-rule pt-2 text-lead">
      {#if view.titles.length && !halt}<a class="inline-flex min-h-touch items-center link" href="/by-hand"
          >Practised without the phone?</a
        >{/if}
      {#if view.planned}<span class="inline-flex min-h-touch items-center text-soft"
          >this week done {share(view.done)} of {view.planned}</span
        >{/if}
    </footer>
  {:else if !problem && !days.problem}<p class="mt-6 text-soft" role="status">Reading your day …</p>{/if}
</main>
