<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { api, ask, attempt, Problem } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'
  import { home, session } from '$lib/people/session.svelte'
  import PasswordField from '$lib/people/PasswordField.svelte'

  let email = $state('')
  let password = $state('')
  let problem = $state('')
  let busy = $state(false)
  /** The password was right, and the account asks for a code besides. */
  let asksCode = $state(false)
  let code = $state('')

  async function signIn(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        try {
          await ask(api.POST('/api/sign-in', { body: { email, password, code } }))
        } catch (error) {
          if (!(error instanceof Problem) || error.field !== 'code' || asksCode) throw error
          asksCode = true
          return
        }
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
    <PasswordField label="Password" bind:value={password} />
    {#if asksCode}
      <label class="grid gap-1"
        >Code of your second factor<!-- svelte-ignore a11y_autofocus --><input
          class="field"
          autocomplete="one-time-code"
          required
          autofocus
          bind:value={code}
        /></label
      >
      <p class="text-row text-soft">What your authenticator shows now, or one of your recovery codes.</p>
    {/if}
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <button class="act min-h-press" disabled={busy}>{busy ? 'Signing in …' : 'Sign in'}</button>
    <p><a class="inline-flex min-h-touch items-center link" href="/forgotten">Forgotten password?</a></p>
  </form>
</main>
