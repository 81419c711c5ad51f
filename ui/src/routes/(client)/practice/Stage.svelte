<script lang="ts">
  import { clock } from '$lib/format'
  import type { Mirror } from '$lib/practice/mirror.svelte'
  import type { Player } from '$lib/practice/player.svelte'
  import Figure from '$lib/signature/Figure.svelte'
  import type { FigureData } from '$lib/signature/figure'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'
  import Paused from './Paused.svelte'
  import { helps } from '$lib/practice/helps.svelte'
  import { beginsOf, onStage, targetsOf } from '$lib/practice/on_stage'
  import { tick } from '$lib/practice/tones'

  /** One cue at a time: side, count, what to do, and where the session stands. A tap anywhere pauses. */
  let {
    player,
    mirror,
    hurts,
    skip,
    changed
  }: {
    player: Player
    mirror: Mirror
    hurts: () => void
    skip: () => void
    changed: () => void
  } = $props()

  const still = matchMedia('(prefers-reduced-motion: reduce)').matches
  const cue = $derived(player.cue)
  const item = $derived(player.item)
  const stage = $derived(
    onStage({ session: player.session, cue, item, at: player.at, staying: player.staying })
  )
  const { count, after, said, side, waiting } = $derived(stage)
  /** A movement has its own beat, softly. */
  const beat = $derived(player.playing ? stage.beat : -1)
  $effect(() => {
    if (beat > 0 && helps.tones) tick()
  })
  const targets = $derived(targetsOf(item, side))
  const sideWord = $derived(side ? `Your ${side} side` : 'Both sides')
  const sideInk = $derived(
    side === 'right' ? 'text-night-right' : side === 'left' ? 'text-night-left' : 'text-night-text'
  )
  const scale = $derived(342 / player.session.seconds)
  const begins = $derived(beginsOf(player.session))
  const cursor = $derived(still ? Math.floor(player.within) : player.within)
  /** The figure follows the count through the work; before it and between exercises it shows by itself how it is done. */
  const paced = $derived(
    cue?.rep && item
      ? {
          beat: cue.beat,
          progress: Math.min(1, (player.at - cue.start_s) / cue.length_s),
          seconds: player.at - cue.start_s,
          every: item.beat_s,
          rep: cue.rep,
          reps: cue.reps
        }
      : cue?.beat === 'rest' || cue?.beat === 'pause'
        ? { beat: cue.beat, progress: 0, seconds: 0, every: 0, rep: 0, reps: 0 }
        : null
  )
  const seen = $derived(
    item?.figure.view === 'behind'
      ? 'From behind'
      : item?.figure.view === 'side'
        ? 'From the side'
        : 'As in a mirror'
  )
  let video = $state<HTMLVideoElement>()
  $effect(() => {
    if (video) video.srcObject = mirror.stream
  })
</script>

<div class="flex items-center justify-between gap-2 text-big max-[359px]:text-sub">
  <span class="whitespace-nowrap"><b>{clock(player.left)}</b> <span class="text-night-soft">left</span></span>
  <button
    class="min-h-touch px-1 text-head whitespace-nowrap text-night-soft underline max-[359px]:text-sub"
    onclick={() => player.end()}>End for today</button
  >
  <span class="whitespace-nowrap text-night-soft"
    >{(cue?.item ?? 0) + 1} of {player.session.items.length}</span
  >
</div>
<svg
  viewBox="0 0 342 14"
  preserveAspectRatio="none"
  class="mt-1 h-[14px] w-full shrink-0"
  role="img"
  aria-label="{Math.round(100 * player.share)} % of the session"
