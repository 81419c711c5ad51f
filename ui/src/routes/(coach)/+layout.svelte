<script lang="ts">
  import { navigating } from '$app/state'
  import { onMount, type Snippet } from 'svelte'
  import Logo from '$lib/parts/Logo.svelte'
  import Undo from '$lib/parts/Undo.svelte'
  import { attempt } from '$lib/api/client'
  import { need } from '$lib/people/session.svelte'
  import { keptTitles } from '$lib/programs/paper'
  import CoachHeader from './CoachHeader.svelte'

  let { children }: { children: Snippet } = $props()
  let ready = $state(false)
  let problem = $state('')
  let unsaved = $state<string[]>([])

  async function begin() {
    await attempt(
      (why) => (problem = why),
      async () => {
        ready = await need('coach')
        problem = ''
        if (ready) void navigator.serviceWorker?.ready.then((r) => r.active?.postMessage('coach'))
      }
    )
    if (problem) unsaved = keptTitles()
  }
  onMount(begin)
  /** Not every browser says when it has a connection again. */
  const AGAIN_MS = 4000
  $effect(() => {
    if (!problem) return
    const again = setInterval(begin, AGAIN_MS)
    return () => clearInterval(again)
  })
</script>

{#if ready}
  <CoachHeader />
  {#if navigating.to}<p class="sr-only" role="status">The page is being read …</p>
    <div class="wait" aria-hidden="true"></div>{/if}
  {@render children()}
  <Undo />
{:else if problem}
  <header class="flex h-[40px] items-stretch border-b border-ink px-6">
    <a href="/desk" class="flex items-center"><Logo /></a>
  </header>
  <main class="mx-auto max-w-page px-6 pt-10">
    <h1>Nothing can be read now</h1>
    <p role="alert" class="mt-2">{problem}</p>
    <p class="mt-2 text-soft">
      Clients practise without a connection; what they do arrives here when they have one again.
    </p>
    {#if unsaved.length}
      <h2 class="mt-6">Kept on this device</h2>
      <ul class="mt-1">
        {#each unsaved as title (title)}<li class="border-b border-rule py-1.5">
            <b>{title}</b>: changes that are not saved yet. They are there when you open it again.
          </li>{/each}
      </ul>
    {/if}
    <button class="mt-6 act" onclick={begin}>Try again</button>
  </main>
{/if}
<svelte:window ononline={() => problem && begin()} />

<style>
  /* A page that is not here yet: after a moment, so that what comes at once does not flash. */
  .wait {
    position: fixed;
    top: 39px;
    left: 0;
    height: 3px;
    background: var(--color-action);
    animation: wait 6s 250ms cubic-bezier(0.1, 0.7, 0.2, 1) both;
  }
  @keyframes wait {
    from {
      width: 0;
    }
    to {
      width: 92%;
    }
  }
  @media (prefers-reduced-motion: reduce) {
    .wait {
      width: 92%;
    }
  }
</style>
