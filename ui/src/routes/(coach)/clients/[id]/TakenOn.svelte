<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { session } from '$lib/people/session.svelte'

  /** Who took the client on, and handing them over: by that coach, or by an owner. */
  let { course, done }: { course: Schemas['CourseView']; done: () => Promise<void> } = $props()
  let coaches = $state<Schemas['CoachName'][]>([])
  let handing = $state(false)
  let to = $state('')
  let problem = $state('')
  const mine = $derived(course.coach_id === session.me?.id)
  const may = $derived(
    (mine || session.me?.standing === 'owner') && coaches.some((c) => c.id !== course.coach_id)
  )
  const coach = $derived(coaches.find((c) => c.id === course.coach_id)?.name ?? 'a coach who has left')

  onMount(() =>
    attempt(
      (why) => (problem = why),
      async () => {
        coaches = await ask(api.GET('/api/coaches'))
      }
    )
  )
  const handOver = (event: SubmitEvent) => {
    event.preventDefault()
    return attempt(
      (why) => (problem = why),
      async () => {
        problem = ''
        const params = { path: { client_id: course.id } }
        await ask(api.POST('/api/clients/{client_id}/hand-over', { params, body: { to } }))
        handing = false
        await done()
      }
    )
  }
</script>

{#if coaches.length > 1}
  <section class="mt-6" aria-label="Coach">
    <p class="text-row">
      {mine ? 'You took this client on.' : `Taken on by ${coach}.`}
      {#if may && !handing}<button class="ml-2 link" onclick={() => (handing = true)}>Hand over</button>{/if}
    </p>
    {#if handing}
      <form class="mt-2 flex flex-wrap items-center gap-3" onsubmit={handOver}>
        <label class="flex items-center gap-3 whitespace-nowrap"
          >To <select class="field !w-auto" required bind:value={to}>
            <option value="" disabled>choose</option>
            {#each coaches.filter((c) => c.id !== course.coach_id) as c (c.id)}<option value={c.id}
                >{c.name}</option
              >{/each}
          </select></label
        >
        <button class="act min-h-chip text-row">Hand over</button>
        <button type="button" class="act min-h-chip text-row act-quiet" onclick={() => (handing = false)}
          >Leave it</button
        >
        <span class="text-row text-soft">The photographs go with {course.name.split(' ')[0]}.</span>
      </form>
    {/if}
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  </section>
{/if}
