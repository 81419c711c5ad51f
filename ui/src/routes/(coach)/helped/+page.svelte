<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { tables } from '$lib/parts/tables.svelte'
  import { isSenior } from '$lib/people/session.svelte'
  import GainByDose from '$lib/results/GainByDose.svelte'
  import Interval from '$lib/results/Interval.svelte'
  import SidesByWeek from '$lib/results/SidesByWeek.svelte'
  import StillPractising from '$lib/results/StillPractising.svelte'

  /** What followed practice among the coach's own clients, each answer behind its gate; below them all that can be drawn without one. */
  let found = $state<Schemas['HelpedView'] | null>(null)
  let problem = $state('')
  let reading = $state('')
  let far = $state('')
  onMount(() => {
    let left = false
    void attempt(
      (why) => (problem = why),
      async () => {
        while (!found && !left) {
          const answer = await ask(api.GET('/api/helped'))
          far = `${answer.done} of ${answer.of} clients`
          found = answer.found
        }
        reading = found?.pictures[0]?.reading ?? found?.readings[0]?.id ?? ''
      }
    )
    return () => (left = true)
  })
  const drawings = $derived((found?.pictures ?? []).filter((p) => p.reading === reading))
  const choices = $derived(
    (found?.readings ?? []).map((r) => ({
      ...r,
      count: (found?.pictures ?? []).filter((p) => p.reading === r.id).length
    }))
  )
  /** Nobody counts for any reading yet: what can be said is short, and what can be drawn comes up. */
  const young = $derived(!found?.readings.some((r) => r.cases.length))
  const senior = $derived(isSenior())
</script>

