<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onDestroy, onMount } from 'svelte'
  import { words } from '$lib/api/client'
  import Changed from '$lib/safety/Changed.svelte'
  import Signs from '$lib/safety/Signs.svelte'
  import { begun, days, done, due, haltOf, load, now } from '$lib/offline/days.svelte'
  import { handIn, put, queue } from '$lib/offline/queue.svelte'
  import { endsSession, heldBack, stopsWith } from '$lib/practice/held'
  import { announce, Awake, hush, recall, helps } from '$lib/practice/helps.svelte'
  import { Mirror } from '$lib/practice/mirror.svelte'
  import { Player } from '$lib/practice/player.svelte'
  import type { Pain } from '$lib/offline/db'
  import { alone, drop, keep, keepNow, recall as recallPlay } from '$lib/practice/plays'
  import { wake } from '$lib/practice/tones'
  import { session } from '$lib/people/session.svelte'
  import Finish from './Finish.svelte'
  import Hurts from './Hurts.svelte'
  import Ready from './Ready.svelte'
  import Skip from './Skip.svelte'
  import Stage from './Stage.svelte'

  let player = $state.raw<Player | null>(null)
  let problem = $state('')
  let elsewhere = $state(false)
  let asking = $state<'' | 'hurts' | 'skip' | 'sign' | 'changed' | 'ended'>('')
  let free: (() => void) | null = null
  const account = session.me?.client_id ?? ''
  const awake = new Awake()
  const mirror = new Mirror()

  /** The session to play: the one that was begun on this device, or what is due. */
  async function found(): Promise<Player | null> {
    const view = days.view
    const day = view ? now(view) : undefined
    if (!view || !day || haltOf(view)) return null
    const kept = await recallPlay(account)
    if (kept && !kept.finished && kept.day === day.day) {
      const part = day.parts.find((p) => p.part === kept.part.part)
      // Only what still is the same session goes on: a plan or a lock that has changed meanwhile comes first.
      if (part?.session === kept.session.key) return Player.of(kept)
    }
    const wanted = day.parts.find((p) => p.part === page.url.searchParams.get('part') && p.session)
    const next =
      wanted && (!done(view, day, wanted) || begun(view, day, wanted))
        ? { part: wanted, session: view.sessions[wanted.session ?? ''] }
        : due(view, day)
    if (!next?.session) return null
    return new Player(next.session, next.part, day.day, account, begun(view, day, next.part))
  }

  onMount(async () => {
    document.documentElement.style.background = 'var(--color-night)'
    document.addEventListener('visibilitychange', awake.again)
    document.addEventListener('visibilitychange', leaving)
    window.addEventListener('pagehide', leaving)
    recall()
    try {
      free = await alone(account)
      if (!free) {
        elsewhere = true
        return
      }
      await load(account)
      if (!days.view) {
        problem = days.problem
        return
      }
      player = await found()
      if (!player) return void goto('/today')
      holdBack()
      player.heard = (cue, before) => player && announce(player, cue, before)
      player.kept = (play, last) => (last ? keepNow(play) : void keep(play))
    } catch (error) {
      problem = words(error)
    }
  })
  onDestroy(() => {
    player?.pause()
    player?.leave()
    hush()
    mirror.close()
    awake.release()
    free?.()
    document.removeEventListener('visibilitychange', awake.again)
    document.removeEventListener('visibilitychange', leaving)
    window.removeEventListener('pagehide', leaving)
    document.documentElement.style.background = ''
  })
  function leaving(event: Event) {
    if (event.type === 'pagehide' || document.visibilityState === 'hidden') player?.leave()
  }

  /** What was told here and has not arrived yet holds in this session at once. */
  function holdBack() {
    const [view, entries] = [days.view, queue.waiting.map((w) => w.entry)]
    if (view && player) player.leaveOut(heldBack(view, player.session, entries))
  }

  function begin() {
    wake()
    if (helps.mirror && !mirror.stream) void mirror.open()
    player?.start()
    void awake.hold()
  }

  function ask(what: 'hurts' | 'skip' | 'changed') {
    player?.pause()
    hush()
    asking = what
  }

  function goOn() {
    asking = ''
    player?.start()
  }

  /** A sudden sign was told: everything stops, and what was done until then is handed in. */
  async function halted() {
    hush()
    player?.end()
    if (player?.started) await put(player.log(null, null, ''))
    player?.close()
    await drop(account)
    player = null
    void handIn()
    await goto('/today')
  }

  function hurt(exercise: string, pain: Pain) {
    const view = days.view
    if (!view || !player) return
    const ends = endsSession(view, pain)
    asking = ends ? 'ended' : ''
    player.stop(exercise, pain, stopsWith(view, player.session, exercise, pain.where), ends)
  }

  function mistaken() {
    asking = ''
    player?.takeBack()
  }

  /** Something has changed and holds from here on; without a change practice just goes on. */
  function changed() {
    holdBack()
    goOn()
  }

  function keys(event: KeyboardEvent) {
    if (!player || asking || player.finished || event.ctrlKey || event.metaKey || event.altKey) return
    const button = event.target instanceof HTMLButtonElement || event.target instanceof HTMLInputElement
    if (event.key === ' ' && !button) {
      event.preventDefault()
      if (player.started) player.toggle()
      else begin()
    } else if (!player.started) return
    else if (event.key === 'ArrowLeft') player.back()
    else if (event.key === 'ArrowRight') ask('skip')
    else if (event.key.toLowerCase() === 'e') player.ease()
    else if (event.key.toLowerCase() === 's') player.stay()
    else if (event.key.toLowerCase() === 'h') ask('hurts')
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Practice · Dimbo</title><meta name="theme-color" content="#17111c" /></svelte:head>
<div class="min-h-[100dvh] bg-night text-night-text [--color-action:var(--color-night-text)]">
  <main class="mx-auto flex h-[100dvh] max-w-column-wide flex-col px-6 pt-4 pb-5 landscape:max-w-desk">
    {#if problem}
      <p role="alert" class="mt-10 text-big">{problem}</p>
      <a class="mt-6 text-big underline" href="/today">Back</a>
    {:else if elsewhere}
      <h1 class="mt-10 text-title">It runs in another window</h1>
      <p role="status" class="mt-3 text-big">
        A session of yours is open in another window or tab of this device. Go on there, or close it and open
        this one again; so nothing counts twice.
      </p>
      <button
        class="mt-6 min-h-wet rounded bg-night-text text-big font-bold text-night"
        onclick={() => location.reload()}>I have closed it</button
      >
      <a class="mt-4 flex min-h-press items-center justify-center text-head underline" href="/today"
        >Back to today</a
      >
    {:else if player && asking === 'sign' && days.view}
      <Signs view={days.view} night told={halted} back={() => (asking = 'hurts')} />
    {:else if player && asking === 'ended' && days.view}
      <div class="min-h-0 grow overflow-y-auto">
        <h1 class="mt-2 text-title">The session ends here</h1>
        <p class="mt-2 text-big">
          Such pain ends practice for today; your coach is told. {player.told ? '' : 'It is kept.'}
        </p>
        {#if player.told}<button class="min-h-press text-head underline" onclick={mistaken}
            >It was a mistake; take it back</button
          >{/if}
        <Signs
          view={days.view}
          night
          told={halted}
          none="None of these; end the session"
          back={() => (asking = '')}
        />
      </div>
    {:else if player && asking === 'changed' && days.view}
      <div class="min-h-0 grow overflow-y-auto">
        <Changed view={days.view} night {halted} told={changed} />
      </div>
    {:else if player?.finished}
      <Finish {player} />
    {:else if player && asking === 'hurts' && player.item}
      <Hurts
        {player}
        stop={hurt}
        ends={(pain) => !!days.view && endsSession(days.view, pain)}
        sign={() => (asking = 'sign')}
        back={goOn}
      />
    {:else if player && asking === 'skip' && player.item}
      <Skip
        name={player.item.name}
        skip={(reason) => {
          player?.skip(reason)
          if (player?.finished) asking = ''
          else goOn()
        }}
        back={goOn}
      />
    {:else if player && !player.started}
      <Ready {player} {mirror} {begin} lenses={!!days.view?.lenses} />
    {:else if player}
      <Stage
        {player}
        {mirror}
        hurts={() => ask('hurts')}
        skip={() => ask('skip')}
        changed={() => ask('changed')}
      />
    {:else}<p class="mt-10 text-big text-night-soft" role="status">Reading your session …</p>{/if}
  </main>
</div>
