<script lang="ts">
  import { onDestroy } from 'svelte'
  import type { Schemas } from '$lib/api/client'
  import { onStage } from '$lib/practice/on_stage'
  import type { Session } from '$lib/practice/lay'
  import Figure from '$lib/signature/Figure.svelte'
  import type { FigureData } from '$lib/signature/figure'

  /** An exercise played as a client will see it the first time, once through its start dose. */
  let { played }: { played: Schemas['PlayedView'] } = $props()
  let at = $state(0)
  let running = $state(true)

  /** The exercise as the only one of a session, done for the first time. */
  const item = $derived({
    ...played.item,
    first_time: true,
    note: '',
    tender: '',
    prepare: []
  } as unknown as Session['items'][number])
  const session = $derived({ pace_s: played.pace_s, cues: played.cues, items: [item] } as unknown as Session)
  const total = $derived(played.cues.reduce((end, c) => Math.max(end, c.start_s + c.length_s), 0))
  const cue = $derived(played.cues.find((c) => at >= c.start_s && at < c.start_s + c.length_s))
  const stage = $derived(onStage({ session, cue, item, at, staying: 0 }))
  const count = $derived(
    cue?.rep
      ? {
          beat: cue.beat,
          progress: Math.min(1, (at - cue.start_s) / cue.length_s),
          seconds: at - cue.start_s,
          every: played.item.beat_s,
          rep: cue.rep,
          reps: cue.reps
        }
      : null
  )
  let last = performance.now()
  let frame = requestAnimationFrame(step)
  function step(now: number) {
    if (running) at = Math.min(total, at + (now - last) / 1000)
    if (at >= total) running = false
    last = now
    frame = requestAnimationFrame(step)
  }
  onDestroy(() => cancelAnimationFrame(frame))
</script>

<div class="bg-night p-4 text-night-text">
  <p class="text-big font-bold">{played.item.name || 'Without a name yet'}</p>
  <p class="text-row text-night-soft">
    {stage.side ? `Your ${stage.side} side` : 'Both sides'} · {played.item.dose}, {Math.round(
      played.item.seconds
    )} s
  </p>
  <div class="h-[300px]">
    <Figure
      figure={{
        ...(played.item.figure as FigureData),
        one_side: played.item.figure.one_side || !!stage.side
      }}
      side={stage.side ?? 'right'}
      mirror
      night
      {count}
      label={played.item.name}
    />
  </div>
  <p class="flex items-baseline gap-4">
    <span class="text-title font-bold">{at >= total ? 'Done' : stage.word}</span>
    <span class="text-huge font-bold">{at >= total ? '' : stage.count}</span>
    <span class="text-small text-night-soft">{at >= total ? '' : stage.after}</span>
  </p>
  <p class="min-h-lines text-big leading-tight">{stage.said}</p>
  <div class="mt-2 flex gap-3">
    <button
      type="button"
      class="min-h-hand rounded border border-night-soft px-3"
      onclick={() => {
        if (at >= total) at = 0
        running = !running
      }}>{running ? 'Pause' : at >= total ? 'Once more' : 'Go on'}</button
    >
    <input
      class="grow"
      type="range"
      min="0"
      max={total}
      step="0.1"
      aria-label="Where it stands"
      value={at}
      oninput={(e) => (at = e.currentTarget.valueAsNumber)}
    />
  </div>
</div>
