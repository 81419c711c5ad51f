<script lang="ts">
  import type { Schemas } from '../api/client'
  import { clock } from '../format'
  import PulseTrain from './PulseTrain.svelte'

  /** A session to true scale: what was done in ink, what was not pale, what hurt marked. */
  let {
    session,
    trains,
    seconds,
    width = 420,
    height = 22,
    ahead = false
  }: {
    session: Schemas['DrawnSessionView']
    trains: Schemas['TrainView'][]
    /** Seconds that the width stands for. */
    seconds: number
    width?: number
    height?: number
    /** Still to come: all of it pale, though nothing was left out. */
    ahead?: boolean
  } = $props()
  const scale = $derived(width / Math.max(seconds, 1))
  const words = { done: 'done', partly: 'partly done', skipped: 'left out', hurt: 'hurt', planned: 'planned' }
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  class="block overflow-visible"
  role="img"
  aria-label="{clock(session.seconds)}: {session.items
    .map((i) => `${i.name} ${words[i.outcome]}`)
    .join(', ')}"
>
  <path d="M0 {height / 2}H{session.seconds * scale}" stroke="var(--color-rule)" />
  {#each session.items as item, i (i)}
    {@const train = trains[item.train]}
    {#if train}
      {@const long = Math.max(train.total_s * scale, 2)}
      {@const x = (item.start_s + Math.max(0, item.length_s - train.total_s) / 2) * scale}
      <g transform="translate({x} 1)" opacity={ahead || item.done < 0.02 ? 0.32 : 1}>
        <title>{item.name}: {words[item.outcome]}</title>
        <PulseTrain {train} width={long} height={height - 2} seconds={train.total_s} label={item.name} />
        {#if item.outcome === 'partly'}<rect
            x={long * item.done}
            y="0"
            width={long * (1 - item.done)}
            height={height - 2}
            fill="var(--color-sheet)"
            opacity=".72"
          /><path
            d="M{long * item.done} -2V{height}"
            stroke="var(--color-mark-watch)"
            stroke-width="1.5"
          />{/if}
        {#if item.outcome === 'hurt'}<path
            d="M{long / 2 - 4} 1l8 8m0 -8l-8 8"
            stroke="var(--color-stop)"
            stroke-width="2.4"
          />{/if}
      </g>
    {/if}
  {/each}
</svg>
