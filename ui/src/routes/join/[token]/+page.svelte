<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import NewPasswordForm from '$lib/people/NewPasswordForm.svelte'
  import { session } from '$lib/people/session.svelte'
  import Slip from '$lib/people/Slip.svelte'

  const params = { path: { token: page.params.token ?? '' } }
  let link = $state<Schemas['LinkView'] | null>(null)
  let problem = $state('')

  onMount(() =>
    attempt(
      (why) => (problem = why),
      async () => {
        link = await ask(api.GET('/api/joining/{token}', { params }))
      }
    )
  )
  const send = (password: string) =>
    attempt(
      (why) => (problem = why),
      async () => {
        problem = ''
        await ask(api.POST('/api/joining/{token}', { params, body: { password } }))
        session.me = await ask(api.GET('/api/me'))
        await goto('/desk')
      }
    )
</script>

<Slip title="Welcome" {problem}>
  {#if link}
    <h1>Welcome, {link.name}</h1>
    <p>{link.practice_name} works with Dimbo. Choose a password; you sign in with {link.email}.</p>
    <NewPasswordForm action="Begin" {send} />
  {:else if problem}
    <h1>This link does not open</h1>
    <p><a class="link" href="/sign-in">Go to sign in</a></p>
  {/if}
</Slip>
