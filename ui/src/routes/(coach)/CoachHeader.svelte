<script lang="ts">
  import { page } from '$app/state'
  import Search from '$lib/desk/Search.svelte'
  import Help from '$lib/help/Help.svelte'
  import Logo from '$lib/parts/Logo.svelte'
  import { leave, session } from '$lib/people/session.svelte'

  /** The places of a coach, the search over everything, and help for the page that is open. */
  const PLACES = [
    { href: '/desk', name: 'Desk', also: '/reviews' },
    { href: '/clients', name: 'Clients', also: '/programs' },
    { href: '/exercises', name: 'Exercises', also: '/exercises' },
    { href: '/templates', name: 'Templates', also: '/templates' },
    { href: '/helped', name: 'What helped', also: '/helped' },
    { href: '/settings', name: 'Settings', also: '/settings' }
  ]
  /** Pages that the search leads to by their names. */
  const PAGES = [
    ...PLACES.map(({ href, name }) => ({ href, name })),
    { href: '/reviews', name: 'Reviews one by one' },
    { href: '/clients/import', name: 'Import clients' },
    { href: '/settings/review', name: 'Settings: weekly review' },
    { href: '/settings/safety', name: 'Settings: safety' },
    { href: '/settings/reasoning', name: 'Settings: reasoning table' },
    { href: '/settings/messenger', name: 'Settings: messenger' },
    { href: '/settings/people', name: 'Settings: people' },
    { href: '/settings/records', name: 'Settings: records' },
    { href: '/account', name: 'Your account' }
  ]
  const EVERYWHERE: [string, string][] = [
    ['/', 'search everything'],
    ['?', 'this help'],
    ['Ctrl Z', 'take back what was just done']
  ]
  let searching = $state(false)
  let helping = $state(false)
  const route = $derived((page.route.id ?? '').replace(/\/\([^)]*\)/g, '') || '/')
  const here = (place: (typeof PLACES)[number]) =>
    [place.href, place.also].some((p) => page.url.pathname.startsWith(p))

  function keys(event: KeyboardEvent) {
    const at = event.target as HTMLElement
    const typing = at.closest('input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable]')
    if ((event.ctrlKey || event.metaKey) && event.key === 'k') {
      event.preventDefault()
      searching = true
      return
    }
    if (typing || event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return
    if (at.closest('[role=dialog]')) return
    if (event.key === '/') {
      event.preventDefault()
      searching = true
    } else if (event.key === '?') {
      event.preventDefault()
      helping = true
    }
  }
</script>

<svelte:window onkeydown={keys} />
<header class="flex min-h-10 flex-wrap items-stretch gap-x-6 border-b border-ink px-6 print:hidden">
  <a href="/desk" class="flex items-center" aria-label="Dimbo, to the desk"><Logo /></a>
  <nav class="flex flex-wrap gap-x-6" aria-label="Places">
    {#each PLACES as place (place.href)}
      <a
        href={place.href}
        aria-current={here(place) ? 'page' : undefined}
        class="flex min-h-10 items-center border-b-[3px] pt-[3px] {here(place)
          ? 'border-action font-bold'
          : 'border-transparent text-soft'}"
      >
        {place.name}
      </a>
    {/each}
  </nav>
  <div class="ml-auto flex items-center gap-x-4 text-row text-soft">
    <button
      class="flex min-h-7 items-center gap-2 border border-edge-soft bg-sheet px-2 hover:border-action"
      onclick={() => (searching = true)}
      aria-keyshortcuts="/"
      ><svg viewBox="0 0 14 14" class="size-3.5" aria-hidden="true"
        ><circle cx="6" cy="6" r="4.4" fill="none" stroke="currentColor" stroke-width="1.6" /><path
          d="M9.4 9.4 13 13"
          stroke="currentColor"
          stroke-width="1.8"
        /></svg
      >Search <kbd class="font-sans text-note">/</kbd></button
    >
    <button
      class="size-7 border border-edge-soft bg-sheet font-bold hover:border-action"
      onclick={() => (helping = true)}
      aria-keyshortcuts="?"
      aria-label="Help for this page">?</button
    >
    <a class="link" href="/account">{session.me?.name}</a>
    <button class="link" onclick={leave}>Sign out</button>
  </div>
</header>
<Search bind:open={searching} places={PAGES} />
<Help
  bind:open={helping}
  whose="coach"
  sections={() => import('$lib/help/guide-coach.json')}
  {route}
  every={EVERYWHERE}
/>
