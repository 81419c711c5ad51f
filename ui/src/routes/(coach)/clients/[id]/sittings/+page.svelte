<script lang="ts">
  import { tables } from '$lib/parts/tables.svelte'
  import { ToggleGroup } from 'bits-ui'
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onDestroy, onMount } from 'svelte'
  import { api, ask } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import InTime from '$lib/results/InTime.svelte'
  import { Bench, type Mode } from '$lib/sittings/bench.svelte'
  import Margin from '$lib/sittings/Margin.svelte'
  import NewSitting from '$lib/sittings/NewSitting.svelte'
  import Primary from '$lib/sittings/Primary.svelte'
  import Quality from '$lib/sittings/Quality.svelte'
  import Stage from '$lib/sittings/Stage.svelte'
  import Strip from '$lib/sittings/Strip.svelte'
  import Verdicts from '$lib/sittings/Verdicts.svelte'
  import ClientHead from '../ClientHead.svelte'
  import Closed from './Closed.svelte'

  const id = page.params.id ?? ''
  const bench = new Bench(id)
  let arranging = $state(false)
  let naming = $state(false)
  const view = $derived(bench.view)
  const before = $derived(bench.photo('before'))
  const after = $derived(bench.photo('after'))
  const modes: [Mode, string][] = [
    ['side by side', 'Side by side'],
    ['split line', 'Split line'],
    ['flip', 'Flip'],
    ['halves', 'Halves mirrored'],
    ['outlines', 'Outlines']
  ]

  onMount(() => bench.load())
  onDestroy(() => bench.stop())

  async function act(action: string, photograph: string) {
    if (action === 'primary') naming = true
    else if (action === 'double') arranging = true
    else if (action === 'retake') await goto(`/clients/${id}/sittings/${view?.comparison.after}`)
    else if (action === 'way') bench.show(photograph)
    else bench.picked.after = photograph
  }
  const label = (s: { taken_on: string; kind: string; photographs: unknown[] }) =>
    `${shortDay(s.taken_on)}, ${s.kind}, ${s.photographs.length}`
  const unconfirmed = $derived(
    bench.sitting('after')?.photographs.filter((p) => !p.confirmed && p.state === 'measured').length ?? 0
  )
  async function confirmAll() {
    const sitting = view?.comparison.after
    if (!sitting) return
    await ask(
      api.POST('/api/sittings/{sitting_id}/confirm-views', { params: { path: { sitting_id: sitting } } })
    )
    await bench.load()
  }
</script>

<svelte:head><title>Sittings{view ? ` of ${view.client_name}` : ''} · Dimbo</title></svelte:head>
<main
  class="across mx-auto grid max-w-frame grid-cols-[minmax(0,1002px)_216px] gap-x-7 px-6 pb-12 max-lg:grid-cols-1 max-sm:px-3"
