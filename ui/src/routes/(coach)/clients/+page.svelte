<script lang="ts">
  import { goto } from '$app/navigation'
  import { onMount } from 'svelte'
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { longDay, share } from '$lib/format'
  import Mark from '$lib/parts/Mark.svelte'
  import PracticeBars from '$lib/parts/PracticeBars.svelte'
  import NewClient from './NewClient.svelte'

  let rows = $state<Schemas['ClientRow'][] | null>(null)
  let problem = $state('')
  let adding = $state(false)
  let wanted = $state('')

  onMount(async () => {
    try {
      rows = await ask(api.GET('/api/clients'))
    } catch (error) {
      problem = words(error)
    }
  })

  type Row = Schemas['ClientRow']
  const grave = (r: Row) => !!r.urgent || r.stopped > 0
  const needs = (r: Row) => grave(r) || r.locks.length > 0 || r.missed >= 3 || r.own_intake || r.unread > 0
  const found = $derived((rows ?? []).filter((r) => r.name.toLowerCase().includes(wanted.toLowerCase())))
  const urgent = $derived(found.filter(needs))
  const quiet = $derived(found.filter((r) => !needs(r)))

  function situation(r: Row): string {
    if (r.urgent) return r.urgent
    if (r.stopped)
      return r.stopped === 1
        ? 'One exercise hurt and waits for you.'
        : `${r.stopped} exercises hurt and wait for you.`
    if (r.locks.length) return `Locked: ${r.locks.join(', ').toLowerCase()}.`
    if (r.missed >= 3) return `${r.missed} planned days missed in a row. Nothing is doubled.`
    if (r.own_intake) return 'Has filled in the intake; it waits for you.'
    if (r.unread) return r.unread === 1 ? 'Wrote to you.' : `Wrote to you, ${r.unread} messages.`
    if (!r.days.length) return r.has_account ? 'No program is running.' : 'No program yet, not invited yet.'
    return r.week.planned
      ? `Done ${share(r.week.done)} of ${r.week.planned} in the last 7 days.`
      : 'First practice is due.'
  }
</script>

<svelte:head><title>Clients · Dimbo</title></svelte:head>
<main class="mx-auto max-w-[1232px] px-6 pt-5 pb-16">
  <div class="flex items-end gap-5">
    <div>
      <h1>{longDay(new Date().toISOString().slice(0, 10))}</h1>
      {#if rows}<p class="mt-1 text-soft">
          {urgent.length
            ? `${urgent.length} of ${rows.length} clients need you.`
            : `Nobody of ${rows.length} clients waits for you.`}
        </p>{/if}
    </div>
    <label class="ml-auto flex items-center gap-2 text-soft"
      >Find <input class="field w-[200px]" bind:value={wanted} aria-label="Find a client" /></label
    >
    <a class="link" href="/clients/import">Import</a>
    <button class="act" onclick={() => (adding = true)}>New client</button>
  </div>
  {#if problem}<p role="alert" class="mt-4 text-stop">{problem}</p>{/if}
  {#if !rows && !problem}<p class="mt-8 text-soft">Reading the clients …</p>{/if}
  {#each [{ name: 'needs a decision', list: urgent }, { name: 'going along quietly', list: quiet }] as group (group.name)}
    {#if group.list.length}
      <div class="mt-5 flex items-center gap-3 text-[13px] text-soft">
        <span class="h-px grow bg-ink"></span>{group.name}
      </div>
      <ul>
        {#each group.list as r (r.id)}
          <li class="border-b border-rule">
            <a
              href="/clients/{r.id}"
              class="grid grid-cols-[22px_300px_1fr_170px_120px] items-center gap-x-4 py-[9px] hover:bg-sheet"
            >
              <span
                >{#if grave(r) || r.locks.length}<Mark weight="stop" />{:else if needs(r)}<Mark
                    weight="watch"
                  />{/if}</span
              >
              <span
                ><span class="font-head text-[17px] font-semibold">{r.name}</span>{#if r.age}<span
                    class="ml-2 text-[13px] text-soft">{r.age}</span
                  >{/if}{#if r.status !== 'active'}<span class="ml-2 text-[13px] text-soft">{r.status}</span
                  >{/if}</span
              >
              <span class="text-[14px]">
                {situation(r)}<span class="block text-[13px] text-soft"
                  >{r.concerns.join(', ') || 'no concern noted'}</span
                >
              </span>
              <PracticeBars days={r.days} width={165} />
              <span class="justify-self-end link">{grave(r) ? 'Read and decide' : 'Open'}</span>
            </a>
          </li>
        {/each}
      </ul>
    {/if}
  {/each}
</main>
<NewClient bind:open={adding} done={(id) => goto(`/clients/${id}/intake`)} />
