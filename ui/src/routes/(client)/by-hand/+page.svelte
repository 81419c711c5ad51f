<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import Back from '$lib/parts/Back.svelte'
  import { goto } from '$app/navigation'
  import { onMount } from 'svelte'
  import { attempt } from '$lib/api/client'
  import { clock, longDay } from '$lib/format'
  import type { Entry } from '$lib/offline/db'
  import { days, load, now, type Day, type Session } from '$lib/offline/days.svelte'
  import { handIn, heard, put, queue } from '$lib/offline/queue.svelte'
  import Waiting from '$lib/practice/Waiting.svelte'
  import { session as signed } from '$lib/people/session.svelte'
  import { planned, told, type Row } from './counts'

  /** Practice without the phone, told afterwards: what was planned stands there, and what was done is set beside it. */
  type Log = Extract<Entry, { kind: 'log' }>
  let part = $state.raw<Day['parts'][number] | null>(null)
  let session = $state.raw<Session | null>(null)
  let day = $state('')
  let rows = $state<Row[]>([])
  let effort = $state<number | null>(null)
  let note = $state('')
  let problem = $state('')
  let sent = $state(false)

  onMount(async () => {
    heard()
    await attempt(
      (why) => (problem = why),
      async () => {
        await load(signed.me?.client_id ?? '')
      }
    )
    const today = days.view ? now(days.view) : undefined
    const parts = today?.parts.filter((p) => p.session) ?? []
    if (!today || !parts.length) return
    day = today.day
    choose(parts[0] as Day['parts'][number])
  })
  const parts = $derived(days.view ? (now(days.view)?.parts.filter((p) => p.session) ?? []) : [])

  function choose(of: Day['parts'][number]) {
    part = of
    session = days.view?.sessions[of.session ?? ''] ?? null
    rows = session ? planned(session) : []
  }

  function all(share: 0 | 1) {
    rows = rows.map((r) => ({ ...r, sets: share ? r.ofSets : 0, reps: share ? r.ofReps : r.reps }))
  }
  const over = $derived(rows.filter((r) => r.sets * r.reps > r.ofSets * r.ofReps))

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    if (!session || !part) return
    const ended = new Date()
    const items: Log['items'] = session.items.map((item, n) => ({
      assignment_id: item.assignment_id,
      line_id: item.line_id,
      hurt: false,
      pain_where: '',
      pain_since: '',
      in_eased_version: item.in_eased_version,
      eased: item.in_eased_version,
      skip_reason: '',
      counts: told(rows, n)
    }))
    await put({
      kind: 'log',
      id: crypto.randomUUID(),
      day,
      part: part.part,
      source: 'manual',
      parts: part.parts,
      stretches: [],
      items,
      started_at: new Date(ended.getTime() - 1000 * session.seconds).toISOString(),
      ended_at: ended.toISOString(),
      effort,
      note
    })
    await handIn()
    sent = true
    if (!queue.said.length && !queue.refused.length && !queue.waiting.length) await goto('/today')
  }
</script>

<svelte:head><title>By hand · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pb-10 text-sub">
  <Back href="/today" name="Today" />
  <h1 class="text-title">Practised without the phone</h1>
  {#if problem || days.problem}<p role="alert" class="mt-3 text-stop">{problem || days.problem}</p>{/if}
  {#if sent}
    <Waiting />
    <a class="mt-6 act min-h-hand w-full text-head" href="/today">Back to today</a>
  {:else if session && part}
    <p class="mt-2">
      For {longDay(day)}. It stands as planned; change what was otherwise. What is above plan is kept as such,
      and is no gain.
    </p>
    {#if parts.length > 1}
      <div class="mt-3 flex gap-3" role="group" aria-label="Which session">
        {#each parts as p (p.part)}<button
            class="min-h-press rounded border-firm border-edge px-4 aria-pressed:bg-action aria-pressed:text-sheet"
            aria-pressed={p.part === part.part}
            onclick={() => choose(p)}>{p.part}</button
          >{/each}
      </div>
    {/if}
    <div class="mt-3 flex gap-6 text-lead">
      <button class="min-h-touch link" onclick={() => all(1)}>All as planned</button>
      <button class="min-h-touch link" onclick={() => all(0)}>Begin from none</button>
    </div>
    <form onsubmit={keep}>
      <ol>
        {#each session.items as item, n (n)}
          <li class="border-b border-rule py-2">
            <p class="flex justify-between gap-3">
              <b>{item.name}</b><span class="text-base text-soft">{clock(item.seconds)}</span>
            </p>
            {#each rows as row, i (i)}
              {#if row.item === n}
                {@const where = row.side === 'both' ? 'both sides' : `your ${row.side}`}
                <div class="mt-2 grid grid-cols-[56px_150px_1fr] items-center gap-x-3 gap-y-1.5 text-lead">
                  <span
                    class="font-bold {row.side === 'right'
                      ? 'text-side-right'
                      : row.side === 'left'
                        ? 'text-side-left'
                        : ''}">{row.side}</span
                  >
                  <NumberField
                    big
                    aria-label="sets on {where}"
                    min="0"
                    max="20"
                    required
                    bind:value={row.sets}
                  />
                  <span>of {row.ofSets} set{row.ofSets === 1 ? '' : 's'}</span>
                  <span></span>
                  <NumberField
                    big
                    aria-label="repetitions on {where}"
                    min="0"
                    max="200"
                    required
                    bind:value={row.reps}
                  />
                  <span>of {row.ofReps} time{row.ofReps === 1 ? '' : 's'}</span>
                </div>
              {/if}
            {/each}
          </li>
        {/each}
      </ol>
      {#if over.length}
        <p role="status" class="mt-4 border-l-4 border-mark-watch pl-3">
          More than planned: {[...new Set(over.map((r) => session?.items[r.item]?.name))].join(', ')}. More
          strains the muscles and brings nothing sooner.
        </p>
      {/if}
      <fieldset class="mt-4">
        <legend class="font-bold">How hard was it, 0 to 10?</legend>
        <div class="mt-1 grid grid-cols-6 gap-2">
          {#each [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as e (e)}<button
              type="button"
              class="min-h-press rounded border-firm border-edge text-head aria-pressed:bg-action aria-pressed:text-sheet"
              aria-pressed={effort === e}
              onclick={() => (effort = effort === e ? null : e)}>{e}</button
            >{/each}
        </div>
      </fieldset>
      <label class="mt-4 grid gap-1"
        >A word to your coach<input class="field min-h-press" maxlength="2000" bind:value={note} /></label
      >
      <button class="mt-5 act min-h-wet w-full text-big">Keep it</button>
    </form>
  {:else if days.view}
    <p class="mt-3">No session is planned today, so there is nothing to tell. Resting is part of the plan.</p>
  {:else}<p class="mt-3 text-soft" role="status">Reading your day …</p>{/if}
</main>
