<script lang="ts">
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { addDays, clock, share, shortDay, weekDay } from '$lib/format'
  import LoggedDay from './LoggedDay.svelte'

  /** Is she doing it? Every number opens the days behind it, and every day its logs. */
  let { course }: { course: Schemas['CourseView'] } = $props()
  const p = $derived(course.patterns)
  let about = $state<{ name: string; days: string[] } | null>(null)
  let day = $state('')
  let problem = $state('')
  const counted = $derived(
    course.days.filter((d) => ['done', 'partly', 'skipped', 'extra'].includes(d.state))
  )
  const known = $derived(new Map(course.days.map((d) => [d.day, d])))
  const weekdays = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
  const weekday = (iso: string) => ((new Date(`${iso}T12:00:00Z`).getUTCDay() + 6) % 7) + 1
  const percent = (done: number, planned: number) =>
    planned ? `${Math.round((100 * done) / planned)} %` : '–'

  function behind(name: string, days: string[]) {
    about = about?.name === name ? null : { name, days }
    day = ''
  }
  const since = (n: number | null) => (n ? addDays(course.today, 1 - n) : '')
  const within = (n: number | null) => counted.filter((d) => d.day >= since(n)).map((d) => d.day)
  const over = (n: number | null) =>
    counted.filter((d) => d.day >= since(n) && d.over_share > 0.02).map((d) => d.day)

  async function exercise(x: Schemas['SkippedView']) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const rows = await ask(
          api.GET('/api/clients/{client_id}/exercises/{exercise_id}', {
            params: { path: { client_id: course.id, exercise_id: x.exercise_id } }
          })
        )
        behind(
          `${x.name}, left out`,
          rows.filter((r) => r.left_out).map((r) => r.day)
        )
      }
    )
  }
</script>

{#snippet number(name: string, text: string, days: string[], tone = '')}
  <button
    class="link {tone}"
    data-figure
    aria-expanded={about?.name === name}
    aria-label="{name}: {text}. Opens the days behind it"
    onclick={() => behind(name, days)}>{text}</button
  >
{/snippet}

<section class="mt-5" aria-label="Adherence">
  <div class="flex items-baseline gap-3">
    <h2>Adherence</h2>
    <span class="text-small text-soft">each number opens the days behind it</span>
  </div>
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  <div class="mt-1 grid grid-cols-[minmax(0,1fr)_300px] items-start gap-x-8 text-row">
    <table class="w-full">
      <thead class="text-left text-small text-soft"
        ><tr
          ><th></th><th class="font-normal">days done</th><th class="font-normal">contraction done</th><th
            class="font-normal">hands-on done</th
          ><th class="font-normal">work above plan</th></tr
        ></thead
      >
      <tbody>
        {#each p.windows as w (w.name)}
          <tr class="border-t border-rule">
            <th class="py-1 text-left font-normal">{w.days ? `last ${w.name}` : w.name}</th>
            <td
              >{@render number(
                `${w.name}, days`,
                `${share(w.sessions.done)} of ${w.sessions.planned}, ${percent(w.sessions.done, w.sessions.planned)}`,
                within(w.days)
              )}</td
            >
            <td
              >{@render number(
                `${w.name}, contraction`,
                percent(w.contraction.done_s, w.contraction.planned_s),
                within(w.days)
              )}
              <span class="text-soft">of {clock(w.contraction.planned_s)}</span></td
            >
            <td
              >{@render number(
                `${w.name}, hands-on time`,
                percent(w.hands_on.done_s, w.hands_on.planned_s),
                within(w.days)
              )}
              <span class="text-soft">of {clock(w.hands_on.planned_s)}</span></td
            >
            <td
              >{#if w.work.over_s > 5}{@render number(
                  `${w.name}, above plan`,
                  clock(w.work.over_s),
                  over(w.days),
                  'text-watch'
                )}{:else}none{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <dl class="grid grid-cols-[104px_1fr] gap-y-1 text-small">
      <dt class="text-soft">by weekday</dt>
      <dd class="flex flex-wrap gap-x-2">
        {#each Object.entries(p.weekdays) as [n, a] (n)}{@render number(
            `on ${weekdays[Number(n)]}`,
            `${weekdays[Number(n)]} ${percent(a.done, a.planned)}`,
            counted.filter((d) => weekday(d.day) === Number(n)).map((d) => d.day)
          )}{:else}–{/each}
      </dd>
      {#if Object.keys(p.parts).length > 1}<dt class="text-soft">by time of day</dt>
        <dd>
          {#each Object.entries(p.parts) as [part, a], i (part)}{i ? ', ' : ''}{@render number(
              `in the ${part}`,
              `${part} ${percent(a.done, a.planned)}`,
              counted
                .filter((d) => d.state === 'skipped' || d.logs.some((l) => l.part === part))
                .map((d) => d.day)
            )}{/each}
        </dd>{/if}
      <dt class="text-soft">left out first</dt>
      <dd>
        {#each p.left_out.slice(0, 3) as x, i (x.exercise_id)}{i ? ', ' : ''}<button
            class="link"
            data-figure
            onclick={() => exercise(x)}>{x.name} {x.left_out} of {x.sessions}</button
          >{:else}nothing was left out{/each}
      </dd>
      <dt class="text-soft">really takes</dt>
      <dd>
        {#if p.took}{@render number(
            'how long it really takes',
            clock(p.took.took_s),
            counted.filter((d) => d.logs.some((l) => l.source === 'player')).map((d) => d.day)
          )} where {clock(p.took.planned_s)} is planned, middle of {p.took.sessions}
          whole session{p.took.sessions === 1 ? '' : 's'}{:else}no whole session was played yet{/if}
      </dd>
    </dl>
  </div>
  {#if about}
    <div class="mt-2 border-l-2 border-ink pl-3 text-small">
      <p>
        <b>{about.name}</b>:
        {#each about.days.slice(-42) as iso (iso)}
          {@const d = known.get(iso)}
          <button class="mr-2 link" aria-expanded={day === iso} onclick={() => (day = day === iso ? '' : iso)}
            >{weekDay(iso)}
            {shortDay(iso).split(' ')[1]}
            {d?.state === 'partly'
              ? percent(d.share, 1)
              : d?.state === 'extra'
                ? 'no plan'
                : (d?.state ?? '')}{(d?.over_share ?? 0) > 0.02
              ? ` +${Math.round(100 * (d?.over_share ?? 0))} %`
              : ''}</button
          >
        {:else}no day{/each}
      </p>
      {#if day}<div class="mt-2"><LoggedDay id={course.id} {day} zone={course.time_zone} /></div>{/if}
    </div>
  {/if}
  <details class="mt-1 text-small text-soft">
    <summary class="link">how these are counted</summary>
    <dl class="max-w-[90ch]">
      {#each p.rules as r (r.id)}<dt class="mt-1 font-bold">{r.name}</dt>
        <dd>{r.says}</dd>{/each}
    </dl>
  </details>
</section>
