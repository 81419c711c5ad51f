<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { shortDay } from '../../format'
  import type { Axis } from './axis'
  import type { Stand } from './sittings'

  /** Thumbnails of the sittings on their days, and an empty frame where the next one is due. */
  let { course, axis, at }: { course: Schemas['CourseView']; axis: Axis; at: Stand[] } = $props()
  const due = $derived(course.sitting_due && axis.holds(course.sitting_due) ? course.sitting_due : null)
  const dueX = $derived(due ? Math.min(Math.max(axis.at(due), (at.at(-1)?.x ?? -99) + 46), 962) : 0)
</script>

{#each at as { sitting: s, x, words } (s.id)}
  {@const shot = s.photographs[0]}
  {#if shot}
    <image
      href="/api/photographs/{shot}/small.jpg"
      x={x - 3}
      y="213"
      width="38"
      height="50"
      preserveAspectRatio="xMidYMid slice"
    />
  {/if}
  <rect x={x - 3} y="213" width="38" height="50" fill="none" stroke="var(--color-ink)" />
  {#if words}<g class="text-note [paint-order:stroke]" stroke="var(--color-sheet)" stroke-width="4"
      ><text x={x + 42} y="228" class="font-bold" fill="var(--color-ink)">{shortDay(s.taken_on)}</text>
      <text x={x + 42} y="244" fill="var(--color-soft)"
        >{s.kind === 'baseline' ? 'baseline, ' : ''}{s.photographs.length} shot{s.photographs.length === 1
          ? ''
          : 's'}</text
      ></g
    >{/if}
{/each}
{#if due}
  <rect
    x={dueX - 3}
    y="213"
    width="38"
    height="50"
    fill="none"
    stroke="var(--color-soft)"
    stroke-dasharray="3 3"
  />
  <path d="M{dueX + 10} 238h12m-6 -6v12" stroke="var(--color-soft)" />
  {#if dueX < 900}<text
      x={dueX + 42}
      y="228"
      class="text-note [paint-order:stroke]"
      stroke="var(--color-paper)"
      stroke-width="4"
      fill="var(--color-soft)">{shortDay(due)}, due</text
    >{/if}
{/if}
