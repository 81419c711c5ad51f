<script lang="ts">
  import type { Schemas } from '../api/client'
  import { daysBetween } from '../format'
  import PracticeBars from '../parts/PracticeBars.svelte'

  /** An alarm's evidence in miniature: bars of practice, a line of effort and soreness, or an empty frame. */
  let { row, alarm }: { row: Schemas['DeskRow']; alarm: Schemas['AlarmView'] } = $props()
  const wide = 124
  const x = (day: string) => wide - 6 - daysBetween(day, row.today) * 8.6
  const y = (n: number) => 34 - n * 3
  const efforts = $derived(row.feel.filter((f) => f.effort !== null))
  const sore = $derived(row.feel.filter((f) => f.soreness !== null))
</script>

{#if alarm.kind === 'sore' || (alarm.kind === 'review' && row.feel.length > 1)}
  <svg
    width={wide}
    height="38"
    role="img"
    aria-label="effort {efforts.map((f) => f.effort).join(', ')}; soreness {sore
      .map((f) => f.soreness)
      .join(', ')}, of 10, in two weeks"
  >
    <rect x="0" y={y(7)} width={wide} height={y(3) - y(7)} fill="var(--color-band)" opacity=".6" />
    <polyline
      points={efforts.map((f) => `${x(f.day)},${y(f.effort ?? 0)}`).join(' ')}
      fill="none"
      stroke="var(--color-ink)"
    />
    {#each efforts as f (f.day)}<circle
        cx={x(f.day)}
        cy={y(f.effort ?? 0)}
        r="2.4"
        fill="var(--color-ink)"
      />{/each}
    {#each sore as f (f.day)}<path
        d="M{x(f.day)} {y(f.soreness ?? 0) - 3.4}l3.4 3.4l-3.4 3.4l-3.4 -3.4Z"
        fill={(f.soreness ?? 0) > 5 ? 'var(--color-mark-watch)' : 'var(--color-paper)'}
        stroke="var(--color-watch)"
      />{/each}
  </svg>
{:else if alarm.kind === 'sitting'}
  <svg width={wide} height="44" aria-hidden="true">
    <rect
      x="1"
      y="1"
      width="32"
      height="42"
      fill="none"
      stroke="var(--color-soft)"
      stroke-dasharray="3 3"
    /><path d="M11 22h12m-6-6v12" stroke="var(--color-soft)" />
  </svg>
{:else if ['missed', 'overdone', 'review', 'corrected', 'over', 'pain'].includes(alarm.kind)}
  <PracticeBars days={row.days} width={wide} />
{:else}<span></span>{/if}
