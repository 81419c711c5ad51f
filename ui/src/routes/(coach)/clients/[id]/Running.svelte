<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { atClock, shortDay } from '$lib/format'

  /** The programs that run, or the last one that did, a line each: when it is practised, and its review. */
  let {
    course,
    paused,
    again,
    pause
  }: {
    course: Schemas['CourseView']
    paused: boolean | undefined
    again: (id: string) => void
    pause: () => void
  } = $props()
  const shown = $derived(course.assignments.filter((a) => a.running || a === course.assignments.at(-1)))
  const running = $derived(course.assignments.some((a) => a.running))

  function told(a: Schemas['AssignmentView']): string {
    const ended = a.ended_at ? `ended on ${shortDay(a.ended_at.slice(0, 10))}` : 'ended'
    const times = Object.entries(a.plan.times).map(([part, at]) => `${part} ${atClock(at)}`)
    return [`${a.weeks} weeks`, a.running ? times.join(', ') : ended, a.group].filter(Boolean).join(', ')
  }
</script>

<ul class="mt-4 mb-2">
  {#each shown as a, i (a.id)}
    <li class="flex flex-wrap items-baseline gap-x-3">
      <h2 class={shown.length > 1 ? 'text-sub' : ''}>
        <a class="hover:underline" href="/programs/{a.program_id}">{a.title}</a>
      </h2>
      <span class="text-row text-soft">{told(a)}</span>
      {#if a.may_run_again}<button class="text-row link" onclick={() => again(a.id)}>Let it run again</button
        >{/if}
      {#if a.running}<a class="text-row link" href="/reviews?assignment={a.id}"
          >Review the week<span class="sr-only"> of {a.title}</span></a
        >{/if}
      {#if running && i === 0}<button class="ml-auto text-row link" onclick={pause}
          >{paused ? 'End the pause' : 'Pause'}</button
        >{/if}
    </li>
  {/each}
</ul>
