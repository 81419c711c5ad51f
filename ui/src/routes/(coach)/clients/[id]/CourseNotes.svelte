<script lang="ts">
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
  /** Changes, and where practice went on after a break; of several in a row only the last one counts. */
  const turns = $derived(
    course.plans
      .filter(
        (p, i) =>
          !['assigned', 'review'].includes(p.kind) &&
          !(p.kind === course.plans[i + 1]?.kind && p.assignment_id === course.plans[i + 1]?.assignment_id)
      )
      .slice(-3)
      .reverse()
  )
  const over = $derived(course.days.filter((d) => d.overdone && d.day > addDays(course.today, -28)))
  /** The last reviews, of two of one week the later one, the newest first. */
  const reviews = $derived(
    [...new Map(course.reviews.map((r) => [r.assignment_id + r.first_day, r])).values()].slice(-3).reverse()
  )
</script>

<div class="grid gap-5">
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
      <a class="link" href="/programs/{a.program_id}/assign">Let it hold from a day on</a></Note
    >
  {/each}
  {#each course.assignments.filter((a) => a.running && a.end.sentence && !a.end.near) as a (a.id)}
    <Note weight="watch">{a.title}, to {shortDay(a.end.last_day)}. {a.end.sentence}</Note>
  {/each}
  {#each turns as p (p.assignment_id + p.number)}
    <Note weight="remark"
      >From {shortDay(p.from_day)}: {p.kind === 'changed'
        ? `version ${p.version} of the program.`
        : p.reason}{p.kind === 'changed' && p.reason ? ` “${p.reason}”` : ''}</Note
    >
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
      <button class="text-left link" onclick={invite}>Send one link for all that is due</button></Note
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
  {#each reviews as r (r.id)}
    <Note weight={r.differs ? 'watch' : r.decided === 'advance' ? 'fine' : 'remark'}
      ><b>Review of the week from {shortDay(r.first_day)}</b>: {r.decided}{r.decided === r.suggested
        ? ''
        : `, suggested was ${r.suggested}`}. {r.because}
      {#each r.otherwise as other (other)}{other}.
      {/each}{r.reason ? `“${r.reason}” ` : ''}{r.differs ? `Since then: ${r.differs}. ` : ''}<a
        class="link"
        href="/reviews?assignment={r.assignment_id}&first_day={r.first_day}"
        >{r.differs ? 'Look again' : 'Why'}</a
      ></Note
    >
  {/each}
  {#each last?.readings ?? [] as r (r.id)}
    <Note weight={r.real ? 'watch' : 'remark'}
      >{r.name} on {shortDay(last?.taken_on ?? course.today)}: left minus right {signed(r.value)}
      {r.unit}, noise ±{r.band.toFixed(1)}.
      {r.sentence}
      <a class="link" href="/clients/{course.id}/sittings">Why</a></Note
    >
  {/each}
  {#if !course.sittings.length}
    <Note weight="remark"
      >No photographs yet. A baseline belongs before the first practice. <a
        class="link"
        href="/clients/{course.id}/sittings">Open a sitting</a
      ></Note
    >
  {/if}
  {#if course.goals}<Note weight="remark"><i>{course.goals}</i></Note>{/if}
  <Note weight="remark"
    >Dimbo does not diagnose. Sudden droop or weakness of the face needs urgent care first.</Note
  >
</div>
