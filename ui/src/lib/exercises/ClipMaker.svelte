<script lang="ts">
  import { onDestroy } from 'svelte'
  import { words } from '$lib/api/client'
  import { Recorder } from './recorder.svelte'
  import { send } from './sending'
  import Shown from './Shown.svelte'

  /** A short clip and a picture of an exercise: recorded here or chosen, cut, and kept. Never required. */
  type Clip = { hash: string; seconds: number; sound: boolean }
  let {
    clip = $bindable(),
    picture = $bindable(),
    name
  }: { clip?: Clip | null; picture?: { hash: string } | null; name: string } = $props()

  const MOST_S = 60
  let sound = $state(false)
  let chosen = $state.raw<{ file: Blob; url: string; name: string } | null>(null)
  let length = $state(0)
  let from = $state(0)
  let to = $state(0)
  let sent = $state<number | null>(null)
  let problem = $state('')
  let film = $state<HTMLVideoElement>()
  let preview = $state<HTMLVideoElement>()
  const recorder = new Recorder(MOST_S, (file, seconds) => take(file, 'recorded.webm', seconds))
  $effect(() => {
    if (preview) preview.srcObject = recorder.stream
  })
  onDestroy(() => {
    recorder.leave()
    drop()
  })

  function drop() {
    if (chosen) URL.revokeObjectURL(chosen.url)
    chosen = null
  }
  /** `seconds` is known for what was recorded here: such files do not tell how long they are. */
  function take(file: Blob, called: string, seconds = 0) {
    drop()
    problem = ''
    chosen = { file, url: URL.createObjectURL(file), name: called }
    length = seconds
    from = 0
    to = Math.min(seconds, MOST_S)
  }
  function measured() {
    if (length || !film || !Number.isFinite(film.duration)) return
    length = film.duration
    to = Math.min(length, MOST_S)
  }
  function cut(end: 'from' | 'to', value: number) {
    if (end === 'from') {
      from = Math.max(0, Math.min(value, length - 0.5))
      to = Math.min(Math.max(to, from + 0.5), from + MOST_S, length)
    } else {
      to = Math.min(Math.max(value, 0.5), length)
      from = Math.max(Math.min(from, to - 0.5), to - MOST_S, 0)
    }
    if (film) film.currentTime = end === 'from' ? from : to
  }
  /** What plays is what will be kept. */
  function within() {
    if (film && !film.paused && (film.currentTime > to || film.currentTime < from - 0.3))
      film.currentTime = from
  }
  async function keep(kind: 'clip' | 'picture', file: Blob, called: string) {
    problem = ''
    sent = 0
    const ends = { from_s: String(from), to_s: String(to), sound: String(sound) }
    try {
      const kept = await send(kind === 'clip' ? { kind, ...ends } : { kind }, file, called, (s) => (sent = s))
      if (kind === 'clip') {
        clip = { hash: kept.hash, seconds: kept.seconds, sound: kept.sound }
        drop()
      } else picture = { hash: kept.hash }
    } catch (error) {
      problem = words(error)
    } finally {
      sent = null
    }
  }
  const s = (seconds: number) => `${seconds.toFixed(1)} s`
</script>

