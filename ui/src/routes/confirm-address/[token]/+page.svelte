<script lang="ts">
  import { page } from '$app/state'
  import { api, ask, attempt } from '$lib/api/client'
  import Slip from '$lib/people/Slip.svelte'

  /** A touch confirms, and not the opening: programs that look through mail open links, too. */
  let email = $state('')
  let problem = $state('')
  const confirm = () =>
    attempt(
      (why) => (problem = why),
      async () => {
        problem = ''
        const params = { path: { token: page.params.token ?? '' } }
        email = (await ask(api.POST('/api/addresses/{token}', { params }))).email
      }
    )
</script>

<Slip title="Your address" {problem}>
  {#if email}
    <h1>Your address is confirmed</h1>
    <p role="status">From now on you sign in with {email}.</p>
  {:else}
    <h1>Confirm your address</h1>
    <p>Then you sign in with the address that this link was sent to.</p>
    <button class="act min-h-press" onclick={confirm}>Confirm</button>
  {/if}
  <p><a class="link" href="/">Go on</a></p>
</Slip>
