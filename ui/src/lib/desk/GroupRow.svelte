<script lang="ts">
  import type { Schemas } from '../api/client'
  import { daysBetween, weekDay } from '../format'

  /** Somebody of a group on the group's ruler: the dose of each week as a step, every planned day, and how it felt. */
  let {
    member,
    first,
    weeks,
    width,
    most
  }: {
    member: Schemas['GroupMember']
    first: string
    weeks: number
    width: number
    /** The fullest day of anybody, in seconds, to which all doses are drawn. */
    most: number
  } = $props()
  const day = $derived(width / Math.max(7 * weeks, 1))
  const x = (iso: string) => daysBetween(first, iso) * day
  const dose = (w: Schemas['GroupWeek']) =>
    w.right_s + w.left_s > 0 ? Math.max(w.right_s, w.left_s) : w.hands_on_s / 2
  const DOSE = 14
  const TOP = 22
  const BAR = 18
  const words = $derived(
    `${member.name}: ${member.days
      .filter((d) => d.state !== 'future')
      .map((d) => `${weekDay(d.day)} ${d.state}`)
      .join(', ')}. ${member.weeks
      .filter((w) => w.effort !== null)
      .map((w) => `Week ${w.week}: effort ${w.effort}${w.soreness === null ? '' : `, sore ${w.soreness}`}`)
      .join('; ')}`
  )
</script>

<svg {width} height="58" role="img" class="block overflow-visible" aria-label={words}>
  {#each Array.from({ length: weeks }, (_, i) => i) as n (n)}<path
      d="M{n * 7 * day} 0V58"
      stroke="var(--color-rule)"
    />{/each}
  {#each member.weeks as w (w.week)}
    {@const h = (dose(w) / Math.max(most, 1)) * DOSE}
    {#if h > 0}<rect
        x={(w.week - 1) * 7 * day + 1}
        y={DOSE - h}
        width={Math.max(7 * day - 2, 1)}
        height={h}
        fill="var(--color-band)"
        stroke="var(--color-edge)"
        stroke-width=".6"
      />{/if}
    {#if w.effort !== null}
      <circle cx={(w.week - 0.5) * 7 * day} cy={56 - w.effort * 1.2} r="2.2" fill="var(--color-ink)" />{/if}
    {#if w.soreness !== null}<path
        d="M{(w.week - 0.25) * 7 * day} {53 - w.soreness * 1.2}l3 3l-3 3l-3 -3Z"
        fill={w.soreness > 5 ? 'var(--color-mark-watch)' : 'var(--color-paper)'}
        stroke="var(--color-watch)"
        stroke-width=".9"
      />{/if}
  {/each}
  <path d="M0 {TOP}H{width}" stroke="var(--color-ink)" stroke-width=".7" />
  {#each member.days as d (d.day)}
    {@const w = Math.min(day * 0.7, 8)}
    {@const at = x(d.day) + (day - w) / 2}
    {#if d.state !== 'paused' && d.state !== 'extra'}<rect
        x={at}
        y={TOP}
        width={w}
        height={BAR}
        fill="none"
        stroke={d.state === 'future' ? 'var(--color-rule)' : 'var(--color-faint)'}
        stroke-width=".8"
      />{/if}
    {#if d.share > 0}<rect x={at} y={TOP} width={w} height={BAR * d.share} fill="var(--color-ink)" />{/if}
    {#if d.over_share > 0.02}<rect
        x={at}
        y={TOP - Math.max(2, 6 * Math.min(d.over_share, 1))}
        width={w}
        height={Math.max(2, 6 * Math.min(d.over_share, 1))}
        fill="var(--color-mark-watch)"
      />{/if}
  {/each}
  {#if x(member.today) >= 0 && x(member.today) <= width}<path
      d="M{x(member.today) + day / 2} 0V58"
      stroke="var(--color-action)"
      stroke-width="1.5"
    />{/if}
</svg>
