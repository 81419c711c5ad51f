<script lang="ts">
  import { page } from '$app/state'
  import { onMount, type Snippet } from 'svelte'
  import { attempt } from '$lib/api/client'
  import Help from '$lib/help/Help.svelte'
  import { days, now } from '$lib/offline/days.svelte'
  import { begin } from '$lib/offline/queue.svelte'
  import Logo from '$lib/parts/Logo.svelte'
  import Undo from '$lib/parts/Undo.svelte'
  import { need, session } from '$lib/people/session.svelte'
  import Places from './Places.svelte'

  let { children }: { children: Snippet } = $props()
  let ready = $state(false)
  let problem = $state('')
  let helping = $state(false)
  /** Practice has the whole screen. */
  const bare = $derived(page.url.pathname.startsWith('/practice'))
  const route = $derived((page.route.id ?? '').replace(/\/\([^)]*\)/g, '') || '/')
  const unread = $derived(days.view?.messages.filter((m) => m.by_coach && !m.read_at).length ?? 0)
  const today = $derived(days.view ? now(days.view) : undefined)
  const due = $derived(!!days.view?.photo_due && !!today && days.view.photo_due <= today.day)
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
  {#if bare}{@render children()}
  {:else}
    <header class="mx-auto flex max-w-column-wide items-center justify-between px-5 pt-2 print:hidden">
      <Logo />
      <button
        class="grid size-touch place-items-center text-head font-bold text-action"
        onclick={() => (helping = true)}
        aria-label="Help for this page"
        ><span class="grid size-8 place-items-center rounded-full border-firm border-action">?</span></button
      >
    </header>
    <!-- What stands below begins below the screen, so that nothing jumps when the day comes. -->
    <div class="min-h-svh">{@render children()}</div>
    <footer class="mx-auto max-w-column px-5 pb-28 text-base text-soft">
      No diagnosis, no treatment. Your clinician and local rules come first.
    </footer>
    <Places {unread} {due} />
    <Help bind:open={helping} whose="client" sections={() => import('$lib/help/guide-client.json')} {route} />
  {/if}
  <Undo big />
{:else if problem}<p role="alert" class="p-6 text-head">
    {problem}
  </p>{/if}
