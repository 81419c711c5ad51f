<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'
  import NewPasswordForm from '$lib/people/NewPasswordForm.svelte'
  import { session } from '$lib/people/session.svelte'

  const path = { token: page.params.token ?? '' }
  let invitation = $state<Schemas['InvitationView'] | null>(null)
  let problem = $state('')

  onMount(async () => {
    await attempt(
      (why) => (problem = why),
      async () => {
        invitation = await ask(api.GET('/api/invitations/{token}', { params: { path } }))
      }
    )
  })

  async function accept(password: string) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/invitations/{token}', { params: { path }, body: { password } }))
        session.me = await ask(api.GET('/api/me'))
        await goto('/today')
      }
    )
  }
</script>

<svelte:head><title>Welcome · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-slip gap-5 px-5 py-10">
  <Logo />
  {#if invitation}
    <h1>Welcome, {invitation.client_name}</h1>
    <p>
      {invitation.practice_name} invites you to practise with Dimbo. Choose a password; you sign in with {invitation.email}.
    </p>
    <NewPasswordForm action="Begin" send={accept} />
  {/if}
  {#if problem}<p role="alert" class="text-stop">{problem}</p>
    <p><a class="link" href="/sign-in">Go to sign in</a></p>{/if}
</main>
