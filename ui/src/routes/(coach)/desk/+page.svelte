<script lang="ts">
  import { goto } from '$app/navigation'
  import { onMount, tick } from 'svelte'
  import AlarmRow from '$lib/desk/AlarmRow.svelte'
  import Beginning from '$lib/desk/Beginning.svelte'
  import Day from '$lib/desk/Day.svelte'
  import { Desk } from '$lib/desk/desk.svelte'
  import Quiet from '$lib/desk/Quiet.svelte'
  import Together from '$lib/desk/Together.svelte'
  import Write from '$lib/desk/Write.svelte'
  import { here, longDay } from '$lib/format'
  import { keepInAddress } from '$lib/parts/address.svelte'
  import { isSenior, session } from '$lib/people/session.svelte'
  import NewClient from '../clients/NewClient.svelte'

  const desk = new Desk()
  let find = $state<HTMLInputElement>()
  let writing = $state(false)
  let adding = $state(false)
  let text = $state('')
  desk.write = (words) => {
    text = words
    writing = true
  }
  onMount(desk.load)
  $effect(() =>
    keepInAddress({ find: desk.wanted, whose: desk.whose, group: desk.group, status: desk.status })
  )

  const ORDER = ['before anything else', 'today', 'this week'] as const
  const parts = $derived(
    ORDER.map((name) => ({ name, rows: desk.needy.filter((r) => r.alarms[0]?.urgency === name) }))
  )
  /** Who waits for a first program is not on track, though no alarm tells of it. */
  const toBegin = $derived(desk.quiet.filter((r) => r.status === 'active' && !r.programs.length))
  const headline = $derived.by(() => {
    if (!desk.view) return ''
    if (!desk.view.clients.length) return 'No clients yet.'
    if (!desk.found.length) return 'Nobody fits what is chosen.'
    if (!desk.needy.length && toBegin.length)
      return `Nobody needs you today. ${toBegin.length} ${toBegin.length === 1 ? 'has' : 'have'} no program yet.`
    if (!desk.needy.length)
      return `All ${desk.found.length} ${desk.found.length === 1 ? 'client is' : 'clients are'} on track.`
    const first = parts[0]?.rows.length
    return `${desk.needy.length} of ${desk.found.length} clients need you${first ? `, ${first} before anything else` : ''}.`
  })

  async function send(id: string, body: string) {
    if (desk.chosen) await desk.send([{ row: desk.chosen, id, text: body }])
  }

  async function keys(event: KeyboardEvent) {
    const typing = (event.target as HTMLElement).closest(
      'input:not([type=checkbox]), textarea, select, [role=dialog]'
    )
    if (event.key === 'Escape' && typing === find) {
      desk.wanted = ''
      find?.blur()
      return
    }
    if (event.key === 'Enter' && typing === find) {
      const row = desk.needy[0] ?? desk.quiet[0]
      if (row) await goto(`/clients/${row.id}`)
      return
    }
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return
    const place = desk.needy.findIndex((r) => r.id === desk.at)
    const { chosen } = desk
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      const next = Math.max(place + (event.key === 'ArrowDown' ? 1 : -1), 0)
      desk.at = desk.needy[Math.min(next, desk.needy.length - 1)]?.id ?? desk.at
      await tick()
      document.getElementById(`row-${desk.at}`)?.scrollIntoView({ block: 'nearest' })
    } else if (event.key === 'f') {
      event.preventDefault()
      find?.focus()
    } else if (event.key === 'r') await goto('/reviews')
    else if ((event.target as HTMLElement).closest('a, button')) return
    else if (event.key === 'Enter' && chosen) await desk.act(chosen)
    else if (event.key === 's' && chosen) await desk.settle([chosen], false)
    else if (event.key === 't' && chosen) await desk.settle([chosen], true)
    else if (event.key === 'x' && chosen) desk.pick(chosen)
    else if (event.key === 'o' && chosen) await goto(`/clients/${chosen.id}`)
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Desk · Dimbo</title></svelte:head>
<main
  class="mx-auto grid max-w-frame grid-cols-[minmax(0,1fr)_280px] gap-x-6 px-6 pb-16 max-lg:grid-cols-1 max-sm:px-3"
