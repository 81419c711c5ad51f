<script lang="ts">
  import { onMount } from 'svelte'
  import { words } from '$lib/api/client'
  import Words from '$lib/messages/Words.svelte'
  import { days, due, load, now } from '$lib/offline/days.svelte'
  import { session } from '$lib/people/session.svelte'
  import Waiting from '$lib/practice/Waiting.svelte'

  let problem = $state('')
  const view = $derived(days.view)
  const day = $derived(view ? now(view) : undefined)
  const next = $derived(view && day ? due(view, day) : null)
  const exercises = $derived([
    ...new Map(
      Object.values(view?.sessions ?? {}).flatMap((s) =>
        s.items.map((i) => [i.exercise, i.name] as [string, string])
      )
    )
  ])
  onMount(async () => {
    try {
      await load(session.me?.client_id ?? '')
    } catch (error) {
      problem = words(error)
    }
  })
</script>

<svelte:head><title>Messages · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pb-10 text-sub">
  <h1 class="text-display">Messages</h1>
  {#if problem || days.problem}<p role="alert" class="mt-3 text-stop">{problem || days.problem}</p>{/if}
  <Waiting />
  {#if view}<Words {view} {exercises} day={next ? (day?.day ?? null) : null} />
  {:else if !problem && !days.problem}<p class="mt-4 text-soft" role="status">Reading your messages …</p>{/if}
</main>