{#snippet end(name: string, which: 'from' | 'to', at: number)}
  <label class="grid grid-cols-[90px_1fr_60px] items-center gap-2 text-row"
    >{name}<input
      type="range"
      min="0"
      max={length}
      step="0.1"
      value={at}
      oninput={(e) => cut(which, e.currentTarget.valueAsNumber)}
    /><span class="text-right">{s(at)}</span></label
  >
{/snippet}

<div class="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-6">
  <section aria-label="Clip">
    <h4 class="font-bold">A short clip, if you like</h4>
    <p class="text-small text-soft">
      At most a minute; clients see it before they do the exercise for the first time, and when they ask for
      it. It is kept on their device. Left and right in it are your own.
    </p>
    {#if recorder.stream}
      <div class="relative mt-2">
        <video bind:this={preview} autoplay playsinline muted class="w-full -scale-x-100 bg-ink"></video>
        <p class="absolute top-2 left-3 text-huge font-bold text-white drop-shadow" aria-live="polite">
          {recorder.running ? s(recorder.seconds) : recorder.ready}
        </p>
      </div>
      <div class="mt-2 flex gap-3">
        {#if recorder.running}<button type="button" class="act" onclick={() => recorder.stop()}
            >Stop, it is all there</button
          >{/if}
        <button type="button" class="act act-quiet" onclick={() => recorder.leave()}>Leave it</button>
      </div>
    {:else if chosen}
      <video
        bind:this={film}
        class="mt-2 max-h-[320px] w-full bg-ink object-contain"
        src={chosen.url}
        controls
        playsinline
        muted={!sound}
        onloadedmetadata={measured}
        ondurationchange={measured}
        ontimeupdate={within}
        aria-label="The clip as it came"
      ></video>
      {#if length}
        <div class="mt-2 grid gap-1">
          {@render end('Begins at', 'from', from)}
          {@render end('Ends at', 'to', to)}
        </div>
        <p class="text-small text-soft">{s(to - from)} are kept of {s(length)}.</p>
      {/if}
      <label class="mt-1 flex items-center gap-2"
        ><input type="checkbox" bind:checked={sound} />Keep its sound</label
      >
      {#if sent !== null}
        <p class="mt-2" role="status">
          {sent < 1 ? `Sending, ${Math.round(sent * 100)} %` : 'Cutting it and making it small, some seconds'}
        </p>
        <progress class="w-full" value={sent < 1 ? sent : undefined}></progress>
      {:else}
        <div class="mt-2 flex gap-3">
          <button
            type="button"
            class="act"
            disabled={!length}
            onclick={() => chosen && keep('clip', chosen.file, chosen.name)}>Keep this clip</button
          >
          <button type="button" class="act act-quiet" onclick={drop}>Leave it</button>
        </div>
      {/if}
    {:else}
      {#if clip}<div class="mt-2"><Shown {clip} picture="" {name} /></div>
        <p class="text-small text-soft">
          {s(clip.seconds)}, {clip.sound ? 'with sound' : 'without sound'}.
          <button type="button" class="link" onclick={() => (clip = null)}>Take it off</button>
        </p>{/if}
      <div class="mt-2 flex flex-wrap items-center gap-3">
        <button type="button" class="act act-quiet" onclick={() => recorder.begin(sound)}
          >Record {clip ? 'another' : 'it here'}</button
        >
        <label class="act cursor-pointer act-quiet focus-within:outline-3"
          >Choose a file<input
            type="file"
            class="sr-only"
            accept="video/mp4,video/quicktime,video/webm"
            onchange={(e) => {
              const file = e.currentTarget.files?.[0]
              if (file) take(file, file.name)
              e.currentTarget.value = ''
            }}
          /></label
        >
        <label class="flex items-center gap-2 text-row"
          ><input type="checkbox" bind:checked={sound} />with sound</label
        >
      </div>
    {/if}
    {#if problem || recorder.problem}<p class="mt-2 text-stop" role="alert">
        {problem || recorder.problem}
      </p>{/if}
  </section>
  <section aria-label="Picture">
    <h4 class="font-bold">A picture, if you like</h4>
    <p class="text-small text-soft">Shown beside the figure. Only of you, or of who agreed to it.</p>
    {#if picture}<div class="mt-2"><Shown clip={null} picture={picture.hash} {name} /></div>
      <button type="button" class="text-small link" onclick={() => (picture = null)}>Take it off</button>{/if}
    <label class="mt-2 act w-fit cursor-pointer act-quiet focus-within:outline-3"
      >Choose a picture<input
        type="file"
        class="sr-only"
        accept="image/*"
        onchange={(e) => {
          const file = e.currentTarget.files?.[0]
          if (file) void keep('picture', file, file.name)
          e.currentTarget.value = ''
        }}
      /></label
    >
    {#if sent !== null && !chosen}<p role="status" class="mt-1">Sending, {Math.round(sent * 100)} %</p>{/if}
  </section>
</div>
