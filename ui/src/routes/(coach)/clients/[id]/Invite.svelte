<script lang="ts">
  import { api, ask, attempt } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'

  let { open = $bindable(false), id, name }: { open?: boolean; id: string; name: string } = $props()
  let email = $state('')
  let copied = $state(false)
  let link = $state('')
  let days = $state(0)
  let problem = $state('')

  async function make(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(
          api.POST('/api/clients/{client_id}/due-link', {
            params: { path: { client_id: id } },
            body: { email }
          })
        )
        link = location.origin + made.path
        days = made.days
      }
    )
  }
</script>

<Dialog bind:open title="Invite {name}" width={520}>
  {#if link}
    <p>
      One link for all that is due: choosing a password, the intake and photographs, in their turn. It holds
      for {days}
      days, and is on its way to {email} by mail. You can also hand it over yourself:
    </p>
    <input
      class="mt-3 field"
      readonly
      value={link}
      aria-label="Invitation link"
      onfocus={(e) => e.currentTarget.select()}
    />
    <button
      class="mt-3 act"
      onclick={async () => {
        await navigator.clipboard?.writeText(link)
        copied = true
      }}>{copied ? 'Copied' : 'Copy the link'}</button
    >
  {:else}
    <form class="grid gap-3" onsubmit={make}>
      <label class="grid gap-1"
        >Their e-mail, to sign in with later<input
          class="field"
          type="email"
          required
          bind:value={email}
        /></label
      >
      {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
      <button class="act">Make the link</button>
    </form>
  {/if}
</Dialog>
