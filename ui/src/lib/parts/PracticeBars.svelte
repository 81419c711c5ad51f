<script lang="ts">
  import type { Schemas } from '../api/client'
  import { weekDay } from '../format'

  /** One thin bar per planned day: outline planned, fill done, what lies above plan drawn above the line. */
  let {
    days,
    width = 150,
    height = 30
  }: { days: Schemas['DayMark'][]; width?: number; height?: number } = $props()
  const step = $derived(Math.min(width / Math.max(days.length, 1), 13))
  const words = $derived(days.map((d) => `${weekDay(d.day)} ${d.state}`).join(', '))
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="planned days: {words || 'none yet'}"
>
  <path d="M0 6.5H{width}" stroke="var(--color-rule)" />
  {#each days as d, i (d.day)}
    {@const x = i * step + 1}
    {@const tall = height - 8}
    <title>{words}</title>
    <rect
      {x}
      y="6.5"
      width="5"
      height={tall}
      fill="none"
      stroke={d.state === 'open' ? 'var(--color-action)' : '#a99eac'}
      stroke-width=".8"
      stroke-dasharray={d.state === 'open' ? '2 2' : ''}
    />
    {#if d.share > 0}<rect {x} y="6.5" width="5" height={tall * d.share} fill="var(--color-ink)" />{/if}
    {#if d.over_s > 5}<rect {x} y="1" width="5" height="4.5" fill="var(--color-mark-watch)" />{/if}
    {#if d.state === 'skipped'}<path
        d="M{x} {height - 7}l5 5m0-5l-5 5"
        stroke="#8b7f90"
        stroke-width=".9"
      />{/if}
  {/each}
</svg>
