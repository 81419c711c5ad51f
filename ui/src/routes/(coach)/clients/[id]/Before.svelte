<script lang="ts">
  import { isSenior } from '$lib/people/session.svelte'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import FaceMap from '$lib/signature/FaceMap.svelte'
  import type { Fills } from '$lib/signature/face-map'

  /** A client before a program runs: the one next step, the face with what was told, causes, cautions and photographs. */
  let { course, draft, invite }: { course: Schemas['CourseView']; draft: () => void; invite: () => void } =
    $props()
  let intake = $state.raw<Schemas['IntakeView'] | null>(null)
  let problem = $state('')
  onMount(() =>
    attempt(
      (why) => (problem = why),
      async () => {
        const params = { path: { client_id: course.id } }
        intake = await ask(api.GET('/api/clients/{client_id}/intake', { params }))
      }
    )
  )
  const first = $derived(course.name.split(' ')[0])
  const c = $derived(intake?.conclusions)
  const fills = $derived<Fills>(
    Object.fromEntries(
      Object.entries(course.severity).map(([m, r]) => [m, { right: r.right / 4, left: r.left / 4 }])
    )
  )
  const unrated = $derived(course.concerns.filter((x) => !c?.concerns.some((y) => y.concern === x.id)))
  const shots = $derived(
    course.sittings.flatMap((s) => s.photographs.slice(0, 1).map((id) => ({ id, day: s.taken_on })))
  )
  const page = $derived(`/clients/${course.id}`)
  /** What comes next, one thing only: what stops, what waits, what is asked, what is written, what is given. */
  const next = $derived.by((): { says: string; href?: string; label: string; act?: () => void } => {
    if (course.urgent)
      return {
        says: 'A sudden sign stands. Nothing is practised until a clearance is recorded.',
        href: `${page}/intake`,
        label: 'Open the health answers'
      }
    if (course.own_intake)
      return { says: `${first} has filled in the intake.`, href: `${page}/intake`, label: 'Look through it' }
    if (c?.ask_next.length)
      return {
        says: `${c.ask_next.length} question${c.ask_next.length === 1 ? ' is' : 's are'} open: ${c.ask_next[0]?.text}`,
        href: `${page}/intake`,
        label: 'Go on with the intake'
      }
    if (!course.programs.length)
      return {
        says: 'Everything is asked. Dimbo drafts a program from it, and you change what you like.',
        label: 'Draft a program',
        act: draft
      }
    const last = course.programs[0]
    return {
      says: `“${last?.title}” is written.`,
      href: `/programs/${last?.id}/assign`,
      label: 'Assign it from a day'
    }
  })
</script>

<section class="mt-4 flex flex-wrap items-center gap-x-4 gap-y-2 border-l-4 border-action bg-sheet px-4 py-3">
  <div class="min-w-0 grow">
    <h2 class="text-row font-normal text-soft">Next</h2>
    <p class="text-lead">{next.says}</p>
  </div>
  {#if next.href}<a class="act" href={next.href}>{next.label}</a>
  {:else}<button class="act" onclick={next.act}>{next.label}</button>{/if}
  {#if !course.has_account && isSenior()}<button class="act act-quiet" onclick={invite}
      >Send one link for all that is due</button
    >{/if}
</section>
{#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
<div class="mt-5 grid grid-cols-[250px_1fr_1fr] gap-x-7 max-lg:grid-cols-[220px_1fr]">
  <section>
    <h2 class="text-sub">The face</h2>
    <div class="mt-1 h-[300px]">
      <FaceMap
        view="facing"
        {fills}
        holds={course.holds}
        label="severity of the concerns by side, locked and eased regions"
      />
    </div>
    <p class="text-note text-soft">
      Hatched: severity. Crossed red: locked. Dashed: eased, or locked in part.
    </p>
  </section>
  <section>
    <h2 class="text-sub">Concerns, and what they come from</h2>
    {#if c}
      <ul class="mt-1 text-row">
        {#each c.concerns as x (x.concern)}
          {@const rating = intake?.ratings[x.concern]}
          <li class="border-b border-rule py-1.5">
            <b>{x.name}</b>{#if rating}<span class="ml-1.5 text-soft">
                {rating.right === rating.left
                  ? `${rating.right} of 4`
                  : `right ${rating.right}, left ${rating.left} of 4`}</span
              >{/if}
            <span class="block"
              >{x.chosen
                ? `${x.cause.name.charAt(0).toUpperCase()}${x.cause.name.slice(1)}, as you chose.`
                : x.summary}</span
            >
          </li>
        {/each}
        {#each unrated as x (x.id)}<li class="border-b border-rule py-1.5">
            <b>{x.name}</b><span class="ml-1.5 text-soft">not rated yet</span>
          </li>{/each}
        {#if !c.concerns.length && !unrated.length}<li class="py-1.5 text-soft">
            No concern is noted yet.
          </li>{/if}
      </ul>
    {:else}<div class="mt-2 h-[90px] bg-band-wash" role="status" aria-label="Reading the intake"></div>{/if}
    {#if c?.families.length}<p class="mt-2 text-row">
        <b>So these help:</b>
        {c.families
          .filter((f) => !f.locked.length)
          .map((f) => f.family)
          .join(', ')}.
      </p>{/if}
  </section>
  <section class="max-lg:col-span-2 max-lg:mt-5">
    <h2 class="text-sub">Cautions</h2>
    <ul class="mt-1 text-row">
      {#each course.held as h (h.caution)}
        <li class="border-b border-rule py-1.5 {h.locked ? 'text-stop' : ''}">{h.reason}</li>
      {:else}<li class="py-1.5 text-soft">
          {intake && Object.keys(intake.cautions).length ? 'None of those asked.' : 'Not asked yet.'}
        </li>{/each}
    </ul>
    <h2 class="mt-5 text-sub">Photographs</h2>
    {#if shots.length}
      <div class="mt-1 flex gap-2">
        {#each shots.slice(-3) as s (s.id)}<a href="{page}/sittings"
            ><img
              class="h-[96px] w-[76px] object-cover"
              src="/api/photographs/{s.id}/small.jpg"
              alt="front, neutral"
            /><span class="text-small text-soft">{shortDay(s.day)}</span></a
          >{/each}
      </div>
    {:else}<p class="mt-1 text-row">
        None yet. The first ones belong before the first practice, so that there is something to compare with.
        <a class="link" href="{page}/sittings">Take photographs</a>
      </p>{/if}
    {#if course.goals}<h2 class="mt-5 text-sub">In {first}’s words</h2>
      <p class="mt-1 text-row italic">“{course.goals}”</p>{/if}
  </section>
</div>
