<script lang="ts">
  import { page } from '$app/state'
  import { api, ask, attempt } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'

  let done = $state('')
  let problem = $state('')

  async function end() {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const token = page.params.token ?? ''
        done = (await ask(api.POST('/api/unsubscribe/{token}', { params: { path: { token } } })))
          .practice_name
      }
    )
  }
</script>

<svelte:head><title>No more reminders · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pt-6 text-sub">
  <Logo />
  {#if done}
    <h1 class="mt-6 text-title">No more reminders</h1>
    <p class="mt-2" role="status">
      {done} sends you none from now on. Your program goes on; you can have them again under Settings.
    </p>
  {:else}
    <h1 class="mt-6 text-title">End the reminders?</h1>
    <p class="mt-2">Your program and everything that you practised stay as they are.</p>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    <button class="mt-5 act min-h-hand w-full text-head" onclick={end}>No more reminders</button>
  {/if}
</main>
