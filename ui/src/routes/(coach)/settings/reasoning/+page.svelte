<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import EditEntry from './EditEntry.svelte'
  import type { Entry } from './entry'

  /** The reasoning table: what each concern may come from, how to tell, what helps. The practice's own copy. */
  let entries = $state<Schemas['ReasoningEntryView'][]>([])
  let tables = $state<Schemas['IntakeTablesView'] | null>(null)
  let concern = $state('')
  let problem = $state('')
  const shown = $derived(entries.find((e) => e.concern === concern) ?? entries[0])

  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        ;[entries, tables] = await Promise.all([
          ask(api.GET('/api/reasoning')),
          ask(api.GET('/api/intake-tables'))
        ])
      }
    )
  }
  onMount(load)
  const leaving = (next: string) => (concern = next)
</script>

<svelte:head><title>Reasoning table · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <h1>Reasoning table</h1>
  <p class="mt-1 max-w-page-wide text-soft">
    What a concern may come from, which questions tell, and what then helps. It starts from the text that
    ships; every entry can be made your practice’s own. Weights are a way to write down experience, not a
    probability.
  </p>
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
  <div class="mt-4 grid grid-cols-[260px_1fr] gap-8">
    <nav aria-label="Concerns" class="self-start">
      {#each entries as e (e.concern)}
        <button
          class="flex w-full items-baseline border-l-[3px] px-2 py-[3px] text-left {shown?.concern ===
          e.concern
            ? 'border-action bg-sheet font-bold'
            : 'border-transparent'}"
          onclick={() => leaving(e.concern)}
          >{e.name}{#if e.edited_by}<span class="ml-auto pl-2 text-note font-normal text-soft">own</span
            >{/if}</button
        >
      {/each}
    </nav>
    {#if shown && tables}
      {#key `${shown.concern} ${shown.edited_at}`}
        <EditEntry
          concern={shown.concern}
          name={shown.name}
          editedBy={shown.edited_by}
          editedAt={shown.edited_at}
          document={shown.document as unknown as Entry}
          {tables}
          {load}
        />
      {/key}
    {/if}
  </div>
</main>
