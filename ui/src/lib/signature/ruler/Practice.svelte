<script lang="ts">
  import type { Schemas } from '../../api/client'
  import type { Axis } from './axis'

  /** One thin bar per planned day: outline planned, fill done, what lies above plan drawn above the line. */
  let { course, axis }: { course: Schemas['CourseView']; axis: Axis } = $props()
  const line = 110
  const tall = 34
  const wide = $derived(Math.min(axis.day * 0.7, 8))
  const above = (d: Schemas['CourseDay']) => Math.max(2, Math.min(d.over_share, 1) * 16)
  /** The day of each week that lies furthest above plan says by how much; on a long course only the furthest of all. */
  const says = $derived.by(() => {
    const most = new Map<number, Schemas['CourseDay']>()
    for (const d of course.days)
      if (d.overdone && d.over_share > (most.get(d.week)?.over_share ?? 0)) most.set(d.week, d)
    const found = [...most.values()]
    if (axis.span > 44) return new Set(found.map((d) => d.day))
    return new Set(
      found
        .toSorted((a, b) => b.over_share - a.over_share)
        .slice(0, 1)
        .map((d) => d.day)
    )
  })
</script>

<path
  d="M{axis.begins(1)} {line}H{axis.begins(axis.weeks + 1)}"
  stroke="var(--color-ink)"
  stroke-width=".8"
/>
{#each course.days as d (d.day)}
  {@const x = axis.at(d.day) - wide / 2}
  {#if d.state === 'paused'}<path
      d="M{axis.at(d.day) - axis.day / 2} {line + 18}H{axis.at(d.day) + axis.day / 2}"
      stroke="var(--color-edge)"
      stroke-width="3"
      stroke-dasharray="1.5 2.5"
    />
  {:else if d.state !== 'extra'}<rect
      {x}
      y={line}
      width={wide}
      height={tall}
      fill="none"
      stroke={d.state === 'future'
        ? 'var(--color-rule)'
        : d.state === 'open'
          ? 'var(--color-action)'
          : 'var(--color-faint)'}
      stroke-width={axis.day < 5 ? 0.5 : 1}
      stroke-dasharray={d.state === 'future' || d.state === 'open' ? '2 2' : ''}
    />{/if}
  {#if d.share > 0}<rect {x} y={line} width={wide} height={tall * d.share} fill="var(--color-ink)" />{/if}
  {#if d.over_share > 0.02}<rect
      {x}
      y={line - above(d)}
      width={wide}
      height={above(d)}
      fill="var(--color-mark-watch)"
    />{/if}
  {#if d.state === 'skipped' && axis.day > 5}<path
      d="M{x} {line + 27}l{wide} 6m0-6l-{wide} 6"
      stroke="var(--color-edge)"
      stroke-width=".9"
    />{/if}
  {#if says.has(d.day)}<text
      x={axis.at(d.day)}
      y={line - above(d) - 3 < 100 ? 103 : line - above(d) - 3}
      dx={wide}
      class="text-note font-bold [paint-order:stroke]"
      stroke="var(--color-paper)"
      stroke-width="3"
      fill="var(--color-watch)">+{Math.round(100 * d.over_share)} %</text
    >{/if}
{/each}
