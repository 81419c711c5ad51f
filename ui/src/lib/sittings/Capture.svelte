<script lang="ts">
  import { atClock } from '$lib/format'
  import { onDestroy, onMount } from 'svelte'
  import { attempt, type Schemas } from '$lib/api/client'
  import Mark from '$lib/parts/Mark.svelte'
  import Uploading from '$lib/parts/Uploading.svelte'
  import { take } from '$lib/parts/uploads.svelte'
  import AskFirst from './AskFirst.svelte'
  import { Camera } from './camera.svelte'

  /** Taking a sitting, by the coach or by the client alone: view after view, with the camera or from files. */
  let {
    base,
    load,
    ghost,
    done,
    own = false
  }: {
    base: string
    load: () => Promise<Schemas['TakingView']>
    ghost: (photograph: string) => string
    done: () => void
    /** Whether the client is speaking, not the coach. */
    own?: boolean
  } = $props()

  let view = $state<Schemas['TakingView'] | null>(null)
  let chosen = $state<string | null>(null)
  let problem = $state('')
  let files = $state<HTMLInputElement>()
  let video = $state<HTMLVideoElement>()
  let picture = $state<HTMLImageElement>()
  let waiting = $state(0)
  let busy = $state(false)
  let withGhost = $state(true)
  let timer: ReturnType<typeof setTimeout> | undefined
  // svelte-ignore state_referenced_locally
  const camera = new Camera(base)
  const to = $derived({ base })

  async function refresh() {
    clearTimeout(timer)
    await attempt(
      (why) => (problem = why),
      async () => {
        view = await load()
        problem = ''
        if (view.shots.some((s) => s.state === 'waiting' || s.state === 'working'))
          timer = setTimeout(refresh, 900)
      }
    )
  }
  onMount(() => {
    void refresh()
    camera.watch(() => (camera.kind === 'own' ? video : picture))
  })
  onDestroy(() => {
    clearTimeout(timer)
    camera.end()
  })
  $effect(() => {
    if (video && camera.stream) video.srcObject = camera.stream
  })

  const of = (id: string) => (view?.shots ?? []).filter((s) => s.view === id && s.confirmed)
  const good = (id: string) =>
    of(id).filter((s) => s.standing !== 'to be retaken' && s.state !== 'refused').length
  const next = $derived((view?.views ?? []).find((v) => good(v.id) < v.shots)?.id ?? null)
  const now = $derived(view?.views.find((v) => v.id === (chosen ?? next)) ?? view?.views[0])
  const total = $derived((view?.views ?? []).reduce((n, v) => n + v.shots, 0))
  const have = $derived((view?.views ?? []).reduce((n, v) => n + Math.min(good(v.id), v.shots), 0))
  const lastShot = $derived(now ? of(now.id).at(-1) : undefined)
  const ghostId = $derived(now && view?.ghosts[now.id])
  const loose = $derived((view?.shots ?? []).filter((s) => !s.confirmed))

  async function choose(id: string) {
    chosen = id === next ? null : id
    if (camera.kind === 'stand-in') await camera.refresh(id)
  }
  async function shoot() {
    if (!now || busy) return
    busy = true
    try {
      const file = await camera.shoot(video, now.id)
      if (file) {
        const before = now.id
        await take(to, [file], refresh, now.id)
        if (now && now.id !== before && camera.kind === 'stand-in') await camera.refresh(now.id)
      }
    } finally {
      busy = false
    }
  }
  function inThree() {
    if (waiting) return
    waiting = 3
    const tick = setInterval(() => {
      waiting -= 1
      if (!waiting) {
        clearInterval(tick)
        void shoot()
      }
    }, 1000)
  }
  function keys(e: KeyboardEvent) {
    if (e.code !== 'Space' || camera.kind === 'none') return
    if ((e.target as HTMLElement).closest('button, a, input, select, textarea')) return
    e.preventDefault()
    void shoot()
  }
  const checks = $derived.by((): [string, 'fine' | 'watch'][] => {
    const [l, most] = [camera.live, view?.live]
    if (!l || !most || camera.kind === 'none') return []
    const out: [string, 'fine' | 'watch'][] = [
      l.bright < most.dark
        ? ['too dark: bring more light to the face', 'watch']
        : l.bright > most.bright
          ? ['too bright: step away from the lamp', 'watch']
          : ['enough light', 'fine'],
      Math.abs(l.light) > most.sides
        ? [
            `${l.light > 0 ? 'left' : 'right'} side ${Math.round(Math.abs(l.light) * 100)} % brighter: turn toward the window`,
            'watch'
          ]
        : ['both sides alike', 'fine']
    ]
    if (l.tilt !== null)
      out.push(
        Math.abs(l.tilt) > most.tilt_deg
          ? [`device tilted by ${Math.round(Math.abs(l.tilt))}°`, 'watch']
          : ['device level', 'fine']
      )
    return out
  })
