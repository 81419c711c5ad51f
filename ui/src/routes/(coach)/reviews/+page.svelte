<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { addDays, shortDay, longDay } from '$lib/format'
  import Note from '$lib/parts/Note.svelte'
  import PracticeBars from '$lib/parts/PracticeBars.svelte'
  import Line from './Line.svelte'
  import { KEYS, ReviewDesk, VERDICTS, WEEK_ROW, type Due } from './review.svelte'
  import WeekRow from './WeekRow.svelte'

  const desk = new ReviewDesk()
  let reason = $state<HTMLInputElement>()
  let note = $state<HTMLTextAreaElement>()
  /** The review that the address asks for, if it asks for one. */
  function asked(): Due | null {
    const assignment = page.url.searchParams.get('assignment')
    return assignment
      ? { client: '', assignment_id: assignment, first_day: page.url.searchParams.get('first_day') }
      : null
  }
  onMount(() => void desk.begin(asked()))
  const v = $derived(desk.view)
  const left = $derived(desk.queue.length - desk.place)

  async function confirm() {
    if (desk.needsReason && !desk.reason.trim()) {
      reason?.focus()
      return
    }
    if (await desk.confirm()) window.scrollTo(0, 0)
  }

  async function keys(event: KeyboardEvent) {
    const target = event.target as HTMLElement
    const typing = target.closest('input, textarea')
    if (event.key === 'Enter' && (event.ctrlKey || !typing || typing === reason)) {
      if (
        target.closest('a, summary') ||
        (target.closest('button') && target.getAttribute('role') !== 'radio')
      )
        return
      event.preventDefault()
      await confirm()
      return
    }
    if (event.key === 'Escape' && typing) (typing as HTMLElement).blur()
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return
    const lines = v?.lines.length ?? 0
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      desk.line = Math.min(
        Math.max(desk.line + (event.key === 'ArrowDown' ? 1 : -1), desk.top),
        Math.max(lines - 1, desk.top)
      )
    } else if (event.key === 'n' && desk.begun) await desk.skip()
    else if (event.key === 'o' && v) await goto(`/clients/${v.client_id}`)
    else if (event.key === 'w') {
      event.preventDefault()
      note?.focus()
    } else if (!v?.refused) {
      const verdict = VERDICTS.find((x) => KEYS[x] === event.key.toLowerCase())
      if (verdict) desk.choose(verdict, event.shiftKey)
    }
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Reviews · Dimbo</title></svelte:head>
<main
  class="mx-auto grid max-w-frame grid-cols-[minmax(0,1002px)_216px] gap-x-7 px-6 pb-16 max-lg:grid-cols-1 max-sm:px-3"
