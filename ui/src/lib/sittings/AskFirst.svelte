<script lang="ts">
  import { page } from '$app/state'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Changed from '$lib/safety/Changed.svelte'
  import type { Entry } from '$lib/offline/db'
  import Dialog from '$lib/parts/Dialog.svelte'

  /** Before the first photograph of the day: has something changed in health? A client alone tells it here; a coach asks. */
  let { view, own, answered }: { view: Schemas['TakingView']; own: boolean; answered: () => Promise<void> } =
    $props()
  let open = $state(false)
  let problem = $state('')

  async function tell(entry: Entry) {
    if (entry.kind !== 'answer' && entry.kind !== 'asked') return
    const path = { token: page.params.token ?? '' }
    await ask(api.POST('/api/taking/{token}/health', { params: { path }, body: { entry } }))
  }
  async function nothing() {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        if (own) await tell({ kind: 'asked', id: crypto.randomUUID(), said_at: new Date().toISOString() })
        else
          await ask(
            api.POST('/api/clients/{client_id}/asked', { params: { path: { client_id: view.client_id } } })
          )
        await answered()
      }
    )
  }
  async function close() {
    open = false
    await answered()
  }
</script>

{#if view.health}
  <section aria-labelledby="ask-first" class="max-w-column">
    <h2 id="ask-first" class="text-big leading-[28px]">
      {own
        ? 'Has something changed in your health?'
        : `Ask first: has something changed for ${view.client_name.split(' ')[0]}?`}
    </h2>
    <p class="mt-2 text-sub">
      {own ? `${view.health.because} ` : ''}A sudden sign, an illness, an injury, a treatment of the face, a
      medicine: it may decide on what is practised, and on what a photograph can show.
    </p>
    <div class="mt-4 grid gap-3 sm:grid-cols-2">
      <button class="act min-h-wet text-head" onclick={nothing}>Nothing has changed</button>
      {#if own}<button class="act min-h-wet text-head act-quiet" onclick={() => (open = true)}
          >Something has changed</button
        >
      {:else}<a class="act min-h-wet text-head act-quiet" href="/clients/{view.client_id}/intake"
          >Enter what has changed</a
        >{/if}
    </div>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
  </section>
  {#if own}<Dialog bind:open title="Something has changed">
      <Changed view={view.health} keep={tell} halted={close} told={close} />
    </Dialog>{/if}
{/if}