</script>

<svelte:window onkeydown={keys} />

{#if view?.halt}
  <section role="alert" class="border-mark-stop max-w-column border-l-4 pl-4">
    <h2 class="text-huge leading-[30px]">Stop here</h2>
    <p class="mt-2 text-head">{view.halt}</p>
    <p class="mt-2">Your coach is told. No photographs are taken now.</p>
  </section>
{:else if view?.health}<AskFirst {view} {own} answered={refresh} />
{:else if view && now}
  <div class="grid gap-5 lg:grid-cols-[minmax(0,430px)_1fr]">
    <div>
      <div class="flex items-center gap-3 text-row">
        <progress class="grow" max={total} value={have} aria-label="Shots taken"></progress>
        <b>{have >= total ? 'all taken' : `${total - have} left`}</b>
      </div>
      <p class="mt-1 text-row text-soft">
        {now.name}, shot {Math.min(good(now.id) + 1, now.shots)} of {now.shots}
      </p>
      <h2 class="text-big leading-[27px]">{now.say}</h2>
      <div class="relative mx-auto mt-2 aspect-[3/4] max-h-[56vh] max-w-full overflow-hidden bg-night">
        {#if camera.kind === 'own'}
          <video
            bind:this={video}
            autoplay
            playsinline
            muted
            class="absolute inset-0 size-full object-cover {camera.mirror ? '-scale-x-100' : ''}"
          ></video>
        {:else if camera.kind === 'stand-in'}
          <img
            bind:this={picture}
            src={camera.frame}
            alt="What the stand-in camera sees"
            class="absolute inset-0 size-full object-cover"
          />
        {:else}
          <div class="absolute inset-0 grid content-center justify-items-center gap-3 p-6 text-night-text">
            <button
              class="act w-full max-w-aside act-night"
              onclick={() => camera.own()}
              disabled={!view.may_keep}>Use the camera</button
            >
            <button
              class="act w-full max-w-aside act-night"
              onclick={() => files?.click()}
              disabled={!view.may_keep}>Upload photographs</button
            >
            {#if view.stand_in_camera}<button
                class="act w-full max-w-aside act-night"
                onclick={() => now && camera.standIn(now.id)}
                disabled={!view.may_keep}>Use the stand-in camera</button
              >{/if}
          </div>
        {/if}
        {#if camera.kind !== 'none'}
          {#if ghostId && withGhost}<img
              src={ghost(ghostId)}
              alt="The baseline, as a ghost"
              class="pointer-events-none absolute inset-0 size-full object-cover opacity-35 {camera.mirror
                ? '-scale-x-100'
                : ''}"
            />{/if}
          <svg
            viewBox="0 0 300 400"
            class="pointer-events-none absolute inset-0 size-full"
            aria-hidden="true"
          >
            {#if now.face === 'front'}
              <ellipse
                cx="150"
                cy="190"
                rx="82"
                ry="116"
                fill="none"
                stroke="var(--color-white)"
                stroke-width="1.6"
                opacity=".8"
              />
              <path
                d="M40 172H260M150 50V350"
                stroke="var(--color-white)"
                stroke-dasharray="3 6"
                opacity=".8"
              />
            {:else}<path
                d="M20 172H280"
                stroke="var(--color-white)"
                stroke-dasharray="3 6"
                opacity=".8"
              />{/if}
          </svg>
          <ul class="absolute inset-x-0 bottom-0 grid gap-1 p-2 text-row" aria-label="Right now">
            {#each checks as [text, weight] (text)}<li
                class="flex w-fit gap-2 bg-night/85 px-2 py-0.5 text-night-text {weight === 'watch'
                  ? 'font-bold'
                  : ''}"
              >
                <Mark {weight} />{text}
              </li>{/each}
          </ul>
          {#if waiting}<p
              class="absolute inset-0 grid place-content-center font-head text-count font-bold text-white"
              role="status"
            >
              {waiting}
            </p>{/if}
        {/if}
      </div>
      {#if camera.kind !== 'none'}
        <div class="mt-3 grid grid-cols-[1fr_auto] gap-2">
          <button class="act min-h-wet text-head" onclick={shoot} disabled={busy || !camera.ready}
            >{busy ? 'Sending …' : 'Take it'}</button
          >
          <button class="act min-h-wet act-quiet" onclick={inThree} disabled={busy || waiting > 0}
            >in 3 s</button
          >
        </div>
        <p class="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-row">
          {#if ghostId}<label class="flex items-center gap-1.5"
              ><input type="checkbox" bind:checked={withGhost} /> baseline as a ghost</label
            >{/if}
          {#if camera.kind === 'own'}<button class="link" onclick={() => camera.swap()}>Other camera</button
            >{/if}
          <button class="link" onclick={() => camera.stop()}>Stop the camera</button>
        </p>
      {/if}
      {#if camera.problem}<p role="alert" class="mt-2 text-stop">{camera.problem}</p>{/if}
      <input
        bind:this={files}
        type="file"
        multiple
        accept="image/jpeg,image/png,image/webp,image/heic,.heic"
        class="hidden"
        aria-label="Photographs"
        onchange={(e) => {
          const list = [...(e.currentTarget.files ?? [])]
          e.currentTarget.value = ''
          void take(to, list, refresh)
        }}
      />
      <Uploading {to} arrived={refresh} />
      {#if lastShot && (lastShot.change || lastShot.refusal || lastShot.state !== 'measured')}
        <p class="mt-3 flex gap-2 text-base" role="status">
          {#if lastShot.state === 'waiting' || lastShot.state === 'working'}
            <progress class="w-[90px]" aria-label="Measuring"></progress> measuring the last shot …
          {:else}<Mark
              weight={lastShot.standing === 'to be retaken' || lastShot.refusal ? 'stop' : 'watch'}
            /><span
              >{lastShot.refusal || lastShot.change}
              {#if lastShot.standing === 'to be retaken' || lastShot.refusal}<b>Take it again.</b>{/if}</span
            >{/if}
        </p>
      {/if}
    </div>
    <div>
      <h3 class="text-lead">{have} of {total} shots</h3>
      <ol class="mt-1 max-w-column">
        {#each view.views as v (v.id)}
          <li>
            <button
              class="flex w-full items-center gap-3 border-b border-rule py-2 text-left {v.id === now.id
                ? 'bg-band font-bold'
                : ''}"
              aria-current={v.id === now.id ? 'step' : undefined}
              onclick={() => choose(v.id)}
            >
              <span class="w-[18px]"
                >{#if good(v.id) >= v.shots}<Mark weight="fine" />{/if}</span
              >
              <span class="grow">{v.name}</span>
              <span class="text-row font-normal text-soft"
                >{good(v.id)} of {v.shots}{#if of(v.id).length > good(v.id)}, {of(v.id).length - good(v.id)} to
                  retake{/if}</span
              >
            </button>
          </li>
        {/each}
      </ol>
      {#if loose.length}
        <p class="mt-3 text-row">
          {loose.length} uploaded photograph{loose.length === 1 ? '' : 's'} without a view yet; {own
            ? 'your coach confirms them.'
            : 'views are suggested once measured, and you confirm them on the sittings page.'}
        </p>
      {/if}
      {#if camera.kind !== 'none'}<button class="mt-3 link" onclick={() => files?.click()}
          >Upload photographs instead</button
        >{/if}
      <div class="mt-4">
        <button class="act {have >= total ? '' : 'act-quiet'}" onclick={done}
          >{have >= total ? 'All taken' : own ? 'Hand in what there is' : 'Look at them'}</button
        >
      </div>
      <h3 class="mt-6 text-lead">What stays alike every time</h3>
      <ul class="mt-1 max-w-[52ch] list-disc space-y-1 pl-5 text-row">
        {#each view.setting as s (s)}<li>{s}</li>{/each}
        {#if view.baseline_clock}<li>The first sitting was at <b>{atClock(view.baseline_clock)}</b>.</li>{/if}
        {#if view.hint}<li>To tell the sides apart: {view.hint}</li>
        {:else if !view.baseline_clock}<li>
            In the very first picture, hold a slip with the letter R in {own ? 'your' : 'the client’s'} right hand,
            beside the shoulder: it shows that the picture is not mirrored.
          </li>{/if}
      </ul>
      {#if !view.may_keep}<p class="mt-4 text-stop">
          {own ? 'You have' : `${view.client_name} has`} not agreed that photographs are kept. {view.consent}
        </p>{/if}
    </div>
  </div>
{:else if problem}<p role="alert" class="text-stop">{problem}</p>{:else}<p class="text-soft">
    Opening the sitting …
  </p>{/if}
{#if view && problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