>
  <div class="pt-3">
    {#if view}
      <div class="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div class="grow"><ClientHead name={view.client_name} {id} place="sittings" /></div>
        <div class="flex gap-3 pb-1">
          <a class="act act-quiet" href="/clients/{id}/sittings/rating">Blind rating</a>
          <button class="act" onclick={() => (arranging = true)}>New photo session</button>
        </div>
      </div>
      {#if view.sittings.length}
        <div class="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-row print:hidden">
          {#if view.sittings.length > 1}
            {#each ['before', 'after'] as const as where (where)}
              <label
                >{where === 'before' ? 'From' : 'to'}
                <select
                  class="pick font-bold"
                  value={view.comparison[where] ?? ''}
                  onchange={(e) => bench.choose(where, e.currentTarget.value)}
                  >{#if !view.comparison[where]}<option value="">nothing measured</option>{/if}
                  {#each view.sittings as s (s.id)}<option
                      value={s.id}
                      disabled={s.id === view.comparison[where === 'before' ? 'after' : 'before']}
                      >{label(s)}</option
                    >{/each}</select
                ></label
              >
            {/each}
          {/if}
          {#if before}
            <ToggleGroup.Root
              type="single"
              class="flex flex-wrap gap-x-4 gap-y-1"
              aria-label="How to compare"
              bind:value={() => bench.mode, (mode) => (bench.mode = mode || bench.mode)}
            >
              {#each modes as [key, name] (key)}
                <ToggleGroup.Item
                  value={key}
                  class="border-b-[3px] border-transparent text-soft data-[state=on]:border-action data-[state=on]:font-bold data-[state=on]:text-ink"
                  >{name}{#if key === 'flip'}
                    <kbd class="border border-rule bg-sheet px-1 text-note">F</kbd>{/if}</ToggleGroup.Item
                >
              {/each}
            </ToggleGroup.Root>
          {/if}
          {#if unconfirmed}<button class="link" onclick={confirmAll}
              >Confirm {unconfirmed} suggested views</button
            >{/if}
          <span class="ml-auto text-small text-soft" role="status"
            >{bench.saving ? 'keeping the point …' : ''}</span
          >
        </div>
        {#if bench.problem}<p role="alert" class="mt-2 text-stop">{bench.problem}</p>{/if}
        <div
          class="mt-2 grid grid-cols-[minmax(0,648px)_minmax(0,338px)] gap-4 max-md:grid-cols-1 print:grid-cols-[480px_minmax(0,1fr)]"
        >
          <div>
            {#if after}
              {#if before}
                <Stage {bench} who={view.client_name} />
                <div class="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
                  <div><Quality {bench} photo={before} /></div>
                  <div><Quality {bench} photo={after} /></div>
                </div>
              {:else}
                <div class="grid grid-cols-[minmax(0,470px)_minmax(0,1fr)] gap-4 max-sm:grid-cols-1">
                  <Stage {bench} who={view.client_name} />
                  <div class="pt-5"><Quality {bench} photo={after} narrow /></div>
                </div>
              {/if}
              <div class="mt-2 grid grid-cols-2 gap-3 border-t border-rule pt-2">
                {#if before}<Strip {bench} where="before" />{/if}
                <Strip {bench} where="after" />
              </div>
              {#each [bench.sitting('before'), bench.sitting('after')] as s (s)}
                {#if s?.own_note}<p class="mt-2 text-row">
                    <b>{view.client_name} on {shortDay(s.taken_on)}:</b> “{s.own_note}”
                  </p>{/if}
              {/each}
              <InTime {bench} who={view.client_name} />
            {:else}
              <p class="mt-4">
                No photograph in this sitting yet.
                <a class="link" href="/clients/{id}/sittings/{view.sittings.at(-1)?.id}"
                  >Take or upload them</a
                >
              </p>
            {/if}
          </div>
          <Verdicts {bench} />
        </div>
      {:else}
        <div class="mt-8 max-w-[60ch]">
          <h2>No sitting yet.</h2>
          <p class="mt-2">
            Take two baseline sittings within a week, before practice begins: together they show how far two
            photographs of an unchanged face differ, and only what exceeds that is called a change.
          </p>
          <button class="mt-4 act" onclick={() => (arranging = true)}>Begin the first baseline</button>
        </div>
      {/if}
      <NewSitting {bench} bind:open={arranging} />
      <Primary {bench} bind:open={naming} />
    {:else if bench.closed}<Closed {id} why={bench.problem} />{:else if bench.problem}<p
        role="alert"
        class="text-stop"
      >
        {bench.problem}
      </p>{:else}<div
        class="mt-4 grid grid-cols-2 gap-4"
        role="status"
        aria-label="Reading the photo sessions"
      >
        <div class="aspect-[5/6] bg-band-wash"></div>
        <div class="aspect-[5/6] bg-band-wash"></div>
      </div>{/if}
  </div>
  <aside
    class="grid content-start gap-3.5 border-l border-edge-soft pt-5 pl-4 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
    aria-label="Margin"
  >
    {#if !bench.closed}<Margin {bench} {act} />{/if}
    {#if view?.sittings.length}
      <p class="text-small">
        <a class="link" href="/clients/{id}/sittings/{view.comparison.after}">Add shots</a> ·
        <button class="link" onclick={() => (naming = true)}>Main measurements</button><br />
        Readings: <a class="link" href="/api/clients/{id}/readings.xlsx">workbook</a> ·
        <a class="link" href={tables.csv(`/api/clients/${id}/readings.csv`)}>CSV</a> ·
        <a class="link" href={tables.csv('/api/readings-dictionary.csv')}>its dictionary</a><br />
        <a class="link" href="/api/clients/{id}/points.json">Points, JSON</a>
      </p>
    {/if}
  </aside>
</main>
