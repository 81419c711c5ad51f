<script lang="ts">
  import { goto } from '$app/navigation'
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { longDay } from '$lib/format'

  /** The end of a course: what was reached against the plan, and the ways on, each one touch away. */
  let { assignment, client }: { assignment: Schemas['AssignmentView']; client: string } = $props()
  let problem = $state('')
  let busy = $state(false)
  const end = $derived(assignment.end)
  const short = $derived(end.lines.filter((l) => l.short))

  async function take(way: Schemas['WayView']['id']) {
    busy = true
    problem = ''
    try {
      const made = await ask(
        api.POST('/api/assignments/{assignment_id}/next', {
          params: { path: { assignment_id: assignment.id } },
          body: { way }
        })
      )
      await goto(`/programs/${made.id}`)
    } catch (error) {
      problem = words(error)
      busy = false
    }
  }
</script>

<section class="mt-4 border-y border-ink py-3" aria-label="End of {assignment.title}">
  <h2>{assignment.title} ends on {longDay(end.last_day)}. What follows?</h2>
  <p class="mt-1">
    {#if !end.lines.length}Nothing in it contracts, so there is no dose to compare.
    {:else if !short.length}Every exercise ends at its planned dose.
    {:else}{end.lines.length - short.length} of {end.lines.length} exercises end at their planned dose.{/if}
  </p>
  {#if short.length}
    <table class="mt-2 w-full max-w-column-wide text-row">
      <thead class="text-left text-small text-soft"
        ><tr
          ><th class="font-normal">below its plan</th><th class="w-[150px] font-normal">reached</th><th
            class="w-[150px] font-normal">planned</th
          ></tr
        ></thead
      >
      <tbody>
        {#each short as l (l.name)}<tr class="border-t border-rule"
            ><td class="py-1">{l.name}</td><td class="dose">{l.reached || 'did not begin'}</td><td
              class="dose text-soft">{l.planned}</td
            ></tr
          >{/each}
      </tbody>
    </table>
  {/if}
  <p class="mt-2">
    <a class="link" href="/clients/{client}/letters?begin=report">Write the letter about this course</a> first,
    or with what follows: it names the next program once there is one.
  </p>
  <div class="mt-3 grid grid-cols-3 gap-3">
    {#each end.ways as way (way.id)}
      <div>
        <button
          class="act w-full {way.id === 'on' ? '' : 'act-quiet'}"
          disabled={busy}
          onclick={() => take(way.id)}>{way.name}</button
        >
        <p class="mt-1 text-small leading-snug text-soft">{way.about}</p>
      </div>
    {/each}
  </div>
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
</section>
