<script lang="ts">
  import Running from './Running.svelte'
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { atClock } from '$lib/format'
  import Adherence from './Adherence.svelte'
  import Before from './Before.svelte'
  import Changes from './Changes.svelte'
  import ClientHead from './ClientHead.svelte'
  import CourseEnd from './CourseEnd.svelte'
  import CourseNotes from './CourseNotes.svelte'
  import Invite from './Invite.svelte'
  import NewProgram from './NewProgram.svelte'
  import OpenWeek from './OpenWeek.svelte'
  import Pause from './Pause.svelte'
  import TakenOn from './TakenOn.svelte'
  import Words from './Words.svelte'
  import Removed from '$lib/parts/Removed.svelte'
  import { offer } from '$lib/parts/undo.svelte'
  import WeekRuler from '$lib/signature/WeekRuler.svelte'

  const id = $derived(page.params.id ?? '')
  let course = $state<Schemas['CourseView'] | null>(null)
  let problem = $state('')
  let days = $state<OpenWeek>()
  let week = $state(1)
  let inviting = $state(false)
  let drafting = $state(false)
  let pausing = $state(false)
  const paused = $derived(
    course?.pauses.some((p) => p.last_day === null || p.last_day >= (course?.today ?? ''))
  )
  let names = $state(new Map<string, string>())

  /** When a program is practised, in words. */
  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        course = await ask(api.GET('/api/clients/{client_id}', { params: { path: { client_id: id } } }))
        const today = course.today
        const { cards } = await ask(api.GET('/api/catalogue'))
        names = new Map(cards.map((c) => [c.id, c.name]))
        if (location.hash === '#new-program') drafting = true
        week = Math.max(1, ...course.days.filter((d) => d.day <= today).map((d) => d.week))
      }
    )
  }
  onMount(load)

  /** A program that nobody ever practised by can be discarded. */
  const isDraft = (program: string) => !course?.assignments.some((a) => a.program_id === program)
  async function discard(p: { id: string; title: string }) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const path = { kind: 'programs', row_id: p.id } as const
        await ask(api.DELETE('/api/{kind}/{row_id}', { params: { path } }))
        await load()
        offer(`The draft “${p.title}” is discarded, and kept for 30 days.`, async () => {
          await ask(api.POST('/api/{kind}/{row_id}/bring-back', { params: { path } }))
          await load()
        })
      }
    )
  }
  async function again(assignment: string) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const path = { assignment_id: assignment }
        await ask(api.POST('/api/assignments/{assignment_id}/end/take-back', { params: { path } }))
        await load()
      }
    )
  }
</script>

<svelte:head><title>{course?.name ?? 'Client'} · Dimbo</title></svelte:head>
{#if problem}<p role="alert" class="p-6 text-stop">{problem}</p>{/if}
{#if course}
  <main
    class="across mx-auto grid max-w-frame grid-cols-[minmax(0,1002px)_216px] gap-x-7 px-6 pb-12 max-lg:grid-cols-1 max-sm:px-3"
  >
    <div class="pt-4">
      {#if course.urgent}
        <p
          role="alert"
          class="mb-3 border-[3px] border-stop bg-sheet px-4 py-3 text-head font-bold text-stop"
        >
          {course.urgent}
        </p>
      {/if}
      <ClientHead
        name={course.name}
        {id}
        place="course"
        severity={course.severity}
        holds={course.holds}
        tender={course.tender}
      >
        {course.age ? `${course.age}, ` : ''}{course.time_zone.split('/').at(-1)?.replace('_', ' ')}, {atClock(
          course.local_time.slice(11)
        )} there{course.minutes ? `; has ${course.minutes} minutes a day` : ''}. {course.concerns
          .map((c) => c.name)
          .join(', ')}
      </ClientHead>
      {#if course.start_date}
        <Running {course} {again} pause={() => (pausing = true)} {paused} />
        {#each course.assignments.filter((a) => a.end.near && (a.running || a === course?.assignments.at(-1))) as a (a.id)}<CourseEnd
            assignment={a}
            client={id}
          />{/each}
        <WeekRuler
          {course}
          start={course.start_date}
          weeks={course.weeks}
          bind:week
          open={() => days?.focus()}
        />
        <OpenWeek bind:this={days} {course} {week} />
        <Adherence {course} />
      {:else}
        <Before {course} draft={() => (drafting = true)} invite={() => (inviting = true)} />
      {/if}
      <section class="mt-6">
        <div class="flex items-center gap-4">
          <h2>Programs</h2>
          <button class="act min-h-chip text-row act-quiet" onclick={() => (drafting = true)}
            >New program</button
          >
        </div>
        <ul class="mt-2 max-w-column-wide">
          {#each course.programs as p (p.id)}
            <li class="flex items-baseline gap-3 border-b border-rule py-1.5">
              <a class="link" href="/programs/{p.id}">{p.title}</a><span class="text-small text-soft"
                >{p.weeks} weeks, version {p.version}{isDraft(p.id) ? ', a draft' : ''}</span
              >
              {#if isDraft(p.id)}<button class="ml-auto text-small link" onclick={() => discard(p)}
                  >Discard</button
                >{/if}
            </li>
          {/each}
        </ul>
        <Removed kind="programs" client={id} name={['draft', 'drafts']} changed={load} of={course.programs} />
      </section>
      <Changes {course} />
      <TakenOn {course} done={load} />
      <Words {course} {names} {week} />
    </div>
    <aside
      class="border-l border-edge-soft pt-4 pl-4 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
      aria-label="Margin"
    >
      <CourseNotes {course} reload={load} invite={() => (inviting = true)} />
    </aside>
  </main>
  <Invite bind:open={inviting} {id} name={course.name} />
  <Pause bind:open={pausing} {course} done={load} />
  <NewProgram bind:open={drafting} {id} done={(p) => goto(`/programs/${p}`)} />
{:else if !problem}
  <main class="mx-auto max-w-frame px-6 pt-4" role="status" aria-label="Reading the course">
    <div class="h-8 w-1/4 bg-band-wash"></div>
    <div class="mt-3 h-4 w-1/2 bg-band-wash"></div>
    <div class="mt-8 h-[330px] w-4/5 bg-band-wash"></div>
  </main>{/if}
