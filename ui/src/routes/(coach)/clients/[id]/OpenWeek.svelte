<script lang="ts">
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { addDays, atClock, clock, shortDay, weekDay } from '$lib/format'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'
  import SessionStrip from '$lib/signature/SessionStrip.svelte'
  import LoggedDay from './LoggedDay.svelte'

  /** The chosen week, opened: every session to scale and what was done of it, and the doses that became others. */
  let { course, week }: { course: Schemas['CourseView']; week: number } = $props()
  const first = $derived(addDays(course.start_date ?? course.today, (week - 1) * 7))
  const days = $derived(course.days.filter((d) => d.week === week))
  const review = $derived(
    course.reviews.filter((r) => r.first_day <= addDays(first, 6) && r.last_day >= first).at(-1)
  )
  let drawn = $state.raw<Schemas['OpenWeekView'] | null>(null)
  let problem = $state('')
  let opened = $state('')
  let table = $state<HTMLTableElement>()
  const known = new Map<string, Schemas['OpenWeekView']>()

  $effect(() => {
    const wanted = first
    const had = known.get(wanted) ?? null
    drawn = had
    problem = ''
    if (had) return
    ask(
      api.GET('/api/clients/{client_id}/weeks/{first}', {
        params: { path: { client_id: course.id, first: wanted } }
      })
    )
      .then((found) => {
        known.set(wanted, found)
        if (wanted === first) drawn = found
      })
      .catch((error) => {
        if (wanted === first) problem = words(error)
      })
  })

  const sessions = $derived(Map.groupBy(drawn?.sessions ?? [], (s) => s.day))
  const longest = $derived(Math.max(60, ...(drawn?.sessions ?? []).map((s) => s.seconds)))
  const wide = 400
  const ticks = $derived(
    Array.from({ length: Math.floor(longest / 300) + 1 }, (_, i) => i * 300).filter((s) => s < longest)
  )
  const said = {
    done: 'done',
    partly: 'partly done',
    skipped: 'not practised',
    open: '',
    future: 'planned',
    paused: 'paused',
    extra: 'without a plan'
  }

  const inWords = (d: Schemas['CourseDay']) =>
    d.state === 'open'
      ? `${d.share ? 'partly done, open' : 'due,'} until ${atClock(course.day_closes)}`
      : said[d.state]

  export function focus() {
    table?.querySelector('button')?.focus()
  }

  function keys(event: KeyboardEvent) {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
    const all = [...(table?.querySelectorAll<HTMLButtonElement>('td > button') ?? [])]
    const at = all.indexOf(document.activeElement as HTMLButtonElement)
    if (at < 0) return
    event.preventDefault()
    all[at + (event.key === 'ArrowDown' ? 1 : -1)]?.focus()
  }
</script>

<section class="-mt-px border border-ink bg-sheet px-4 pt-3 pb-4" aria-label="Week {week}">
  <div class="flex flex-wrap items-baseline gap-x-3">
    <h2>Week {week}, {shortDay(first)} to {shortDay(addDays(first, 6))}</h2>
    {#if review}<p class="text-row text-soft">
        Reviewed: {review.decided}{review.decided === review.suggested
          ? ''
          : `, suggested was ${review.suggested}`}{review.reason ? `. “${review.reason}”` : ''}
      </p>{/if}
  </div>
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  {#if !days.length}<p class="mt-1 text-soft">No sessions are planned in this week.</p>{:else}
    <div class="mt-1 grid grid-cols-[minmax(0,1fr)_216px] gap-x-5 print:grid-cols-1">
      <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
      <table class="w-full text-row" bind:this={table} onkeydown={keys}>
        <thead class="text-left text-note text-soft"
          ><tr class="align-bottom"
            ><th class="w-[62px] font-normal">day</th><th class="font-normal"
              ><svg width={wide} height="16" class="block overflow-visible" aria-hidden="true"
                >{#each ticks as s (s)}<text
                    x={(s / longest) * wide}
                    y="12"
                    class="text-note"
                    text-anchor={s ? 'middle' : 'start'}
                    fill="var(--color-soft)">{s ? `${s / 60} min` : '0'}</text
                  >{/each}</svg
              ></th
            ><th class="w-[128px] font-normal">exercise time done</th><th class="w-[44px] font-normal"
              >effort</th
            ><th class="w-[66px] font-normal">sore after</th></tr
          ></thead
        >
        <tbody>
          {#each days as d (d.day)}
            {@const done = d.logs.reduce((sum, l) => sum + l.done_s, 0)}
            {@const after = course.days.find((x) => x.day === addDays(d.day, 1))?.soreness}
            <tr
              class="border-t border-rule {d.state === 'open' ? 'bg-paper font-bold' : ''} {d.state ===
              'future'
                ? 'text-soft'
                : ''}"
            >
              <td
                ><button
                  class="py-[3px] link disabled:no-underline"
                  aria-expanded={opened === d.day}
                  aria-label="{weekDay(d.day)}, {inWords(d)}"
                  onclick={() => (opened = opened === d.day ? '' : d.day)}>{weekDay(d.day)}</button
                ></td
              >
              <td class="py-[2px]">
                {#each sessions.get(d.day) ?? [] as s, i (i)}<SessionStrip
                    session={s}
                    trains={drawn?.trains ?? []}
                    seconds={longest}
                    width={wide}
                    ahead={d.state === 'future' || (d.state === 'open' && !d.share) || d.state === 'paused'}
                  />{:else}<span class="text-small text-soft">{drawn ? inWords(d) : ''}</span>{/each}
              </td>
              <td
                >{#if d.logs.length}<b>{clock(done)}</b> of {clock(
                    d.planned_s
                  )}{:else if d.state === 'future'}{clock(d.planned_s)}{:else}<span class="text-soft"
                    >{inWords(d)}</span
                  >{/if}{#if d.over_share > 0.02}<span class="block text-small font-bold text-watch"
                    >+{Math.round(100 * d.over_share)} % above plan</span
                  >{/if}</td
              >
              <td>{d.logs.at(-1)?.effort ?? ''}</td>
              <td class={(after ?? 0) > 5 ? 'font-bold text-watch' : ''}>{after ?? ''}</td>
            </tr>
            {#each d.logs.filter((l) => l.note) as l (l.id)}
              <tr><td></td><td colspan="4" class="pb-1 text-small italic">“{l.note}”</td></tr>
            {/each}
            {#if opened === d.day}<tr
                ><td></td><td colspan="4" class="py-1"
                  ><LoggedDay id={course.id} day={d.day} zone={course.time_zone} /></td
                ></tr
              >{/if}
          {/each}
        </tbody>
      </table>
      <div>
        <h3 class="text-base">
          {drawn?.moves.length ? `Changed from week ${week - 1}` : week === 1 ? 'The first doses' : 'Doses'}
        </h3>
        {#each drawn?.moves ?? [] as m (m.name)}
          <p class="mt-2 text-small leading-tight">{m.name}</p>
          <p class="dose text-small">
            <span class="text-soft">{m.before.line || 'rest'}</span> →
            <b>{m.after.line || 'rest'}</b>
          </p>
          {#if m.after.train && m.after.train.total_s > 5}<PulseTrain
              train={m.after.train}
              width={200}
              height={14}
              label={m.after.line}
            />{/if}
        {:else}<p class="mt-1 text-small text-soft">
            {week === 1 ? 'Nothing lies before them.' : drawn ? 'The same as the week before.' : 'Reading …'}
          </p>{/each}
      </div>
    </div>
  {/if}
</section>