>
  <div class="pt-4">
    {#if v}
      <p class="text-row text-soft">
        {left > 1 ? `${left} reviews, one by one; this one is` : 'Review of'} week {v.week} of
        <a class="link" href="/clients/{v.client_id}">{v.client_name}</a>, {v.title}{v.earned
          ? ', earned week by week'
          : ''}
      </p>
      <div class="mt-1 flex items-end gap-5">
        <div>
          <h1>{v.client_name}: {v.suggested}</h1>
          <p class="mt-1">{v.because}</p>
        </div>
        <div class="ml-auto flex gap-4 text-small text-soft">
          <div><PracticeBars days={v.days} width={110} /></div>
        </div>
      </div>
      <p class="mt-1 text-row text-soft">
        {longDay(v.first_day)} to {longDay(v.last_day)}: {v.evidence}.
        {v.holds_from
          ? `What you decide holds from ${longDay(v.holds_from)}.`
          : 'The program is at its end; the decision is kept, no dose follows.'}
        {v.waiting ? 'Until you decide, the week comes again.' : ''}
      </p>
      {#if v.refused}<p role="status" class="mt-2 border-l-4 border-mark-watch pl-3 text-watch">
          {v.refused}
        </p>{/if}
      {#if v.of_week}
        <table class="mt-3 w-full text-row" aria-label="Doses of this week and the next">
          <thead class="text-left text-small text-soft"
            ><tr
              ><th class="w-[27%] pl-2 font-normal">exercise</th><th class="w-[172px] font-normal"
                >this week</th
              ><th class="font-normal">verdict, suggestion underlined</th><th class="w-[172px] font-normal"
                >next week</th
              ></tr
            ></thead
          >
          <tbody>
            <WeekRow
              week={v.of_week}
              verdict={desk.ofWeek}
              days={desk.checked?.days ?? ''}
              chosen={desk.line === WEEK_ROW}
              open={!v.refused}
              choose={(verdict) => {
                desk.line = WEEK_ROW
                desk.choose(verdict)
              }}
              pick={() => (desk.line = WEEK_ROW)}
            />
            {#each v.lines as line, i (line.line_id)}
              <Line
                {line}
                verdict={desk.of(line)}
                played={desk.checked?.next[line.line_id]}
                chosen={i === desk.line}
                open={!v.refused}
                choose={(verdict) => {
                  desk.line = i
                  desk.choose(verdict)
                }}
                pick={() => (desk.line = i)}
              />
            {/each}
          </tbody>
        </table>
      {:else}<p class="mt-4">The program ends with this week, so there is no dose to decide.</p>{/if}
      <form class="mt-4 grid max-w-page gap-3" onsubmit={(e) => e.preventDefault()}>
        {#if desk.needsReason}<label class="grid gap-1"
            ><span
              >Why {desk.changed ? 'otherwise than suggested' : 'the sides change'}
              <span class="text-soft">(kept with the review)</span></span
            ><input class="field" maxlength="400" bind:this={reason} bind:value={desk.reason} /></label
          >{/if}
        <label class="grid gap-1"
          ><span>Words to {v.client_name.split(' ')[0]} <span class="text-soft">(optional, w)</span></span
          ><textarea class="h-[64px] field py-2" maxlength="1000" bind:this={note} bind:value={desk.words}
          ></textarea></label
        >
        {#if desk.problem}<p role="alert" class="text-stop">{desk.problem}</p>{/if}
        <div class="flex items-center gap-4">
          <button
            class="act"
            type="button"
            disabled={!!v.refused || desk.against.length > 0}
            onclick={confirm}>{desk.changed ? 'Decide otherwise' : `Confirm: ${v.suggested}`}</button
          >
          <button class="act act-quiet" type="button" onclick={() => desk.skip()}
            >{left > 1 ? 'Next, without deciding' : 'Leave it'}</button
          >
        </div>
        <p class="text-small text-soft">
          Keys: Enter confirms, arrows choose an exercise, a advance, h hold, e ease back, x stop (with Shift
          for all), n next, w words, o opens the client.
        </p>
      </form>
      {#if v.kept.length}
        <section class="mt-5 max-w-page">
          <h2>Decided before</h2>
          {#each v.kept as k (k.id)}<p class="mt-1 text-row">
              {longDay(k.made_at.slice(0, 10))}: suggested {k.suggested}, decided {k.decided}{k.reason
                ? `, “${k.reason}”`
                : ''}{k.otherwise.length ? `. ${k.otherwise.join('; ')}` : ''}.
            </p>{/each}
          <p class="text-small text-soft">Another decision is kept beside it, and holds.</p>
        </section>
      {/if}
    {:else if desk.problem}
      <h1 class="mt-4">Reviews</h1>
      <p role="alert" class="mt-3 text-stop">{desk.problem}</p>
      <p class="mt-3">
        {#if desk.begun}<button class="act act-quiet" onclick={() => desk.skip()}>Next review</button>
        {:else}<button class="act act-quiet" onclick={() => desk.begin(asked())}>Try again</button>{/if}
      </p>
    {:else if !desk.begun || left > 0}
      <h1 class="mt-4">Reviews</h1>
      <p class="mt-3 text-soft" role="status">
        {desk.begun ? 'Reading the week …' : 'Looking for the weeks that are over …'}
      </p>
    {:else}
      <h1 class="mt-4">No review waits</h1>
      <p class="mt-2">
        {desk.done.length
          ? `${desk.done.length} decided just now.`
          : 'Nothing to review now: every week that is over has been decided, or none is over yet.'}
        <a class="link" href="/desk">Back to the desk</a>
      </p>
    {/if}
    {#if desk.done.length}
      <ul class="mt-5 text-row text-soft" aria-label="Decided just now">
        {#each desk.done as d (d.id)}<li>
            {d.client}: {d.decided}{d.holds ? `, from ${shortDay(d.holds)}` : ''}
          </li>{/each}
      </ul>
    {/if}
  </div>
  <aside
    class="border-l border-edge-soft pt-6 pl-4 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
    aria-label="Margin"
  >
    {#if v}
      <div class="grid gap-5">
        {#each desk.against as a (a.text)}<Note weight="stop">{a.text} <b>{a.remedy}</b></Note>{/each}
        {#each desk.checked?.remarks ?? [] as a (a.text)}<Note weight="watch">{a.text} <b>{a.remedy}</b></Note
          >{/each}
        {#each v.remarks as text (text)}<Note weight="watch">{text}</Note>{/each}
        {#each v.bias as b, i (i)}
          <Note weight={b.label ? 'watch' : 'fine'}
            >{b.text}
            {#if b.label}<label class="mt-1 flex gap-2"
                ><input
                  type="checkbox"
                  value={b.key}
                  bind:group={desk.bias}
                  onchange={() => desk.check()}
                  disabled={!!v.refused}
                />
                {b.label}, from next week</label
              >{/if}</Note
          >
        {/each}
        {#each v.rules as r (r.id)}
          <Note weight="remark"><b>{r.name}.</b> {r.says}</Note>
        {/each}
        {#if v.soreness.length}<Note weight="remark"
            >Soreness: {v.soreness
              .map(({ day, level }) => `${level} on ${shortDay(day)}, after ${shortDay(addDays(day, -1))}`)
              .join('; ')}.</Note
          >{/if}
        <Note weight="remark"
          >The rules advise; you decide. <a class="link" href="/settings/review">Thresholds of the practice</a
          ></Note
        >
      </div>
    {/if}
  </aside>
</main>
