<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'

  /** How this client is worked with, where it differs from the practice: approach and count pace. */
  let { id }: { id: string } = $props()
  let ways = $state.raw<Schemas['OwnWaysView'] | null>(null)
  let problem = $state('')
  let kept = $state('')

  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        ways = await ask(api.GET('/api/clients/{client_id}/ways', { params: { path: { client_id: id } } }))
      }
    )
  }
  onMount(load)
  async function set(approach: string | null, pace_s: number | null) {
    problem = kept = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const params = { path: { client_id: id } }
        await ask(api.PUT('/api/clients/{client_id}/ways', { params, body: { approach, pace_s } }))
        await load()
        kept = 'Kept. It holds for what is drafted from now on.'
      }
    )
  }
</script>

{#if ways}
  <h2 class="mt-5 border-b border-ink pb-1">How you work with them</h2>
  <div class="mt-2 flex flex-wrap items-start gap-6">
    <label class="grid gap-1"
      >Approach<select
        class="field"
        value={ways.approach ?? ''}
        onchange={(e) => set(e.currentTarget.value || null, ways?.pace_s ?? null)}
      >
        <option value="">as the practice: {ways.practice_approach}</option>
        {#each ways.approaches as a (a.id)}<option value={a.id}>{a.name}</option>{/each}
      </select></label
    >
    <label class="grid gap-1"
      >Seconds a count<input
        class="field !w-[150px]"
        inputmode="decimal"
        placeholder="{ways.practice_pace_s.toFixed(1)}, as the practice"
        value={ways.pace_s ?? ''}
        onchange={(e) => {
          const text = e.currentTarget.value.trim().replace(',', '.')
          void set(ways?.approach ?? null, text ? Number(text) : null)
        }}
      /></label
    >
  </div>
  {#if problem}<p role="alert" class="mt-1 text-small text-stop">{problem}</p>{/if}
  <p class="mt-1 min-h-line text-small text-soft" aria-live="polite">{kept}</p>
{/if}
