<script lang="ts">
  import { page } from '$app/state'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Capture from '$lib/sittings/Capture.svelte'
  import Logo from '$lib/parts/Logo.svelte'

  const token = page.params.token ?? ''
  const path = { token }
  let view = $state<Schemas['TakingView'] | null>(null)
  let sent = $state(false)
  let problem = $state('')

  async function load() {
    view = await ask(api.GET('/api/taking/{token}', { params: { path } }))
    return view
  }
  async function done() {
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/taking/{token}/done', { params: { path } }))
        sent = true
      }
    )
  }
</script>

<svelte:head><title>Your photographs · Dimbo</title></svelte:head>
<main class="mx-auto max-w-wide px-4 pt-4 pb-16">
  <p class="flex items-center gap-2 text-row"><Logo />{view?.practice_name ?? ''}</p>
  {#if sent}
    <h1 class="mt-6">Thank you. Your coach has them.</h1>
    <p class="mt-2">Nobody else sees them without your consent. You can close this page.</p>
    <button class="mt-4 act act-quiet" onclick={() => (sent = false)}>Take more</button>
  {:else}
    <h1 class="mt-3 mb-3">
      {view ? `Your photographs, ${view.client_name.split(' ')[0]}` : 'Your photographs'}
    </h1>
    <Capture
      base="/api/taking/{token}"
      {load}
      ghost={(p) => `/api/taking/${token}/ghost/${p}.jpg`}
      {done}
      own
    />
  {/if}
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
</main>
