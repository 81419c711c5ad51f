<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { clock } from '../../format'
  import { handsOnly, type Axis } from './axis'

  /** Planned contraction of each week's fullest day: right above the line, left below. Where nothing contracts, hands-on time. */
  let { course, axis, week }: { course: Schemas['CourseView']; axis: Axis; week: number } = $props()
  const id = $props.id()
  const hands = $derived(handsOnly(course))
  const size = (d: Schemas['CourseDay']) => (hands ? d.hands_on_s : d.right_s + d.left_s)
  const fullest = $derived.by(() => {
    const out = new Map<number, Schemas['CourseDay']>()
    for (const d of course.days) {
      const known = out.get(d.week)
      if (!known || size(d) > size(known)) out.set(d.week, d)
    }
    return out
  })
  const most = $derived(
    Math.max(...course.days.map((d) => (hands ? d.hands_on_s / 2 : Math.max(d.right_s, d.left_s))), 60)
  )
  const wide = $derived(Math.min(axis.span * (axis.span > 40 ? 0.4 : 0.7), 34))
  const inset = $derived(axis.span > 40 ? 8 : (axis.span - wide) / 2)
  /** Where there is no room for every number, the open week still says its own. */
  const says = (n: number) => axis.span > 60 || n === week
</script>

<defs>
  <pattern id="{id}-r" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)"
    ><rect width="4" height="4" fill="var(--color-right-wash)" /><path
      d="M0 0V4"
      stroke="var(--color-side-right)"
      stroke-width="1.3"
    /></pattern
  >
  <pattern id="{id}-l" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
    ><rect width="4" height="4" fill="var(--color-left-wash)" /><path
      d="M0 0V4"
      stroke="var(--color-side-left)"
      stroke-width="1.3"
    /></pattern
  >
</defs>
<path d="M{axis.begins(1)} 64H{axis.begins(axis.weeks + 1)}" stroke="var(--color-rule)" />
{#each fullest as [n, d] (n)}
  {@const past = axis.first(n) <= course.today}
  {@const x = axis.begins(n) + inset}
  {#if hands}<rect
      {x}
      y={64 - (d.hands_on_s / 2 / most) * 26}
      width={wide}
      height={(d.hands_on_s / most) * 26}
      fill={past ? 'var(--color-band)' : 'none'}
      stroke="var(--color-ink)"
      stroke-dasharray={past ? '' : '2 2'}
    />{:else}<g opacity={past ? 1 : 0.6}>
      <rect
        {x}
        y={64 - (d.right_s / most) * 26}
        width={wide}
        height={(d.right_s / most) * 26}
        fill={past ? `url(#${id}-r)` : 'none'}
        stroke="var(--color-side-right)"
        stroke-dasharray={past ? '' : '2 2'}
      />
      <rect
        {x}
        y="64"
        width={wide}
        height={(d.left_s / most) * 26}
        fill={past ? `url(#${id}-l)` : 'none'}
        stroke="var(--color-side-left)"
        stroke-dasharray={past ? '' : '2 2'}
      />
    </g>{/if}
  {#if says(n) && hands && d.hands_on_s > 0}<text
      x={x + 6 + wide}
      y="68"
      class="text-note [paint-order:stroke]"
      stroke="var(--color-paper)"
      stroke-width="4">{clock(d.hands_on_s)}</text
    >{:else if says(n) && d.right_s + d.left_s > 0}
    <g class="text-note [paint-order:stroke]" stroke="var(--color-paper)" stroke-width="4">
      <text x={x + 6 + wide} y="59" class="fill-side-right">{clock(d.right_s)}</text>
      <text x={x + 6 + wide} y="77" class="fill-side-left">{clock(d.left_s)}</text>
    </g>
  {/if}
{/each}
