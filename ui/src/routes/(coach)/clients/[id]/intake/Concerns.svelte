<script lang="ts">
  import { tick } from 'svelte'
  import AddConcern from '$lib/intake/AddConcern.svelte'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Concern from './Concern.svelte'

  /** Concerns with severity by side, what each probably comes from, and why. */
  let {
    intake,
    picked = $bindable(null)
  }: { intake: Intake; picked?: { muscle: string; side: 'right' | 'left' } | null } = $props()

  let added = $state<string[]>([])
  const all = $derived(intake.tables?.concerns ?? [])
  const rated = $derived([
    ...new Set([...Object.keys(intake.view?.ratings ?? {}), ...(intake.view?.concerns ?? [])])
  ])
  const shown = $derived([...added, ...rated.filter((c) => !added.includes(c))])
  const here = $derived(picked ? all.filter((c) => c.muscles.includes(picked?.muscle ?? '')) : [])
  const muscle = $derived(intake.tables?.muscles.find((m) => m.id === picked?.muscle))

  async function add(id: string, side: 'right' | 'left' = 'right') {
    if (!shown.includes(id)) added = [id, ...added]
    picked = null
    await tick()
    document.querySelector<HTMLElement>(`[data-question="${id}-${side}"]`)?.focus()
  }
</script>

<section aria-label="Concerns">
  <h2 class="border-b border-ink pb-1">Concerns</h2>
  <div class="mt-2"><AddConcern concerns={all.filter((c) => !shown.includes(c.id))} {add} /></div>
  {#if picked}
    <div
      class="mt-2 flex flex-wrap items-center gap-2 text-row"
      role="group"
      aria-label="Concerns at this muscle"
    >
      <span class="font-bold {picked.side === 'right' ? 'text-side-right' : 'text-side-left'}"
        >{picked.side} {muscle?.name}</span
      >
      {#each here as c (c.id)}
        <button class="act !min-h-chip text-small act-quiet" onclick={() => add(c.id, picked?.side)}
          >{c.name}</button
        >
      {:else}<span class="text-soft">No concern is seen at this muscle.</span>{/each}
    </div>
  {/if}
  {#each shown as id (id)}
    {@const concern = all.find((c) => c.id === id)}
    {#if concern}<Concern {intake} {concern} />{/if}
  {:else}
    <p class="mt-6 text-soft">
      Ask what they would like to change, in their own words. Type it above, or pick the place on the face.
    </p>
  {/each}
</section>