>
  {#each player.session.items as entry, i (i)}
    <rect
      x={(begins[i] ?? 0) * scale}
      y="3"
      width={Math.max(1, entry.seconds * scale - 1.5)}
      height="8"
      fill={i === cue?.item
        ? 'var(--color-night-text)'
        : i < (cue?.item ?? 0)
          ? 'var(--color-night-past)'
          : 'var(--color-night-next)'}
    />
  {/each}
  <path d="M{342 * player.share} 0V14" stroke="var(--color-night-text)" stroke-width="2.5" />
</svg>
<h1 class="sr-only">Your session</h1>
<p class="sr-only text-big" aria-live="polite">{item?.name}, {sideWord}. {item?.prepare.join(', ')}</p>

<button
  type="button"
  class="stage min-h-0 grow text-left [--color-action:var(--color-night-text)]"
  class:mirrored={mirror.stream}
  class:still={!player.playing}
  onclick={() => player.toggle()}
  aria-label={player.playing ? 'Pause' : 'Go on'}
>
  <span class="head">
    <span class="mt-3 block font-head text-huge leading-[1.1] font-bold"
      ><span class="text-night-soft">{cue?.beat === 'change' ? 'Next: ' : ''}</span>{item?.name}</span
    >
    <span class="mt-1 block text-huge">
      {#if !cue?.breath || cue.with_breath}<b class={sideInk}>{sideWord}</b
        >{/if}{#if cue && cue.sets > 1 && cue.set_number}, set {cue.set_number}
        of {cue.sets}{/if}
      {#if cue?.direction}<span class="block text-big">{cue.direction}</span>{/if}
    </span>
  </span>
  <span class="face relative block min-h-0">
    <span class="absolute inset-0 flex flex-col">
      <span class="text-head leading-tight text-night-soft landscape:text-right">{seen}</span>
      <span class="relative min-h-0 grow">
        {#if mirror.stream}
          <video
            bind:this={video}
            autoplay
            playsinline
            muted
            class="absolute inset-0 h-full w-full -scale-x-100 rounded object-cover"
            aria-label="You, as in a mirror"
          ></video>
        {/if}
        {#if item}<span class="absolute {mirror.stream ? 'right-1 bottom-1 h-2/5 w-2/5' : 'inset-0'}"
            ><Figure
              figure={{ ...(item.figure as FigureData), one_side: item.figure.one_side || !!side }}
              fills={targets}
              side={side ?? 'right'}
              mirror
              night
              count={paced}
              label="{item.name}, {seen.toLowerCase()}"
            /></span
          >{/if}
      </span>
    </span>
  </span>
  <span class="count flex min-h-0 flex-col justify-end">
    <span class="block text-title leading-none font-bold" aria-live="assertive"
      >{player.playing ? stage.word : 'Paused'}</span
    >
    <span class="mt-2 block font-head text-[min(37vw,22vh,160px)] leading-[0.8] font-bold tracking-tighter"
      >{count}</span
    >
  </span>
  <span class="after mt-3 block text-big text-night-soft"
    >{after}{#if cue && cue.reps > 1}; {cue.rep} of {cue.reps}{/if}</span
  >
  <span class="train mt-4 block">
    {#if item}<PulseTrain
        train={item.train}
        width={342}
        height={50}
        cursor={Math.min(cursor, item.train.total_s)}
        night
        label="where you are in {item.name}"
      />{/if}
  </span>
  {#if player.playing}
    <span class="said mt-4 mb-3 block min-h-wet text-huge leading-[1.22] font-semibold">
      {said}
      {#if player.isEased && item?.eased && !waiting}<span class="block text-big leading-tight font-normal"
          >Easier: {item.eased}</span
        >{/if}
    </span>
  {/if}
</button>
{#if player.notice}<p class="mb-2 rounded bg-night-raised px-3 py-2 text-head leading-tight" role="status">
    {player.notice}
  </p>{/if}
{#if player.told}<p
    class="mb-2 flex items-center justify-between gap-3 rounded bg-night-raised px-3 py-1 text-head"
    role="status"
  >
    <span
      >{player.told.name} is stopped{player.told.more.length
        ? `, and ${player.told.more.length} that share what hurts`
        : ''}; your coach is told.</span
    >
    <button class="min-h-press shrink-0 font-bold underline" onclick={() => player.takeBack()}
      >Take it back</button
    >
  </p>{/if}
{#if !player.playing}<Paused {player} {mirror} {skip} {changed} />{/if}
{#if player.canStay}<button
    class="mb-2 min-h-hand shrink-0 rounded border-2 border-night-soft text-big font-semibold"
    onclick={() => player.stay()}>Tender? Stay here, 10 s longer</button
  >{/if}
<div class="bar grid shrink-0 grid-cols-[1fr_auto] items-center gap-4">
  <button
    class="flex min-h-wet items-center justify-center gap-3 rounded bg-night-text text-huge font-bold text-stop"
    onclick={hurts}
  >
    <svg viewBox="0 0 16 16" class="size-7" aria-hidden="true"
      ><path d="M5 .8h6L15.2 5v6L11 15.2H5L.8 11V5Z" fill="var(--color-stop)" /><path
        d="M4 8h8"
        stroke="var(--color-white)"
        stroke-width="2.4"
      /></svg
    >
    It hurts
  </button>
  <span class="foot w-[128px] text-right text-head leading-tight text-night-soft">
    <span class="hint">{player.playing ? 'Tap anywhere to pause' : 'Tap above to go on'}</span>
    <span class="beside text-left text-big leading-tight font-semibold text-night-text" aria-hidden="true"
      >{player.playing ? said : ''}</span
    >
  </span>
</div>

<style>
  .stage {
    display: grid;
    grid-template:
      'head head' auto
      'count face' minmax(0, 1fr)
      'after after' auto
      'train train' auto
      'said said' auto / minmax(118px, 1fr) minmax(0, 1.6fr);
    column-gap: 12px;
  }
  .head {
    grid-area: head;
  }
  .face {
    grid-area: face;
  }
  .count {
    grid-area: count;
  }
  .after {
    grid-area: after;
  }
  .train {
    grid-area: train;
  }
  .said {
    grid-area: said;
  }
  @media (orientation: landscape) {
    .stage {
      grid-template:
        'head face' auto
        'count face' minmax(0, 1fr)
        'after face' auto
        'train face' auto
        'said face' auto / minmax(0, 1.1fr) minmax(0, 1fr);
    }
  }
  .mirrored {
    grid-template-columns: 104px minmax(0, 1fr);
  }
  .beside {
    display: none;
  }
  @media (orientation: landscape) {
    .mirrored {
      grid-template-columns: minmax(0, 1fr) minmax(0, 1.2fr);
    }
  }
  /* A small phone, standing still: the keys need the room; what is done stands above them. */
  @media (orientation: portrait) and (max-height: 720px) {
    .still {
      grid-template-rows: auto 0 0 0 0;
      overflow: hidden;
    }
    .still .count,
    .still .face,
    .still .after,
    .still .train {
      display: none;
    }
  }
  /* A phone on its side: what is said stands beside the stop, so that the count keeps its size. */
  @media (orientation: landscape) and (max-height: 520px) {
    .stage {
      grid-template-rows: auto minmax(0, 1fr) auto 0 0;
    }
    .train,
    .said,
    .hint,
    .still .count,
    .still .after {
      display: none;
    }
    .after {
      margin: 4px 0 8px;
    }
    .bar {
      grid-template-columns: 240px 1fr;
    }
    .foot {
      width: auto;
    }
    .beside {
      display: block;
    }
  }
</style>
