<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { addDays, shortDay } from '$lib/format'

  /** What was changed in the course, when and by whom, the newest first: plans, pauses and reviews. */
  let { course }: { course: Schemas['CourseView'] } = $props()
  const FEW = 5
  let every = $state(false)
  const title = (assignment: string) =>
    course.assignments.find((a) => a.id === assignment)?.title ?? 'a program'
  const KINDS: Record<Schemas['PlanView']['kind'], string> = {
    assigned: 'assigned',
    changed: 'changed',
    resumed: 'goes on after a pause',
    break: 'goes on after a break',
    review: 'goes on as the review decided',
    repeat: 'repeats its week, which was not reviewed'
  }
  const all = $derived(
    [
      ...course.plans.map((p) => ({
        at: p.made_at.slice(0, 10),
        key: `${p.assignment_id}${p.number}`,
        by: p.made_by,
        text: `${title(p.assignment_id)}: ${KINDS[p.kind]}${p.kind === 'changed' || p.kind === 'assigned' ? `, version ${p.version}` : ''}, from ${shortDay(p.from_day)}.`,
        reason: p.reason
      })),
      ...course.pauses.map((p) => ({
        at: p.first_day,
        key: `pause${p.first_day}`,
        by: '',
        text: `Pause ${p.last_day ? `from ${shortDay(p.first_day)} to ${shortDay(p.last_day)}` : `since ${shortDay(p.first_day)}`}.`,
        reason: p.reason
      }))
    ].toSorted((a, b) => (a.at < b.at ? 1 : -1))
  )
  const shown = $derived(every ? all : all.slice(0, FEW))
  const recent = (at: string) => at > addDays(course.today, -7)
</script>

{#if all.length}
  <section class="mt-6">
    <h2>What was changed</h2>
    <ul class="mt-1 text-row">
      {#each shown as x (x.key)}
        <li class="grid grid-cols-[70px_1fr_auto] gap-x-3 border-b border-rule py-1">
          <span class={recent(x.at) ? 'font-bold' : 'text-soft'}>{shortDay(x.at)}</span>
          <span
            >{x.text}{#if x.reason}<span class="text-soft"> {x.reason}</span>{/if}</span
          >
          <span class="text-soft">{x.by || 'by itself'}</span>
        </li>
      {/each}
    </ul>
    {#if all.length > FEW}<button class="mt-1 text-row link" onclick={() => (every = !every)}
        >{every ? 'Fewer' : `All ${all.length}`}</button
      >{/if}
  </section>
{/if}
