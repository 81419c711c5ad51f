<script lang="ts">
  import { page } from '$app/state'
  import { onMount, type Snippet } from 'svelte'
  import Logo from '$lib/parts/Logo.svelte'
  import Undo from '$lib/parts/Undo.svelte'
  import { leave, need, session } from '$lib/people/session.svelte'

  let { children }: { children: Snippet } = $props()
  let ready = $state(false)
  onMount(async () => (ready = await need('coach')))
  const places = [
    { href: '/desk', name: 'Desk', also: '/reviews' },
    { href: '/clients', name: 'Clients', also: '/programs' },
    { href: '/exercises', name: 'Exercises', also: '/exercises' },
    { href: '/templates', name: 'Templates', also: '/templates' },
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
      <span>{session.me?.name}, {session.me?.practice_name}</span>
      <button class="link" onclick={leave}>Sign out</button>
    </div>
  </header>
  {@render children()}
  <Undo />
{/if}
