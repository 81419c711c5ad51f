<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { addDays, shortDay } from '../../format'
  import type { Axis } from './axis'

  /** What was decided at the end of each week: up, level, down or stop, on the line of the weeks. */
  let { course, axis }: { course: Schemas['CourseView']; axis: Axis } = $props()
  const shapes = {
    advance: 'M-4 3L0 -4L4 3Z',
    hold: 'M-4 -2.5h8M-4 2h8',
    'ease back': 'M-4 -3L0 4L4 -3Z',
    stop: 'M-3.5 -3.5h7v7h-7Z'
  } as const
  const colours = {
    advance: 'var(--color-mark-fine)',
    hold: 'var(--color-ink)',
    'ease back': 'var(--color-mark-watch)',
    stop: 'var(--color-stop)'
  } as const
  /** Of two reviews of one week the later one holds. */
  const newest = $derived([
    ...new Map(course.reviews.map((r) => [r.assignment_id + r.first_day, r])).values()
  ])
</script>

{#each newest as r (r.id)}
  {@const x = axis.at(addDays(r.last_day, 1)) - axis.day / 2}
  <g transform="translate({x} 30)" role="img" aria-label="review of {shortDay(r.first_day)}: {r.decided}">
    <title
      >Week from {shortDay(r.first_day)}: {r.decided}{r.otherwise.length ? ', decided otherwise' : ''}</title
    >
    <circle r="7" fill="var(--color-paper)" stroke={r.otherwise.length ? colours[r.decided] : 'none'} />
    <path
      d={shapes[r.decided]}
      fill={r.decided === 'hold' ? 'none' : colours[r.decided]}
      stroke={r.decided === 'hold' ? colours.hold : 'none'}
      stroke-width="1.8"
    />
  </g>
{/each}
