<script lang="ts">
  import { goto } from '$app/navigation'
  import { onMount, tick } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { actionOf } from '$lib/desk/actions'
  import AlarmRow from '$lib/desk/AlarmRow.svelte'
  import Beginning from '$lib/desk/Beginning.svelte'
  import Day from '$lib/desk/Day.svelte'
  import Quiet from '$lib/desk/Quiet.svelte'
  import Write from '$lib/desk/Write.svelte'
  import { here, longDay } from '$lib/format'
  import { confirmLater, isDecided } from '$lib/review/reviewing'
  import { offer } from '$lib/parts/undo.svelte'
  import { session } from '$lib/people/session.svelte'
  import NewClient from '../clients/NewClient.svelte'

  let view = $state<Schemas['DeskView'] | null>(null)
  let problem = $state('')
  let wanted = $state('')
  let coach = $state('')
  let group = $state('')
  let status = $state('')
  let at = $state('')
  let find = $state<HTMLInputElement>()
  let writing = $state(false)
  let adding = $state(false)
  let text = $state('')
  let said = $state<Record<string, string>>({})

  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        view = await ask(api.GET('/api/desk'))
        if (!at) at = needy[0]?.id ?? ''
      }
    )
  }
  onMount(load)

  const fits = (r: Schemas['DeskRow']) =>
    r.name.toLowerCase().includes(wanted.trim().toLowerCase()) &&
    (!coach || r.coach_id === coach) &&
    (!group || r.programs.some((p) => p.group_id === group)) &&
    (!status || r.status === status)
  const found = $derived((view?.clients ?? []).filter(fits))
  const needy = $derived(found.filter((r) => r.alarms.length))
  const quiet = $derived(found.filter((r) => !r.alarms.length))
  const states = $derived([...new Set((view?.clients ?? []).map((r) => r.status))].sort())
  const due = $derived(needy.reduce((n, r) => n + r.reviews.length, 0))
  const order = ['before anything else', 'today', 'this week'] as const
  const parts = $derived(
    order.map((name) => ({ name, rows: needy.filter((r) => r.alarms[0]?.urgency === name) }))
  )
  const chosen = $derived(needy.find((r) => r.id === at))
  const headline = $derived.by(() => {
    if (!view) return ''
    const first = needy.filter((r) => r.alarms[0]?.urgency === 'before anything else').length
    if (!view.clients.length) return 'Nobody is here yet.'
    if (!needy.length) return `Nobody of ${found.length} clients waits for you.`
    return `${needy.length} of ${found.length} clients need you.${first ? ` ${first === 1 ? 'One' : first} first, before anything else.` : ''}`
  })

  async function act(row: Schemas['DeskRow']) {
    const alarm = row.alarms[0]
    if (!alarm) return
    at = row.id
    const action = actionOf(row, alarm)
    if (decided(row)) return
    if (action.does === 'open') await goto(action.href)
    else if (action.does === 'write') {
      text = alarm.first_words
      writing = true
    } else {
      problem = ''
      await attempt(
        (why) => (problem = why),
        async () => {
          const { assignment_id, first_day, verdict } = action.review
          const body = { id: crypto.randomUUID(), first_day, verdicts: {}, bias: [], reason: '', words: '' }
          confirmLater(row.name, verdict, assignment_id, body, load)
          done(row, `${verdict}, confirmed`)
        }
      )
    }
  }

  async function settle(row: Schemas['DeskRow']) {
    const alarm = row.alarms[0]
    if (!alarm?.may_settle) return
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(
          api.POST('/api/desk/settled', { body: { client_id: row.id, kind: alarm.kind, key: alarm.key } })
        )
        done(row, 'put aside')
        offer(`Put aside: ${row.name}, ${alarm.name.toLowerCase()}.`, async () => {
          await ask(
            api.POST('/api/desk/unsettled', { body: { client_id: row.id, kind: alarm.kind, key: alarm.key } })
          )
          await load()
        })
      }
    )
  }

  /** What was decided and can still be taken back. */
  const decided = (row: Schemas['DeskRow']) =>
    row.reviews[0] && isDecided(row.reviews[0].assignment_id, row.reviews[0].first_day)
      ? `${row.reviews[0].verdict}, confirmed`
      : ''

  /** Say it on the line, go to the next one, and read the desk again. */
  function done(row: Schemas['DeskRow'], what: string) {
    const place = needy.findIndex((r) => r.id === row.id)
    said[row.id] = what
    at = needy[place + 1]?.id ?? needy[place - 1]?.id ?? ''
    setTimeout(async () => {
      await load()
      said = {}
    }, 900)
  }

  async function send(id: string, body: string) {
    const row = chosen
    if (!row) return
    await ask(
      api.POST('/api/clients/{client_id}/messages', {
        params: { path: { client_id: row.id } },
        body: { id, text: body, about_day: null, exercise_id: null }
      })
    )
    if (row.alarms[0]?.may_settle) await settle(row)
    else done(row, 'written')
  }

  async function keys(event: KeyboardEvent) {
    const typing = (event.target as HTMLElement).closest('input, textarea, select, [role=dialog]')
    if (event.key === 'Escape' && typing === find) {
      wanted = ''
      find?.blur()
      return
    }
    if (event.key === 'Enter' && typing === find) {
      const row = needy[0] ?? quiet[0]
      if (row) await goto(`/clients/${row.id}`)
      return
    }
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return
    const place = needy.findIndex((r) => r.id === at)
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      at =
        needy[Math.min(Math.max(place + (event.key === 'ArrowDown' ? 1 : -1), 0), needy.length - 1)]?.id ?? at
      await tick()
      document.getElementById(`row-${at}`)?.scrollIntoView({ block: 'nearest' })
    } else if (event.key === '/') {
      event.preventDefault()
      find?.focus()
    } else if (event.key === 'r') await goto('/reviews')
    else if ((event.target as HTMLElement).closest('a, button')) return
    else if (event.key === 'Enter' && chosen) await act(chosen)
    else if (event.key === 's' && chosen) await settle(chosen)
    else if (event.key === 'o' && chosen) await goto(`/clients/${chosen.id}`)
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Desk · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-frame grid-cols-[minmax(0,1fr)_354px] gap-x-7 px-6 pb-16">
  <div class="pt-4">
    <div class="flex items-end gap-4">
      <div>
        <h1>{longDay(here(new Date(), session.me?.time_zone))}</h1>
        {#if view}<p class="mt-1 text-soft">{headline}</p>{/if}
      </div>
      <button class="ml-auto act min-h-chip text-row act-quiet" onclick={() => (adding = true)}
        >New client</button
      >
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-row text-soft">
      <input
        class="field min-h-chip w-[180px]"
        bind:this={find}
        bind:value={wanted}
        placeholder="Find a client ( / )"
        aria-label="Find a client"
      />
      {#if (view?.coaches.length ?? 0) > 1}<select
          class="field min-h-chip w-auto"
          bind:value={coach}
          aria-label="Coach"
          ><option value="">every coach</option>{#each view?.coaches ?? [] as c (c.id)}<option value={c.id}
              >{c.name}</option
            >{/each}</select
        >{/if}
      {#if view?.groups.length}<select class="field min-h-chip w-auto" bind:value={group} aria-label="Group"
          ><option value="">every group</option>{#each view.groups as g (g.id)}<option value={g.id}
              >{g.name}</option
            >{/each}</select
        >{/if}
      {#if states.length > 1}<select class="field min-h-chip w-auto" bind:value={status} aria-label="Status"
          ><option value="">any status</option>{#each states as s (s)}<option value={s}>{s}</option
            >{/each}</select
        >{/if}
      {#if group}<a class="link" href="/groups/{group}">See the group together</a>{/if}
      {#if due}<a class="ml-auto link font-bold" href="/reviews"
          >{due} review{due === 1 ? '' : 's'} in a row ( r )</a
        >{/if}
    </div>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    {#if !view && !problem}<p class="mt-8 text-soft" role="status">Reading the desk …</p>{/if}
    <Beginning addClient={() => (adding = true)} changes={view?.clients.length} />
    {#each parts as part (part.name)}
      {#if part.rows.length}
        <div class="mt-2 flex items-center gap-3 text-small text-soft">
          <span class="h-px grow bg-ink"></span>{part.name}
        </div>
        <ul aria-label={part.name}>
          {#each part.rows as r (r.id)}
            <AlarmRow
              row={r}
              rules={view?.rules ?? {}}
              chosen={r.id === at}
              said={said[r.id] ?? decided(r)}
              act={() => act(r)}
              settle={() => settle(r)}
              choose={() => (at = r.id)}
            />
          {/each}
        </ul>
      {/if}
    {/each}
    {#if needy.length}<p class="mt-3 text-small text-soft">
        Keys: arrows choose, Enter acts, s puts aside what was seen, o opens the client, r takes the reviews
        in a row, / finds.
      </p>{/if}
  </div>
  <aside class="border-l border-edge-soft pt-4 pl-6" aria-label="The day, and who goes along">
    {#if view}
      <h2 class="mb-2">Today’s sittings and reviews</h2>
      <Day day={view.day} now={view.now} />
      <Quiet rows={quiet} all={view.clients.length} />
    {/if}
  </aside>
</main>
<Write
  bind:open={writing}
  to={chosen?.name.split(' ')[0] ?? ''}
  bind:text
  unread={chosen && !chosen.has_account ? [chosen.name] : []}
  {send}
/>
<NewClient bind:open={adding} done={(id) => goto(`/clients/${id}/intake`)} />
