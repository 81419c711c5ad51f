<script lang="ts">
  import { navigating, page } from '$app/state'
  import { onMount, type Snippet } from 'svelte'
  import Logo from '$lib/parts/Logo.svelte'
  import Undo from '$lib/parts/Undo.svelte'
  import { attempt } from '$lib/api/client'
  import { leave, need, session } from '$lib/people/session.svelte'
  import { keptTitles } from '$lib/programs/paper'

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
  const places = [
    { href: '/desk', name: 'Desk', also: '/reviews' },
    { href: '/clients', name: 'Clients', also: '/programs' },
    { href: '/exercises', name: 'Exercises', also: '/exercises' },
    { href: '/templates', name: 'Templates', also: '/templates' },
    { href: '/helped', name: 'What helped', also: '/helped' },
    { href: '/settings', name: 'Practice settings', also: '/settings' }
  ]
  const here = (place: (typeof places)[number]) =>
    [place.href, place.also].some((p) => page.url.pathname.startsWith(p))
</script>

{#if ready}
  <header class="flex h-[40px] items-stretch border-b border-ink px-6">
    <a href="/desk" class="flex items-center"><Logo /></a>
    <nav class="ml-8 flex gap-7" aria-label="Places">
      {#each places as place (place.href)}
        <a
          href={place.href}
          aria-current={here(place) ? 'page' : undefined}
          class="flex items-center border-b-[3px] pt-[3px] {here(place)
            ? 'border-action font-bold'
            : 'border-transparent text-soft'}"
        >
          {place.name}
        </a>
      {/each}
    </nav>
    <div class="ml-auto flex items-center gap-4 text-row text-soft">
      <a class="link" href="/account" title="Your account">{session.me?.name}</a><span class="-ml-3"
        >{session.me?.practice_name}</span
      >
      <button class="link" onclick={leave}>Sign out</button>
    </div>
  </header>
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
