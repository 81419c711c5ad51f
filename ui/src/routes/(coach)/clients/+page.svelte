<script lang="ts">
  import { goto } from '$app/navigation'
  import { chosen, sorted, STATES, type Column, type Listed } from '$lib/desk/listed'
  import { daysBetween, share, shortDay } from '$lib/format'
  import { fromAddress, keepInAddress } from '$lib/parts/address.svelte'
  import PracticeBars from '$lib/parts/PracticeBars.svelte'
  import { isSenior, session } from '$lib/people/session.svelte'
  import NewClient from './NewClient.svelte'

  let { data } = $props()
  let adding = $state(false)
  let find = $state(fromAddress('find'))
  let at = $state(fromAddress('at'))
  let whose = $state(fromAddress('whose'))
  let by = $state(fromAddress('by', 'name') as Column)
  let down = $state(fromAddress('down') === 'yes')
  $effect(() => keepInAddress({ find, at, whose, by: by === 'name' ? '' : by, down: down ? 'yes' : '' }))

  const found = $derived(sorted(chosen(data.rows, { find, at, whose }), by, down))
  const here = $derived(data.rows.filter((r) => r.at !== 'archived').length)
  const count = (state: string) => data.rows.filter((r) => r.at === state).length
  const colleagues = $derived(data.rows.some((r) => r.coach_id && r.coach_id !== session.me?.id))
  const NAMES = Object.fromEntries(STATES)
  const HEADS: [Column, string][] = [
    ['name', 'Client'],
    ['at', 'Where they are'],
    ['week', 'Last 14 days'],
    ['practised', 'Practised last'],
    ['photographs', 'Next photographs']
  ]

  function sort(column: Column) {
    down = by === column ? !down : false
    by = column
  }
  function where(r: Listed): string {
    const program = r.programs[0]
    if (!program) return r.has_account ? '' : 'cannot sign in yet'
    const more = r.programs.length > 1 ? ` and ${r.programs.length - 1} more` : ''
    if (program.week < 1) return `begins soon: ${program.title}${more}`
    return `${program.week > program.weeks ? `${program.weeks} weeks done` : `week ${program.week} of ${program.weeks}`}, ${program.title}${more}`
  }
  function ago(day: string | null, today: string): string {
    if (!day) return 'not yet'
    const days = daysBetween(day, today)
    return days <= 0 ? 'today' : days === 1 ? 'yesterday' : days < 14 ? `${days} days ago` : shortDay(day)
  }
  async function open(event: KeyboardEvent) {
    const row = found[0]
    if (event.key === 'Enter' && row) await goto(`/clients/${row.id}`)
  }
</script>

<svelte:head><title>Clients · Dimbo</title></svelte:head>
<main class="mx-auto max-w-frame px-6 pt-3 pb-16">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
    <h1 class="text-huge">Clients</h1>
    <p class="text-soft">
      {here === 1 ? 'One client' : `${here} clients`}. Who needs you is on
      <a class="link" href="/desk">the desk</a>.
    </p>
    {#if isSenior()}<a class="ml-auto link" href="/clients/import">Import</a>
      <button class="act min-h-chip text-row" onclick={() => (adding = true)}>New client</button>{/if}
  </div>
  <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-row">
    <input
      class="field min-h-chip w-[230px]"
      bind:value={find}
      onkeydown={open}
      placeholder="Find by name or concern"
      aria-label="Find a client"
    />
    <div class="flex flex-wrap gap-x-1" role="group" aria-label="Who is shown">
      {#each [['', 'All'], ...STATES] as [state, name] (state)}
        {@const n = state ? count(state ?? '') : here}
        {#if n || state === at}<button
            class="min-h-chip border-b-[3px] px-2 {at === state
              ? 'border-action font-bold'
              : 'border-transparent text-soft hover:text-ink'}"
            aria-pressed={at === state}
            onclick={() => (at = state ?? '')}>{name} {n}</button
          >{/if}
      {/each}
    </div>
    {#if colleagues}<select class="ml-auto pick" bind:value={whose} aria-label="Whose clients"
        ><option value="">everybody’s clients</option><option value={session.me?.id}>my clients</option
        ></select
      >{/if}
  </div>
  {#if !found.length}<p class="mt-8 text-soft">
      {data.rows.length
        ? 'Nobody fits what is chosen.'
        : 'No clients yet. Add a first one, or import clients from a table.'}
    </p>
  {:else}
    <table class="mt-2 w-full table-fixed border-collapse text-left">
      <colgroup
        ><col class="w-[27%]" /><col /><col class="w-[150px]" /><col class="w-[130px]" /><col
          class="w-[150px]"
        /></colgroup
      >
      <thead class="border-b border-ink text-small">
        <tr>
          {#each HEADS as [column, name] (column)}
            <th
              class="py-1 pr-3 font-normal"
              aria-sort={by === column ? (down ? 'descending' : 'ascending') : undefined}
              ><button
                class="min-h-6 {by === column ? 'font-bold' : 'text-soft hover:text-ink'}"
                onclick={() => sort(column)}
                >{name}{#if by === column}<span aria-hidden="true" class="ml-1">{down ? '↓' : '↑'}</span
                  >{/if}</button
              ></th
            >
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each found as r (r.id)}
          <tr class="relative border-b border-rule hover:bg-sheet">
            <td class="py-1.5 pr-3"
              ><a
                href="/clients/{r.id}"
                class="font-head text-lead font-semibold after:absolute after:inset-0 hover:underline"
                >{r.name}</a
              >{#if r.age}<span class="ml-2 text-small text-soft">{r.age}</span>{/if}<span
                class="block truncate text-small text-soft"
                >{r.concerns.join(', ') || 'no concern noted'}</span
              ></td
            >
            <td class="py-1.5 pr-3 text-row"
              >{#if r.urgent}<b class="text-stop">A sudden sign stands.</b>{:else}{NAMES[r.at]}{/if}<span
                class="block truncate text-small text-soft">{where(r)}</span
              ></td
            >
            <td class="py-1"
              >{#if r.days.length}<PracticeBars days={r.days} width={140} height={28} /><span class="sr-only"
                  >{share(r.week.done)} of {r.week.planned} in the last 7 days</span
                >{/if}</td
            >
            <td class="py-1.5 pr-3 text-row {r.last_practised ? '' : 'text-soft'}"
              >{ago(r.last_practised, r.today)}</td
            >
            <td class="py-1.5 text-row"
              >{#if !r.photographs}<span class="text-soft">none planned</span
                >{:else if r.photographs <= r.today}<b class="text-watch">due</b>&nbsp;<span
                  class="text-soft"
                >
                  since {shortDay(r.photographs)}</span
                >{:else}{shortDay(r.photographs)}{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</main>
<NewClient bind:open={adding} done={(id) => goto(`/clients/${id}/intake`)} />
