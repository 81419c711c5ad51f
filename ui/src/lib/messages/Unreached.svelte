<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, type Schemas } from '$lib/api/client'
  import { longDay } from '$lib/format'

  /** Whom letters do not reach: each person once, however many letters there were; of one client if given. */
  let { client }: { client?: string } = $props()
  let rows = $state<Schemas['UndeliveredView'][]>([])
  onMount(async () => {
    // Beside the page: when it cannot be read, the page stands without it.
    const all = await ask(api.GET('/api/undelivered')).catch(() => [])
    rows = client ? all.filter((r) => r.client_id === client) : all
  })
  const letters = (n: number) => (n === 1 ? 'one letter' : `${n} letters`)
</script>

{#each rows as r (r.client_id + String(r.to_coach))}
  <p class="border-l-4 border-watch pl-3">
    {#if r.address}<b>{r.to_coach ? `Letters to you about ${r.name}` : r.name}</b> cannot be reached at
      <span class="break-all">{r.address}</span>: {letters(r.letters)} since {longDay(r.since.slice(0, 10))}. {r.problem}
    {:else}<b>{r.name}</b> has no e-mail yet, so {letters(r.letters)} did not go out.{/if}
    {#if !r.to_coach}<a class="link" href="/clients/{r.client_id}/intake"
        >{r.address ? 'Correct the address' : 'Add one'}</a
      >{/if}
  </p>
{/each}
