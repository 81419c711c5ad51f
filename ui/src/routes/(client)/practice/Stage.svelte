<script lang="ts">
  import { clock } from '$lib/format'
  import type { Player } from '$lib/practice/player.svelte'
  import type { Fills } from '$lib/signature/face-map'
  import Figure from '$lib/signature/Figure.svelte'
  import type { FigureData } from '$lib/signature/figure'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'

  /** One cue at a time: side, count, what to do, and where the session stands. A tap anywhere pauses. */
  let { player, hurts }: { player: Player; hurts: () => void } = $props()

  const cue = $derived(player.cue)
  const item = $derived(player.item)
  const pace = $derived(player.session.pace_s)
  const into = $derived(cue ? player.at - cue.start_s : 0)
  const leftOf = $derived(cue ? cue.length_s - into : 0)
  /** Counting up while holding, down while waiting. */
  const count = $derived(
    cue && (cue.beat === 'hold' || cue.beat === 'move')
      ? Math.min(Math.floor(into / pace) + 1, Math.max(1, Math.round(cue.length_s / pace)))
      : Math.max(1, Math.ceil(leftOf / pace))
  )
  const total = $derived(cue ? Math.max(1, Math.round(cue.length_s / pace)) : 1)
  const breathes = $derived(item?.train.phases[0]?.kind === 'breaths')
  const verb = $derived(
    cue
      ? {
          setup: 'Get ready',
          lead: breathes ? 'Breathe in' : 'Move in',
          hold: 'Hold',
          release: breathes ? 'Breathe out' : 'Let go',
          move: 'Keep going',
          rest: 'Rest',
          pause: 'Pause',
          settle: 'Settle',
          change: 'Next'
        }[cue.beat]
      : ''
  )
  const after = $derived(
    cue?.beat === 'hold'
      ? `of ${total} counts, then let go`
      : cue?.beat === 'move'
        ? `of ${total} counts`
        : cue?.beat === 'change' || cue?.beat === 'setup'
          ? 'seconds to place your hands'
          : 'counts left'
  )
  /** Cues of the card in their order: one per repetition, then again from the second. */
  const spoken = $derived.by(() => {
    const lines = item?.cues ?? []
    if (!cue || cue.beat === 'setup' || cue.beat === 'change') return lines[0] ?? ''
    if (cue.beat === 'rest' || cue.beat === 'settle') return 'Soften everything. Breathe.'
    if (breathes) return lines[cue.beat === 'lead' ? 1 : 2] ?? ''
    return lines[1 + ((Math.max(cue.rep, 1) - 1) % Math.max(1, lines.length - 1))] ?? lines[0] ?? ''
  })
  /** What works now: both sides, or the side whose turn it is. */
  const targets = $derived.by((): Fills | null => {
    const muscles = Object.entries(item?.muscles ?? {})
    if (!muscles.length) return null
    return Object.fromEntries(
      muscles.map(([m, share]) => [m, cue?.side ? { [cue.side]: share } : { right: share, left: share }])
    )
  })
  const sideWord = $derived(cue?.side ? `Your ${cue.side} side` : 'Both sides')
  const sideInk = $derived(
    cue?.side === 'right' ? 'text-night-right' : cue?.side === 'left' ? 'text-night-left' : 'text-night-text'
  )
  const scale = $derived(342 / player.session.seconds)
</script>

<div class="flex items-baseline justify-between text-[22px]">
  <span><b>{clock(player.left)}</b> <span class="text-night-soft">left</span></span>
  <span class="text-night-soft">{(cue?.item ?? 0) + 1} of {player.session.items.length}</span>
</div>
<svg
  viewBox="0 0 342 14"
  class="mt-1 w-full"
  role="img"
  aria-label="{Math.round((100 * player.at) / player.session.seconds)} % of the session"
