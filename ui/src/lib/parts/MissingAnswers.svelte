<script lang="ts">
  import { api, ask, attempt } from '$lib/api/client'

  /** What can be done about open health questions: answer them now with the client, or send the client the questions. */
  let { client }: { client: string } = $props()
  let link = $state('')
  let days = $state(0)
  let problem = $state('')
  let busy = $state(false)

  async function send() {
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(
          api.POST('/api/clients/{client_id}/self-intake', { params: { path: { client_id: client } } })
        )
        link = location.origin + made.path
        days = made.days
      }
    )
    busy = false
  }
</script>

<div class="mt-1 grid gap-1">
  <a class="link" href="/clients/{client}/intake#health">Answer them now</a>
  {#if link}
    <label class="grid gap-0.5 text-small"
      >Give this link to the client; it ends in {days} days<input
        class="field !min-h-chip text-note"
        readonly
        value={link}
        onfocus={(e) => e.currentTarget.select()}
      /></label
    >
  {:else}<button class="text-left link" disabled={busy} onclick={send}
      >Send the questions to the client</button
    >{/if}
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
</div>
