<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { api, ask, attempt } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'
  import { home, session } from '$lib/people/session.svelte'

  let email = $state('')
  let password = $state('')
  let problem = $state('')
  let busy = $state(false)

  async function signIn(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/sign-in', { body: { email, password } }))
        session.me = await ask(api.GET('/api/me'))
        const then = page.url.searchParams.get('then')
        await goto(then?.startsWith('/') && !then.startsWith('//') ? then : home(session.me.role))
      }
    )
    busy = false
  }
</script>

<svelte:head><title>Sign in · Dimbo</title></svelte:head>
<main
  class="mx-auto grid min-h-screen max-w-page-wide content-center gap-10 px-6 py-10 md:grid-cols-[1fr_340px] md:gap-16"
>
  <section>
    <Logo />
    <h1 class="mt-8 text-title">Face yoga, planned to the second and measured with its noise.</h1>
    <p class="mt-4 max-w-[42ch] text-soft">
      Programs by concern and muscle, guided practice, and photographs that say only what they can tell. Dimbo
      does not diagnose, and promises nothing.
    </p>
  </section>
  <form onsubmit={signIn} class="grid content-center gap-4" aria-label="Sign in">
    <label class="grid gap-1"
      >E-mail<input class="field" type="email" autocomplete="username" required bind:value={email} /></label
    >
    <label class="grid gap-1"
      >Password<input
        class="field"
        type="password"
        autocomplete="current-password"
        required
        bind:value={password}
      /></label
    >
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <button class="act min-h-press" disabled={busy}>{busy ? 'Signing in …' : 'Sign in'}</button>
  </form>
</main>
