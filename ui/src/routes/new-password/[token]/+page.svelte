<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import NewPasswordForm from '$lib/people/NewPasswordForm.svelte'
  import { home, session } from '$lib/people/session.svelte'
  import Slip from '$lib/people/Slip.svelte'

  const params = { path: { token: page.params.token ?? '' } }
  let link = $state<Schemas['LinkView'] | null>(null)
  let problem = $state('')
  let dead = $state(false)
  let done = $state(false)

  onMount(() =>
    attempt(
      (why) => {
        problem = why
        dead = true
      },
      async () => {
        link = await ask(api.GET('/api/new-passwords/{token}', { params }))
      }
    )
  )
  const send = (password: string) =>
    attempt(
      (why) => (problem = why),
      async () => {
        problem = ''
        const { signed_in } = await ask(
          api.POST('/api/new-passwords/{token}', { params, body: { password } })
        )
        if (!signed_in) {
          done = true
          return
        }
        session.me = await ask(api.GET('/api/me'))
        await goto(home(session.me.role))
      }
    )
</script>

<Slip title="New password" {problem}>
  {#if done}
    <h1>Your new password holds</h1>
    <p role="status">Sign in with it, and with the code of your second factor.</p>
    <p><a class="act inline-flex min-h-press items-center" href="/sign-in">Sign in</a></p>
  {:else if dead}
    <h1>This link does not open</h1>
    <p><a class="link" href="/forgotten">Ask for a new one</a></p>
  {:else if link}
    <h1>A new password</h1>
    <p>For {link.name} at {link.practice_name}. Everywhere else you are signed out.</p>
    <NewPasswordForm action="Keep it" label="New password" {send} />
  {/if}
</Slip>