>
  <div class="pt-3">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
      <h1 class="text-huge">{longDay(here(new Date(), session.me?.time_zone))}</h1>
      {#if desk.view}<p class="text-soft">{headline}</p>{/if}
      {#if desk.due}<a class="ml-auto link" href="/reviews"
          >{desk.due === 1 ? 'Take the review (r)' : `Take the ${desk.due} reviews one by one (r)`}</a
        >{/if}
    </div>
    {#if desk.together.length}<Together {desk} />{:else}
      <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-row text-soft">
        <input
          class="field min-h-chip w-[170px]"
          bind:this={find}
          bind:value={desk.wanted}
          placeholder="Find a client (f)"
          aria-label="Find a client"
        />
        {#if desk.hasColleagues}<select class="pick" bind:value={desk.whose} aria-label="Whose clients"
            ><option value="">my clients</option><option value="all">everybody’s</option
            >{#each desk.view?.coaches.filter((c) => c.id !== session.me?.id) ?? [] as c (c.id)}<option
                value={c.id}>{c.name}’s</option
              >{/each}</select
          >{/if}
        {#if desk.view?.groups.length}<select class="pick" bind:value={desk.group} aria-label="Group"
            ><option value="">every group</option>{#each desk.view.groups as g (g.id)}<option value={g.id}
                >{g.name}</option
              >{/each}</select
          >{/if}
        {#if desk.states.length > 1}<select class="pick" bind:value={desk.status} aria-label="Status"
            ><option value="">any status</option>{#each desk.states as s (s)}<option value={s}>{s}</option
              >{/each}</select
          >{/if}
        {#if desk.group}<a class="link" href="/groups/{desk.group}">See the group together</a>{/if}
        {#if isSenior()}<button
            class="ml-auto act min-h-chip text-row act-quiet"
            onclick={() => (adding = true)}>New client</button
          >{/if}
      </div>{/if}
    {#if desk.problem}<p role="alert" class="mt-2 text-stop">{desk.problem}</p>{/if}
    {#if !desk.view && !desk.problem}
      <div class="mt-4" role="status" aria-label="Reading the desk">
        {#each Array.from({ length: 9 }, (_, n) => n) as n (n)}<div
            class="h-[52px] border-b border-rule py-2"
          >
            <div class="h-4 w-1/4 bg-band-wash"></div>
            <div class="mt-1.5 h-3 w-1/2 bg-band-wash"></div>
          </div>{/each}
      </div>{/if}
    <Beginning addClient={() => (adding = true)} changes={desk.view?.clients.length} />
    {#each parts as part (part.name)}
      {#if part.rows.length}
        <div class="mt-1 flex items-center gap-3 text-note text-soft">
          <span class="h-px grow bg-ink"></span>{part.name}
        </div>
        <ul aria-label={part.name}>
          {#each part.rows as r (r.id)}
            <AlarmRow
              row={r}
              rules={desk.view?.rules ?? {}}
              at={r.id === desk.at}
              picked={desk.picked.includes(r.id)}
              said={desk.said[r.id] ?? desk.decided(r)}
              whose={desk.coachOf(r)}
              act={() => desk.act(r)}
              settle={(off) => desk.settle([r], off)}
              choose={() => (desk.at = r.id)}
              pick={() => desk.pick(r)}
            />
          {/each}
        </ul>
      {/if}
    {/each}
    {#if desk.elsewhere.length}<p class="mt-3 text-row">
        {desk.elsewhere.length} of your colleagues’ clients need{desk.elsewhere.length === 1 ? 's' : ''} somebody.
        <button class="link" onclick={() => (desk.whose = 'all')}>Show them</button>
      </p>{/if}
    {#if desk.needy.length}<p class="mt-3 text-small text-soft">
        Keys: arrows choose a line, Enter acts, s marks as seen, t puts off until tomorrow, x chooses several,
        o opens the client, r takes the reviews one by one, f finds.
      </p>{/if}
  </div>
  <aside
    class="border-l border-edge-soft pt-3 pl-5 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
    aria-label="The day, and who is on track"
  >
    {#if desk.view}
      <h2 class="mb-1 text-sub">Today</h2>
      <Day day={desk.ofShown(desk.view.day)} ahead={desk.ofShown(desk.view.ahead)} now={desk.view.now} />
      {#if toBegin.length}<Quiet title="To begin" rows={toBegin} about="no program yet" names />{/if}
      <Quiet title="On track" rows={desk.quiet.filter((r) => !toBegin.includes(r))} about="last 14 days" />
    {/if}
  </aside>
</main>
<Write
  bind:open={writing}
  to={desk.chosen?.name.split(' ')[0] ?? ''}
  bind:text
  unread={desk.chosen && !desk.chosen.has_account ? [desk.chosen.name] : []}
  {send}
/>
<NewClient bind:open={adding} done={(id) => goto(`/clients/${id}/intake`)} />