>
  {#each player.session.items as entry, i (i)}
    {@const own = player.session.cues.filter((c) => c.item === i && c.beat !== 'change')}
    {@const from = own[0]?.start_s ?? 0}
    <rect
      x={from * scale}
      y="3"
      width={Math.max(1, entry.seconds * scale - 1.5)}
      height="8"
      fill={i === cue?.item ? 'var(--color-night-text)' : i < (cue?.item ?? 0) ? '#8f8496' : '#4a3f52'}
    />
  {/each}
  <path d="M{player.at * scale} 0V14" stroke="var(--color-night-text)" stroke-width="2.5" />
</svg>

<button
  type="button"
  class="flex min-h-0 grow flex-col text-left [--color-action:var(--color-night-text)]"
  onclick={() => player.toggle()}
  aria-label={player.playing ? 'Pause' : 'Go on'}
>
  <span class="mt-3 font-head text-[27px] leading-[1.1] font-bold">{item?.name}</span>
  <span class="mt-1 text-[24px]">
    {#if !breathes}<b class={sideInk}>{sideWord}</b>{/if}{#if cue && cue.sets > 1 && cue.set_number}, set {cue.set_number}
      of {cue.sets}{/if}
    {#if cue?.direction}<span class="block text-[22px]">{cue.direction}</span>{/if}
    {#if item?.eased_for}<span class="block text-[20px] leading-tight">Eased: {item.eased}</span>{/if}
  </span>
  <span class="mt-2 grid min-h-0 grow grid-cols-[minmax(120px,1fr)_minmax(0,1.35fr)] gap-x-3">
    <span class="flex min-h-0 flex-col">
      <span class="text-[20px] leading-tight text-night-soft"
        >{item?.figure.view === 'behind' ? 'From behind' : 'As in a mirror'}</span
      >
      <span class="mt-auto block text-[30px] leading-none font-bold" aria-live="assertive"
        >{player.playing ? verb : 'Paused'}</span
      >
      <span class="mt-2 block font-head text-[min(37vw,24vh,160px)] leading-[0.8] font-bold tracking-tighter"
        >{count}</span
      >
    </span>
    <span class="relative block min-h-0"
      ><span class="absolute inset-0"
        >{#if item}<Figure
            figure={item.figure as FigureData}
            fills={targets ?? {}}
            side={cue?.side ?? 'right'}
            mirror
            night
            label="{item.name}, as in a mirror"
          />{/if}</span
      ></span
    >
  </span>
  <span class="mt-3 block text-[22px] text-night-soft"
    >{after}{#if cue && cue.reps > 1}; {cue.rep} of {cue.reps}{/if}</span
  >
  <span class="mt-4 block">
    {#if item}<PulseTrain
        train={item.train}
        width={342}
        height={50}
        cursor={Math.min(player.within, item.train.total_s)}
        night
        label="where you are in {item.name}"
      />{/if}
  </span>
  <span class="mt-4 mb-3 block min-h-[62px] text-[25px] leading-[1.22] font-semibold">{spoken}</span>
</button>
<div class="grid grid-cols-[1fr_auto] items-center gap-4">
  <button
    class="flex min-h-[68px] items-center justify-center gap-3 rounded bg-night-text text-[25px] font-bold text-stop"
    onclick={hurts}
  >
    <svg viewBox="0 0 16 16" class="size-7" aria-hidden="true"
      ><path d="M5 .8h6L15.2 5v6L11 15.2H5L.8 11V5Z" fill="var(--color-stop)" /><path
        d="M4 8h8"
        stroke="#fff"
        stroke-width="2.4"
      /></svg
    >
    It hurts
  </button>
  <span class="w-[128px] text-right text-[20px] leading-tight text-night-soft">
    {player.playing ? 'Tap anywhere to pause' : 'Tap above to go on'}
    <button class="mt-1 block min-h-[44px] w-full text-right underline" onclick={() => player.skip()}
      >Skip this</button
    >
  </span>
</div>
