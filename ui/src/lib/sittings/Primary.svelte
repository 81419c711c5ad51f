<script lang="ts">
  import { api, ask, attempt } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import type { Bench } from './bench.svelte'

  /** Up to three readings that get a headline, named before practice begins and locked then. */
  let { bench, open = $bindable(false) }: { bench: Bench; open?: boolean } = $props()
  let chosen = $state<string[]>([])
  let problem = $state('')
  /** The measurement that is explained: the one under the pointer or the focus. */
  let told = $state('')
  $effect(() => {
    if (open) chosen = [...(bench.view?.primary ?? [])]
  })
  async function keep() {
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(
          api.PUT('/api/clients/{client_id}/primary-readings', {
            params: { path: { client_id: bench.client } },
            body: { readings: chosen }
          })
        )
        open = false
        await bench.load()
      }
    )
  }
</script>

<Dialog bind:open title="Main measurements (up to three)" width={560}>
  <p class="text-row">
    Name at most three before practice begins. Only these get a headline; all others are “also looked at”,
    with a higher bar, because among twenty readings one moves by chance.
  </p>
  <fieldset class="mt-3 grid grid-cols-2 gap-x-4">
    <legend class="sr-only">Readings</legend>
    {#each bench.view?.choices ?? [] as c (c.id)}
      <label class="flex items-start gap-2 py-1" onpointerenter={() => (told = c.id)}
        ><input
          onfocus={() => (told = c.id)}
          type="checkbox"
          class="mt-1"
          value={c.id}
          bind:group={chosen}
          disabled={bench.view?.primary_locked || (chosen.length >= 3 && !chosen.includes(c.id))}
        />{c.name}</label
      >
    {/each}
  </fieldset>
  <p class="mt-2 min-h-line border-l-4 border-rule pl-3 text-row" aria-live="polite">
    {bench.view?.choices.find((c) => c.id === told)?.definition ??
      'Each measurement is explained here while you are on it.'}
  </p>
  {#if bench.view?.primary_locked}<p class="mt-3 text-row text-watch">
      Practice has begun; they are locked until the program ends.
    </p>{:else}<button class="mt-4 act" onclick={keep}>Keep {chosen.length} of 3</button>{/if}
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
</Dialog>