<svelte:head><title>What helped · Dimbo</title></svelte:head>
<main class="mx-auto max-w-frame px-6 pt-4 pb-14">
  <h1>What helped</h1>
  <p class="mt-1 max-w-[86ch] text-row text-soft">
    What followed practice among the clients whose photographs you see, with how sure it is. A side chosen
    because it looked weak looks less weak the next time, practised or not; so a gain counts only from a start
    that took no part in the choice, and only when it is clear at 99 in 100.
  </p>
  {#if problem}<p role="alert" class="mt-4 text-stop">{problem}</p>{/if}
  {#if found}
    <section
      class="mt-5 {young ? 'grid grid-cols-3 gap-x-8' : ''}"
      aria-label="Gains of the side trained more"
    >
      {#each found.readings as r (r.id)}
        <div class="border-t border-ink py-4 {young ? '' : 'grid grid-cols-[minmax(0,1fr)_420px] gap-x-8'}">
          <div>
            <h2>{r.name}</h2>
            {#each r.says as s, i (i)}<p
                class="mt-1.5 {s.told ? 'font-bold' : ''} {s.open ? '' : 'text-soft'}"
              >
                {s.sentence}
              </p>{/each}
            {#if r.gain}
              <div class="mt-3 max-w-card"><Interval gain={r.gain} alike={r.alike} /></div>
              <p class="text-small text-soft">
                Dot: mean gain of those trained unevenly, with the interval that holds it in 95 of 100. Tick:
                the least that would show with so many.{r.alike ? ' Square: those trained alike.' : ''}
              </p>
            {/if}
            {#if r.left.length}
              <p class="mt-3 text-row font-bold">Not counted yet</p>
              <ul class="text-row">
                {#each r.left as l (l.why)}<li>
                    {l.clients === 1 ? '1 client' : `${l.clients} clients`}: {l.why}
                  </li>{/each}
              </ul>
            {/if}
          </div>
          {#if r.cases.length}<GainByDose reading={r} strip={Math.max(...r.cases.map((c) => c.band))} />{/if}
        </div>
      {/each}
      <p class="col-span-3 border-t border-rule pt-2 text-row">
        <b>What would help:</b>
        {found.second_start} Rounds of blind rating from such a start, and a coin between two approaches noted before
        practice (at the client, under “New program”), let more be said.
      </p>
    </section>

    <section class="mt-7 border-t border-ink pt-4" aria-label="Client by client">
      <div class="flex items-baseline gap-6">
        <h2>Client by client</h2>
        {#each choices as c (c.id)}
          <button
            class="border-b-[3px] text-row {c.id === reading
              ? 'border-action font-bold'
              : 'border-transparent text-soft'}"
            aria-pressed={c.id === reading}
            onclick={() => (reading = c.id)}>{c.name} {c.count}</button
          >
        {/each}
      </div>
      <p class="mt-1 text-small text-soft">
        Right minus left at each sitting with its band, hollow where the sitting chose the side; below, the
        extra minutes of each side. One client’s dose and time cannot be told apart, so no line is drawn and
        no date named.
      </p>
      <ul class="mt-3 grid grid-cols-[repeat(auto-fill,minmax(270px,1fr))] gap-x-7 gap-y-5">
        {#each drawings as d (d.client_id)}
          <li>
            <p class="flex justify-between text-row">
              <a class="link font-bold" href="/clients/{d.client_id}/sittings">{d.name}</a><span
                class="text-soft">{d.side ? `${d.side} side more` : 'both alike'}</span
              >
            </p>
            <SidesByWeek drawing={d} />
            <p class="text-small text-soft">
              With photographs like these a change of {d.would_show.toFixed(1)} mm or more would show.
              {d.counts ? `Not counted: ${d.counts}.` : 'Counted above.'}
            </p>
          </li>
        {:else}
          <li class="text-soft">No client has two sittings with this reading yet.</li>
        {/each}
      </ul>
    </section>

    <section class="mt-7 grid grid-cols-[minmax(0,1fr)_420px] gap-x-8 border-t border-ink pt-4">
      <div>
        <h2>How long people keep practising</h2>
        <p class="mt-1.5 {found.practising.finding.open ? '' : 'text-soft'}">
          {found.practising.finding.sentence}
        </p>
        <p class="mt-1.5 {found.practising.first_weeks.open ? '' : 'text-soft'}">
          {found.practising.first_weeks.sentence}
        </p>
        <p class="mt-3 text-small text-soft">
          Stopped: 21 days without practice, pauses left out, dated at the last one. Everybody is followed
          only to 21 days before today; the end of a program is a cut, not a stop.
        </p>
      </div>
      {#if found.practising.course.length > 1}
        <div>
          <StillPractising course={found.practising.course} name="Share that still practises" />
          {#if found.practising.many.length}
            <p class="text-small text-soft">Most sessions in the first two weeks</p>
            <StillPractising course={found.practising.many} name="Of those with most sessions at first" />
            <p class="text-small text-soft">Fewer</p>
            <StillPractising course={found.practising.few} name="Of those with fewer at first" />
          {/if}
        </div>
      {/if}
    </section>

    <section class="mt-7 grid grid-cols-2 gap-x-8 border-t border-ink pt-4">
      <div>
        <h2>Approaches</h2>
        {#each found.approaches as a, i (i)}
          <p class="mt-1.5 {a.finding.open ? '' : 'text-soft'}">
            <b class="font-bold">{a.reading}.</b>
            {a.finding.sentence}
            <span class="text-small text-soft"
              >Middle starts {a.starts.map((s) => s.toFixed(1)).join(' and ')} mm.</span
            >
          </p>
        {:else}
          <p class="mt-1.5 text-soft">
            Nothing can be said yet: no two approaches have clients who count. They are never ranked; the
            keener client gets one more often, and nothing on record mends that but a coin.
          </p>
        {/each}
      </div>
      <div>
        <h2>Blind ratings</h2>
        {#each found.ratings as x (x.concern)}
          <p class="mt-1.5"><b>{x.concern}.</b> {x.finding.sentence}</p>
        {:else}
          <p class="mt-1.5 text-soft">
            Nothing can be said yet: no finished round begins with photographs that took no part in choosing.
          </p>
        {/each}
      </div>
    </section>

    {#if senior}
      <p class="mt-8 border-t border-rule pt-3 text-row">
        The table without names holds {found.agreed === 1
          ? '1 client who has'
          : `${found.agreed} clients who have`} agreed to stand in it:
        <a class="link" href="/api/helped.xlsx" download>workbook</a>
        ·
        <a class="link" href={tables.csv('/api/helped.csv')} download>CSV</a> ·
        <a class="link" href={tables.csv('/api/helped-dictionary.csv')} download>its dictionary</a>
      </p>
    {/if}
  {:else if !problem}<p class="mt-6 text-soft" role="status">
      Working it out from your records{far && `: ${far}`} …
    </p>{/if}
</main>
