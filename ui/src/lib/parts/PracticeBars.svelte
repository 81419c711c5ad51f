<script lang="ts">
  import type { Schemas } from '../api/client'
  import { weekDay } from '../format'

  /** One thin bar per planned day: outline planned, fill done, what lies above plan drawn above the line. */
  let {
    days,
    width = 150,
    height = 34
  }: { days: Schemas['DayMark'][]; width?: number; height?: number } = $props()
  const step = $derived(Math.min(width / Math.max(days.length, 1), 13))
  /** Height above the line of what lies above plan: a whole plan more fills it. */
  const above = (d: Schemas['DayMark']) => Math.max(2, Math.min(d.over_share, 1) * (top - 1))
  const top = 11
  const words = $derived(
    days
      .map(
        (d) =>
          `${weekDay(d.day)} ${d.state}${d.over_share > 0.02 ? `, ${Math.round(100 * d.over_share)} % above plan` : ''}`
      )
      .join('; ')
  )
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="planned days: {words || 'none yet'}"
>
  <path d="M0 {top}H{width}" stroke="var(--color-ink)" stroke-width=".7" />
  {#each days as d, i (d.day)}
    {@const x = i * step + 1}
    {@const tall = height - top - 2}
    <title>{words}</title>
    {#if d.state === 'paused'}<path
        d="M{x - 2} {top + tall / 2}h9"
        stroke="var(--color-edge)"
        stroke-width="1.6"
        stroke-dasharray="2 2"
      />{:else if d.state !== 'extra'}<rect
        {x}
        y={top}
        width="5"
        height={tall}
        fill="none"
        stroke={d.state === 'open' ? 'var(--color-action)' : 'var(--color-faint)'}
        stroke-width=".8"
        stroke-dasharray={d.state === 'open' ? '2 2' : ''}
      />{/if}
    {#if d.share > 0}<rect {x} y={top} width="5" height={tall * d.share} fill="var(--color-ink)" />{/if}
    {#if d.over_share > 0.02}<rect
        {x}
        y={top - above(d)}
        width="5"
        height={above(d)}
        fill="var(--color-mark-watch)"
      />{/if}
    {#if d.state === 'skipped'}<path
        d="M{x} {height - 7}l5 5m0-5l-5 5"
        stroke="var(--color-edge)"
        stroke-width=".9"
      />{/if}
  {/each}
</svg>
