<script lang="ts">
  import { isSenior } from '$lib/people/session.svelte'
  import type { Snippet } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { addDays, shortDay, signed } from '$lib/format'
  import Note from '$lib/parts/Note.svelte'
  import Unreached from '$lib/messages/Unreached.svelte'
  import Found from './Found.svelte'

  let {
    course,
    reload,
    invite
  }: { course: Schemas['CourseView']; reload: () => Promise<void>; invite: () => void } = $props()
  let problem = $state('')
  /** The client was asked, in the studio or on the phone, and nothing has changed. */
  async function asked() {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/clients/{client_id}/asked', { params: { path: { client_id: course.id } } }))
        await reload()
      }
    )
  }

  async function clear(exercise: string, note: string) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(
          api.POST('/api/clients/{client_id}/stopped/{exercise_id}/clear', {
            params: { path: { client_id: course.id, exercise_id: exercise } },
            body: { note }
          })
        )
        await reload()
      }
    )
  }

  async function soreAsked(note: string) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(
          api.POST('/api/clients/{client_id}/soreness/asked', {
            params: { path: { client_id: course.id } },
            body: { note }
          })
        )
        await reload()
      }
    )
  }
  const last = $derived(course.sittings.at(-1))
  const current = $derived(course.pauses.filter((p) => p.last_day === null || p.last_day >= course.today))
  const over = $derived(course.days.filter((d) => d.overdone && d.day > addDays(course.today, -28)))
  /** The last reviews, of two of one week the later one, the newest first. */
  const reviews = $derived(
    [...new Map(course.reviews.map((r) => [r.assignment_id + r.first_day, r])).values()].slice(-5).reverse()
  )
  const readings = $derived(last?.readings ?? [])
</script>

