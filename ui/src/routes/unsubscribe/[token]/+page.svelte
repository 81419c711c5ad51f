<script lang="ts">
  import { page } from '$app/state'
  import { api, ask, words } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'

  let done = $state('')
  let problem = $state('')

  async function end() {
    problem = ''
    try {
      const token = page.params.token ?? ''
      done = (await ask(api.POST('/api/unsubscribe/{token}', { params: { path: { token } } }))).practice_name
    } catch (error) {
      problem = words(error)
    }
  }
</script>

<svelte:head><title>No more reminders · Dimbo</title></svelte:head>
<main class="mx-auto max-w-[560px] px-5 pt-6 text-[18px]">
  <Logo />
  {#if done}
    <h1 class="mt-6 text-[30px]">No more reminders</h1>
    <p class="mt-2" role="status">
      {done} sends you none from now on. Your program goes on; you can have them again under Settings.
    </p>
  {:else}
    <h1 class="mt-6 text-[30px]">End the reminders?</h1>
    <p class="mt-2">Your program and everything that you practised stay as they are.</p>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    <button class="mt-5 act min-h-[60px] w-full text-[20px]" onclick={end}>No more reminders</button>
  {/if}
</main>
