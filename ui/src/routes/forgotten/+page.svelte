<script lang="ts">
  import { api, ask, attempt } from '$lib/api/client'
  import Slip from '$lib/people/Slip.svelte'

  let email = $state('')
  let sent = $state('')
  let problem = $state('')
  let busy = $state(false)
  /** In the demo mail goes to a stand-in that can be looked into. */
  let standIn = $state(false)

  async function send(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/forgotten', { body: { email } }))
        sent = email.trim()
        standIn = (await api.GET('/api/stand-in-mail')).response.ok
      }
    )
    busy = false
  }
</script>

<Slip title="Forgotten password" {problem}>
  <h1>{sent ? 'Look into your mail' : 'Forgotten password'}</h1>
  {#if sent}
    <p role="status">
      If {sent} has an account here, a link for a new password is on its way. It works once, for half an hour.
    </p>
    {#if standIn}<p><a class="link" href="/stand-in-mail">Mail of this demo</a></p>{/if}
    <p class="text-row text-soft">
      Nothing came? Look among unwanted mail, or ask your practice for a link.
      <button class="link" onclick={() => (sent = '')}>Try another address</button>
    </p>
  {:else}
    <p>Write the address that you sign in with. You get a link to choose a new password.</p>
    <form onsubmit={send} class="grid gap-4">
      <label class="grid gap-1"
        >E-mail<input
          class="field min-h-press"
          type="email"
          autocomplete="username"
          required
          bind:value={email}
        /></label
      >
      <button class="act min-h-press" disabled={busy}>{busy ? 'Sending …' : 'Send the link'}</button>
    </form>
  {/if}
  <p><a class="link" href="/sign-in">Back to sign in</a></p>
</Slip>
