<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { api, ask } from '$lib/api/client'
  import { longDay } from '$lib/format'
  import Capture from '$lib/sittings/Capture.svelte'
  import type { Schemas } from '$lib/api/client'

  const id = page.params.id ?? ''
  const sitting = page.params.sitting ?? ''
  let view = $state<Schemas['TakingView'] | null>(null)

  async function load() {
    view = await ask(
      api.GET('/api/sittings/{sitting_id}/taking', { params: { path: { sitting_id: sitting } } })
    )
    return view
  }
</script>

<svelte:head><title>Take a sitting · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-4 pb-12">
  <p class="text-row">
    <a class="link" href="/clients/{id}/sittings">Sittings{view ? ` of ${view.client_name}` : ''}</a>
  </p>
  <h1 class="mb-3">
    {view ? `${view.kind === 'baseline' ? 'Baseline' : 'Follow-up'}, ${longDay(view.taken_on)}` : 'Sitting'}
  </h1>
  <Capture
    base="/api/sittings/{sitting}"
    {load}
    ghost={(p) => `/api/photographs/${p}.jpg`}
    done={() => goto(`/clients/${id}/sittings`)}
  />
</main>
