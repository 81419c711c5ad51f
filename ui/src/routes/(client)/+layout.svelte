<script lang="ts">
  import { page } from '$app/state'
  import { onMount, type Snippet } from 'svelte'
  import { attempt } from '$lib/api/client'
  import Undo from '$lib/parts/Undo.svelte'
  import { begin } from '$lib/offline/queue.svelte'
  import { need, session } from '$lib/people/session.svelte'

  let { children }: { children: Snippet } = $props()
  let ready = $state(false)
  let problem = $state('')
  onMount(() => {
    let stop: (() => void) | undefined
    let left = false
    const start = async () => {
      await attempt(
        (why) => (problem = why),
        async () => {
          ready = await need('client')
          if (ready && session.me?.client_id) stop = await begin(session.me.client_id)
          if (left) stop?.()
        }
      )
    }
    void start()
    return () => {
      left = true
      stop?.()
    }
  })
</script>

{#if ready}
  {@render children()}
  {#if !page.url.pathname.startsWith('/practice')}<p
      class="mx-auto max-w-column px-5 pb-8 text-base text-soft"
    >
      No diagnosis, no treatment. Your clinician and local rules come first.
    </p>{/if}
  <Undo big />
{:else if problem}<p role="alert" class="p-6 text-head">
    {problem}
  </p>{/if}
