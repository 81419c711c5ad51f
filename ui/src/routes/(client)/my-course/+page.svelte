<script lang="ts">
  import Word from '$lib/help/Word.svelte'
  import { onMount } from 'svelte'
  import { api, ask, Problem, words, type Schemas } from '$lib/api/client'
  import { longDay, share, shortDay } from '$lib/format'
  import { db } from '$lib/offline/db'
  import PracticeBars from '$lib/parts/PracticeBars.svelte'
  import { session } from '$lib/people/session.svelte'
  import PhotographsBrief from './PhotographsBrief.svelte'

  /** The course in plain words: what was done, how it felt, what the coach wrote, what the photographs say. Without a
   * connection it is shown as it last was. */
  let course = $state<Schemas['OwnCourseView'] | null>(null)
  let results = $state<Schemas['OwnResultsView'] | null>(null)
  let problem = $state('')
  let keptOnly = $state(false)
  onMount(async () => {
    const kept = await db()
    const account = session.me?.client_id ?? ''
    try {
      const [fresh, said] = await Promise.all([
        ask(api.GET('/api/my-course')),
        ask(api.GET('/api/my-results'))
      ])
      course = fresh
      results = said
      await kept.put('courses', { course: fresh, results: said }, account)
    } catch (error) {
      const before = error instanceof Problem && error.status === 0 && (await kept.get('courses', account))
      if (before) {
        course = before.course
        results = before.results
        keptOnly = true
      } else problem = words(error)
    }
  })
</script>

<svelte:head><title>My course · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column-wide px-5 pb-10 text-head">
  <h1 class="text-display">My course</h1>
  {#if problem}<p role="alert" class="mt-3">
      {problem} Open the course once while you are online; then it is kept on this phone. Your practice needs no
      connection.
    </p>{/if}
  {#if course && keptOnly}<p role="status" class="mt-3 border-l-4 border-mark-watch pl-3">
      No connection. This is how it stood on {longDay(course.today)}; what waits on this phone is not in it
      yet.
    </p>{/if}
  {#if course}
    {#each course.titles as title (title)}<p class="mt-1 font-bold">{title}</p>{/each}
    <p class="mt-2">
      {course.whole.planned
        ? `Done ${share(course.whole.done)} of ${course.whole.planned} days so far.`
        : 'Nothing has been practised yet.'}
    </p>
    {#if results}
      <h2 class="mt-7 text-huge">What the photographs say</h2>
      <PhotographsBrief {results} kept={keptOnly} />
    {/if}
    <p class="mt-5">
      <a class="inline-flex min-h-touch items-center link" href="/my-letters">Letters from your coach</a>
    </p>
    <h2 class="mt-7 text-huge">Week by week</h2>
    <ul>
      {#each course.weeks as w (w.number)}
        <li class="border-b border-rule py-3">
          <div class="flex items-center justify-between gap-3">
            <p class="font-bold">
              Week {w.number}
              <span class="font-normal text-soft">{shortDay(w.first)} to {shortDay(w.last)}</span>
            </p>
            <PracticeBars days={w.days} width={96} />
          </div>
          <p>
            Done {share(w.sessions.done)} of {w.sessions.planned}.
            {#if w.effort === null && w.soreness === null}You told nothing of how it felt.{:else}It felt like
              {#if w.effort !== null}<Word term="Effort" said="effort" />
                {w.effort} of 10{/if}{#if w.effort !== null && w.soreness !== null},
              {/if}{#if w.soreness !== null}most <Word term="Sore" said="sore" />
                {w.soreness} of 10{/if}.{/if}
            {#if w.overdone}On {w.overdone === 1 ? 'one day' : `${w.overdone} days`} you did more than planned;
              please stay with the plan.{/if}
          </p>
          {#each w.words as said, i (i)}<blockquote class="mt-2 border-l-4 border-action pl-3">
              “{said}”
            </blockquote>{/each}
        </li>
      {:else}<li class="py-3">The first week stands here once it has begun.</li>{/each}
    </ul>
  {:else if !problem}<p class="mt-6 text-soft" role="status">Reading your course …</p>{/if}
</main>
