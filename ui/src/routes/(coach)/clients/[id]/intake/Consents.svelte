<script lang="ts">
  import { api, ask, type Schemas } from '$lib/api/client'
  import type { Intake } from '$lib/intake/intake.svelte'
  import ConsentChoice from '$lib/intake/ConsentChoice.svelte'

  /** What the client agrees to, each apart; asked in their presence. They can change it on their own screen. */
  let { intake }: { intake: Intake } = $props()

  const choose = (choice: string, body: Schemas['ConsentChoice']) =>
    intake.run(
      ask(
        api.PUT('/api/clients/{client_id}/consents/{choice}', {
          params: { path: { client_id: intake.client, choice } },
          body
        })
      )
    )
</script>

<section aria-label="Consent">
  <h2 class="border-b border-ink pb-1">Consent</h2>
  <p class="mt-1 text-small text-soft">
    Read each out; each is a choice of its own. The client can change every one of them on their own screen.
  </p>
  {#each intake.tables?.consents ?? [] as text (text.id)}
    {@const now = intake.view?.consents.find((c) => c.id === text.id)}
    {#if now}
      <ConsentChoice
        {text}
        {now}
        photographs={intake.view?.photographs ?? 0}
        coaches={intake.view?.coaches ?? []}
        {choose}
      />
    {/if}
  {/each}
</section>
