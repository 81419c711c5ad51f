<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onDestroy, onMount } from 'svelte'
  import { words } from '$lib/api/client'
  import { days, done, due, load, now } from '$lib/offline/days.svelte'
  import { announce, Awake, hush, recall, helps } from '$lib/practice/helps.svelte'
  import { Mirror } from '$lib/practice/mirror.svelte'
  import { Player } from '$lib/practice/player.svelte'
  import { wake } from '$lib/practice/tones'
  import { session } from '$lib/session.svelte'
  import Finish from './Finish.svelte'
  import Hurts from './Hurts.svelte'
  import Ready from './Ready.svelte'
  import Skip from './Skip.svelte'
  import Stage from './Stage.svelte'

  let player = $state.raw<Player | null>(null)
  let problem = $state('')
  let asking = $state<'' | 'hurts' | 'skip'>('')
  const awake = new Awake()
  const mirror = new Mirror()

  onMount(async () => {
    document.documentElement.style.background = 'var(--color-night)'
    document.addEventListener('visibilitychange', awake.again)
    recall()
    try {
      await load(session.me?.client_id ?? '')
      if (!days.view) return (problem = days.problem)
      const day = now(days.view)
      const wanted = day?.parts.find(
        (p) => p.part === page.url.searchParams.get('part') && p.session && !done(day, p)
      )
      const found =
        day && wanted
          ? { part: wanted, session: days.view.sessions[wanted.session ?? ''] }
          : day && due(days.view, day)
      if (!day || !found?.session) return goto('/today')
      player = new Player(found.session, found.part, day.day)
      player.heard = (cue, before) => player && announce(player, cue, before)
    } catch (error) {
      problem = words(error)
    }
  })
  onDestroy(() => {
    player?.pause()
    hush()
    mirror.close()
    awake.release()
    document.removeEventListener('visibilitychange', awake.again)
    document.documentElement.style.background = ''
  })

  function begin() {
    wake()
    if (helps.mirror && !mirror.stream) void mirror.open()
    player?.start()
    void awake.hold()
  }

  function ask(what: 'hurts' | 'skip') {
    player?.pause()
    hush()
    asking = what
  }

  function goOn() {
    asking = ''
    player?.start()
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
    else if (event.key.toLowerCase() === 'h') ask('hurts')
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Practice · Dimbo</title><meta name="theme-color" content="#17111c" /></svelte:head>
<div class="min-h-[100dvh] bg-night text-night-text [--color-action:var(--color-night-text)]">
  <main class="mx-auto flex h-[100dvh] max-w-[620px] flex-col px-6 pt-4 pb-5 landscape:max-w-[1180px]">
    {#if problem}
      <p role="alert" class="mt-10 text-[22px]">{problem}</p>
      <a class="mt-6 text-[22px] underline" href="/today">Back</a>
    {:else if player?.finished}
      <Finish {player} />
    {:else if player && asking === 'hurts' && player.item}
      <Hurts
        item={player.item}
        stop={(pain) => {
          asking = ''
          player?.stop(pain)
        }}
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
      <Ready {player} {mirror} {begin} />
    {:else if player}
      <Stage {player} {mirror} hurts={() => ask('hurts')} skip={() => ask('skip')} />
    {:else}<p class="mt-10 text-[22px] text-night-soft" role="status">Reading your session …</p>{/if}
  </main>
</div>
