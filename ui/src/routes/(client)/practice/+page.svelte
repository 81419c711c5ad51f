<script lang="ts">
  import { goto } from '$app/navigation'
  import { onDestroy, onMount } from 'svelte'
  import { api, ask, words } from '$lib/api/client'
  import { clock } from '$lib/format'
  import { Player } from '$lib/practice/player.svelte'
  import { wake } from '$lib/practice/tones'
  import Finish from './Finish.svelte'
  import Hurts from './Hurts.svelte'
  import Stage from './Stage.svelte'

  let player = $state.raw<Player | null>(null)
  let problem = $state('')
  let hurting = $state(false)
  let lock: WakeLockSentinel | null = null

  onMount(async () => {
    document.documentElement.style.background = 'var(--color-night)'
    try {
      const today = await ask(api.GET('/api/today'))
      if (!today.session || today.done_at) return goto('/today')
      player = new Player(today.session)
    } catch (error) {
      problem = words(error)
    }
  })
  onDestroy(() => {
    player?.pause()
    document.documentElement.style.background = ''
    void lock?.release()
  })

  async function begin() {
    wake()
    player?.start()
    try {
      lock = (await navigator.wakeLock?.request('screen')) ?? null
    } catch {
      lock = null // the screen may dim; practice goes on by its tones
    }
  }

  function keys(event: KeyboardEvent) {
    if (!player || hurting || player.finished || event.target instanceof HTMLButtonElement) return
    if (event.key === ' ') {
      event.preventDefault()
      if (player.started) player.toggle()
      else void begin()
    } else if (event.key === 'ArrowRight') player.skip()
    else if (event.key.toLowerCase() === 'h') stop()
  }

  function stop() {
    player?.pause()
    hurting = true
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Practice · Dimbo</title><meta name="theme-color" content="#17111c" /></svelte:head>
<div class="min-h-[100dvh] bg-night text-night-text [--color-action:var(--color-night-text)]">
  <main class="mx-auto flex h-[100dvh] max-w-[620px] flex-col px-6 pt-4 pb-5">
    {#if problem}
      <p role="alert" class="mt-10 text-[22px]">{problem}</p>
      <a class="mt-6 text-[22px] underline" href="/today">Back</a>
    {:else if player?.finished}
      <Finish {player} />
    {:else if player && hurting && player.item}
      <Hurts
        item={player.item}
        stop={(side, level, where) => {
          hurting = false
          player?.hurts(side, level, where)
        }}
        back={() => {
          hurting = false
          player?.start()
        }}
      />
    {:else if player && !player.started}
      <h1 class="mt-6 text-[40px]">{clock(player.session.seconds)}</h1>
      <p class="mt-2 text-[22px]">
        {player.session.items.length} exercises. Prop the phone where you see it; after this you need no hands.
      </p>
      <ul class="mt-4 list-disc pl-6 text-[20px] text-night-soft">
        {#each [...new Set(player.session.items.flatMap((i) => i.needs))] as need (need)}<li>
            {need}
          </li>{/each}
      </ul>
      <div class="mt-auto grid gap-4">
        <button class="min-h-[84px] rounded bg-night-text text-[30px] font-bold text-night" onclick={begin}
          >Begin</button
        >
        <a href="/today" class="min-h-[44px] text-center text-[20px] text-night-soft underline">Not now</a>
      </div>
    {:else if player}
      <Stage {player} hurts={stop} />
    {/if}
  </main>
</div>
