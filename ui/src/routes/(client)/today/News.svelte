<script lang="ts">
  import { goto } from '$app/navigation'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { longDay } from '$lib/format'
  import type { Days } from '$lib/offline/db'
  import type { Day } from '$lib/offline/days.svelte'

  /** What is new: photographs that are due, which open the taking page itself, and a message that was not read yet. */
  let { view, day, fresh }: { view: Days; day: Day | undefined; fresh: Schemas['MessageView'] | undefined } =
    $props()
  const first = $derived(view.coach_name ? view.coach_name.split(' ')[0] : 'Your coach')
  let busy = $state(false)
  let problem = $state('')
  async function take() {
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await goto((await ask(api.POST('/api/my-sitting'))).path)
      }
    )
    busy = false
  }
</script>

{#if fresh}
  <a href="/messages" class="mt-5 block border-l-4 border-action bg-sheet py-2 pr-3 pl-3">
    <b>{first} wrote:</b>
    {fresh.text.length > 140 ? `${fresh.text.slice(0, 140)} …` : fresh.text}
    <span class="mt-1 block text-lead link">Read and answer</span>
  </a>
{/if}
{#if view.photo_due && day && view.photo_due <= day.day}
  <section class="mt-5 border-l-4 border-mark-watch pl-3" aria-label="Photographs are due">
    <h2 class="text-big">Your photographs are due</h2>
    <p class="mt-1">
      Since {longDay(view.photo_due)}. Take them before practice, in a place and a light that you can find
      again, at the same time of day. It takes about five minutes.
    </p>
    <button class="mt-2 act min-h-press act-quiet" onclick={take} disabled={busy}
      >{busy ? 'Opening …' : 'Take them now'}</button
    >
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
  </section>
{/if}
