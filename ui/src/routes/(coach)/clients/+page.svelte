<script lang="ts">
  import { goto } from '$app/navigation'
  import type { Schemas } from '$lib/api/client'
  import { share } from '$lib/format'
  import PracticeBars from '$lib/parts/PracticeBars.svelte'
  import NewClient from './NewClient.svelte'

  let { data } = $props()
  let adding = $state(false)
  let wanted = $state('')
  let archived = $state(false)

  type Row = Schemas['ClientRow']
  const found = $derived(
    data.rows
      .filter((r) => archived || !r.archived)
      .filter((r) => r.name.toLowerCase().includes(wanted.trim().toLowerCase()))
      .toSorted((a, b) => a.name.localeCompare(b.name))
  )

  const away = $derived(data.rows.filter((r) => r.archived).length)

  function situation(r: Row): string {
    if (r.archived) return 'In the archive.'
    if (r.urgent) return 'A sudden sign stands; see the desk.'
    if (!r.days.length) return r.has_account ? 'No program is running.' : 'No program yet, not invited yet.'
    return r.week.planned
      ? `Done ${share(r.week.done)} of ${r.week.planned} in the last 7 days.`
      : 'First practice is due.'
  }
  async function open(event: KeyboardEvent) {
    const row = found[0]
    if (event.key === 'Enter' && row) await goto(`/clients/${row.id}`)
  }
</script>

<svelte:head><title>Clients · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <div class="flex items-end gap-5">
    <div>
      <h1>Clients</h1>
      <p class="mt-1 text-soft">
        {data.rows.length - away} by name. Who needs you stands on <a class="link" href="/desk">the desk</a>.
      </p>
    </div>
    {#if away}<label class="ml-auto flex items-center gap-2 text-soft"
        ><input type="checkbox" class="size-4" bind:checked={archived} /> with {away} in the archive</label
      >{/if}
    <label class="{away ? '' : 'ml-auto'} flex items-center gap-2 text-soft"
      >Find <input
        class="field w-[200px]"
        bind:value={wanted}
        onkeydown={open}
        aria-label="Find a client"
      /></label
    >
    <a class="link" href="/clients/import">Import</a>
    <button class="act" onclick={() => (adding = true)}>New client</button>
  </div>
  {#if !found.length}<p class="mt-8 text-soft">
      {data.rows.length
        ? 'Nobody has that name.'
        : 'Nobody is here yet. Add a first client, or import your list.'}
    </p>{/if}
  <ul class="mt-4 border-t border-ink">
    {#each found as r (r.id)}
      <li class="border-b border-rule">
        <a
          href="/clients/{r.id}"
          class="grid grid-cols-[300px_1fr_170px_60px] items-center gap-x-4 px-2 py-[9px] hover:bg-sheet"
        >
          <span
            ><span class="font-head text-sub font-semibold">{r.name}</span>{#if r.age}<span
                class="ml-2 text-small text-soft">{r.age}</span
              >{/if}{#if r.status !== 'active'}<span class="ml-2 text-small text-soft">{r.status}</span
              >{/if}</span
          >
          <span class="text-row">
            {situation(r)}<span class="block text-small text-soft"
              >{r.concerns.join(', ') || 'no concern noted'}</span
            >
          </span>
          <PracticeBars days={r.days} width={165} />
          <span class="justify-self-end link">Open</span>
        </a>
      </li>
    {/each}
  </ul>
</main>
<NewClient bind:open={adding} done={(id) => goto(`/clients/${id}/intake`)} />
