<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import ConsentChoice from '$lib/intake/ConsentChoice.svelte'
  import Back from '$lib/parts/Back.svelte'

  /** What the client has agreed to; they give and take back here, each apart. */
  let view = $state<Schemas['MyConsents'] | null>(null)
  let problem = $state('')
  onMount(async () => {
    await attempt(
      (why) => (problem = why),
      async () => {
        view = await ask(api.GET('/api/my/consents'))
      }
    )
  })

  async function choose(choice: string, body: Schemas['ConsentChoice']): Promise<string> {
    try {
      view = await ask(api.PUT('/api/my/consents/{choice}', { params: { path: { choice } }, body }))
      return ''
    } catch (error) {
      return words(error)
    }
  }
</script>

<svelte:head><title>What you agreed to · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pb-10 text-sub">
  <Back href="/my-settings" name="Settings" />
  <h1>What you agreed to</h1>
  <p class="mt-2">
    Each is a choice of its own. You can change it here at any time; your coach sees it at once.
  </p>
  {#if problem}<p role="alert" class="mt-4 text-stop">{problem}</p>{/if}
  {#each view?.texts ?? [] as text (text.id)}
    {@const now = view?.consents.find((c) => c.id === text.id)}
    {#if now && view}
      <ConsentChoice {text} {now} photographs={view.photographs} coaches={view.coaches} {choose} big mine />
    {/if}
  {:else}{#if !problem}<p class="mt-4 text-soft">Reading …</p>{/if}{/each}
</main>