{#snippet review(r: Schemas['KeptReview'])}
  <Note weight={r.differs ? 'watch' : r.decided === 'advance' ? 'fine' : 'remark'}
    ><b>{r.decided.charAt(0).toUpperCase()}{r.decided.slice(1)}</b>, for the week from {shortDay(
      r.first_day
    )}{r.decided === r.suggested ? '' : `; suggested was ${r.suggested}`}. {r.because}
    {#each r.otherwise as other (other)}{other}.
    {/each}{r.reason ? `“${r.reason}” ` : ''}{r.differs ? `Since then: ${r.differs}. ` : ''}<a
      class="link"
      href="/reviews?assignment={r.assignment_id}&first_day={r.first_day}"
      >{r.differs ? 'Look again' : 'Why'}</a
    ></Note
  >
{/snippet}
{#snippet reading(r: Schemas['ReadingView'])}
  <Note weight={r.real ? 'watch' : 'remark'}
    ><b>{r.name}</b>: left minus right {signed(r.value)}
    {r.unit}, noise ±{r.band.toFixed(1)}.
    {r.sentence}
    <a class="link" href="/clients/{course.id}/sittings">Why</a></Note
  >
{/snippet}
{#snippet folded(n: number, what: string, inside: Snippet)}
  <details class="text-small">
    <summary class="min-h-6 link">{n} {what}</summary>
    <div class="mt-2 grid gap-4">{@render inside()}</div>
  </details>
{/snippet}

<div class="grid gap-4">
  <h2 class="text-base">Now</h2>
  {#if problem}<p role="alert" class="text-small text-stop">{problem}</p>{/if}
  <Unreached client={course.id} />
  {#each course.stopped as s, i (s.exercise_id)}
    <Note weight="stop"
      ><b>{s.name} hurt</b> on {shortDay(s.day)}{s.side
        ? `, ${s.side === 'both' ? 'both sides' : `${s.side} side`}`
        : ''}{s.level !== null ? `, ${s.level} of 10` : ''}{s.where ? `: ${s.where}` : ''}{s.since
        ? `, since ${s.since}`
        : ''}. It is left out until you decide, and with it what shares its joint, mark or muscle. Pain that
      stays belongs to a clinician.
      <Found
        label="What did you find, or agree? It goes on one rung lower."
        go="Let it go on, one rung lower"
        act={(note) => clear(s.exercise_id, note)}
        focus={i === 0}
      /></Note
    >
  {/each}
  {#if course.sore}<Note weight="stop"
      >{course.sore}
      {#if course.sore_stops}<Found
          label="What was it? Think of the sudden signs; soreness that stays belongs to a clinician."
          go="Asked; strength may go on"
          act={soreAsked}
        />{/if}</Note
    >{/if}
  {#each course.held.filter((h) => h.locked) as h (h.caution)}
    <Note weight="stop"
      >{h.reason}
      <a class="link" href="/clients/{course.id}/intake">Open the intake</a></Note
    >
  {/each}
  {#each current as p (p.first_day)}
    <Note weight="remark"
      >Paused from {shortDay(p.first_day)}{p.last_day ? ` to ${shortDay(p.last_day)}` : ''}{p.reason
        ? `: ${p.reason}`
        : '.'}</Note
    >
  {/each}
  {#each course.assignments.filter((a) => a.running && a.newest_version > a.version) as a (a.id)}
    <Note weight="watch"
      >Version {a.newest_version} of {a.title} is written, version {a.version} is practised.
      <a class="link" href="/programs/{a.program_id}/assign">Use it from a day</a></Note
    >
  {/each}
  {#each course.assignments.filter((a) => a.running && a.end.sentence && !a.end.near) as a (a.id)}
    <Note weight="watch">{a.title}, to {shortDay(a.end.last_day)}. {a.end.sentence}</Note>
  {/each}
  {#if course.own_intake}
    <Note weight="watch"
      >{course.name.split(' ')[0]} has filled in the intake; it waits for you.
      <a class="link" href="/clients/{course.id}/intake">Review it</a></Note
    >
  {/if}
  {#each course.held.filter((h) => h.effect === 'ease' && !h.locked) as h (h.caution)}
    <Note weight="watch">{h.reason}</Note>
  {/each}
  {#if course.asked}<Note weight="remark"
      >Health was last asked on {shortDay(course.asked.slice(0, 10))}.
      <button class="text-left link" onclick={asked}>Asked today, nothing new</button></Note
    >{/if}
  {#if !course.has_account}
    <Note weight="remark"
      >{course.name.split(' ')[0]} cannot sign in yet.
      {#if isSenior()}<button class="text-left link" onclick={invite}
          >Send one link for all that is due</button
        >{:else}A coach or the owner invites.{/if}</Note
    >
  {/if}
  {#if course.missed >= 3}
    <Note weight="watch">{course.missed} planned days missed in a row. {course.returns}</Note>
  {/if}
  {#if over.length}
    <Note weight="watch"
      >Overdone by more than a quarter on {over
        .slice(-3)
        .map((d) => `${shortDay(d.day)} (+${Math.round(100 * d.over_share)} %)`)
        .join(', ')}. Extra load is harm, not credit.</Note
    >
  {/if}
  {#if course.goals}<Note weight="remark"><i>“{course.goals}”</i></Note>{/if}
  {#if reviews[0]}
    <h2 class="border-t border-rule pt-2 text-base">Last review</h2>
    {@render review(reviews[0])}
    {#snippet earlier()}{#each reviews.slice(1) as r (r.id)}{@render review(r)}{/each}{/snippet}
    {#if reviews.length > 1}{@render folded(reviews.length - 1, 'before it', earlier)}{/if}
  {/if}
  <h2 class="border-t border-rule pt-2 text-base">
    Photographs{last ? ` of ${shortDay(last.taken_on)}` : ''}
  </h2>
  {#if readings[0]}
    {@render reading(readings[0])}
    {#snippet others()}{#each readings.slice(1) as r (r.id)}{@render reading(r)}{/each}{/snippet}
    {#if readings.length > 1}{@render folded(readings.length - 1, 'more readings', others)}{/if}
  {:else if last}<p class="text-small text-soft">
      Nothing of them is measured. <a class="link" href="/clients/{course.id}/sittings">Look</a>
    </p>
  {:else}
    <Note weight="remark"
      >None yet. The first ones belong before the first practice. <a
        class="link"
        href="/clients/{course.id}/sittings">Take photographs</a
      ></Note
    >
  {/if}
  <p class="border-t border-rule pt-2 text-note text-soft">
    Dimbo does not diagnose. Sudden droop or weakness of the face needs urgent care first.
  </p>
</div>
