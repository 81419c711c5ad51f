<script lang="ts">
  import { page } from '$app/state'

  /** The four places of a client, within thumb's reach; a place says in words what is new there. */
  let { unread, due }: { unread: number; due: boolean } = $props()
  const PLACES = [
    {
      href: '/today',
      name: 'Today',
      also: ['/by-hand'],
      draw: 'M4 5h16v15H4ZM4 9.5h16M8.5 2.5v4M15.5 2.5v4M12 12.5v5M9.5 15h5'
    },
    {
      href: '/my-course',
      name: 'My course',
      also: ['/my-photographs', '/my-letters'],
      draw: 'M3 20h18M5 20v-5M9.7 20V9.500M14.300 20v-8M19 20V5'
    },
    { href: '/messages', name: 'Messages', also: [], draw: 'M3.500 4.500h17v12h-9L6.500 20.500v-4h-3Z' },
    {
      href: '/my-settings',
      name: 'Settings',
      also: ['/my-account', '/my-record', '/agreements'],
      draw: 'M3 7h10M17.500 7H21M3 17h3.500M11 17h10M15.200 4.800v4.400M8.700 14.800v4.400'
    }
  ]
  const at = $derived(
    PLACES.find((p) => [p.href, ...p.also].some((a) => page.url.pathname.startsWith(a)))?.href
  )
  const news = (href: string) =>
    href === '/messages' && unread
      ? `${unread} new`
      : href === '/today' && due && at !== '/today'
        ? 'photos due'
        : ''
</script>

<nav
  aria-label="Places"
  class="fixed inset-x-0 bottom-0 z-30 border-t border-ink bg-sheet pb-[env(safe-area-inset-bottom)] print:hidden"
>
  <ul class="mx-auto grid max-w-column-wide grid-cols-4">
    {#each PLACES as place (place.href)}
      <li>
        <a
          href={place.href}
          aria-current={at === place.href ? 'page' : undefined}
          class="flex min-h-hand flex-col items-center justify-center border-t-[3px] pb-1 text-center text-small leading-tight {at ===
          place.href
            ? 'border-action font-bold text-action'
            : 'border-transparent text-soft'}"
        >
          <svg viewBox="0 0 24 24" class="size-6" aria-hidden="true"
            ><path d={place.draw} fill="none" stroke="currentColor" stroke-width="1.8" /></svg
          >
          <span
            >{place.name}{#if news(place.href)}<b class="ml-1 text-stop">{news(place.href)}</b>{/if}</span
          >
        </a>
      </li>
    {/each}
  </ul>
</nav>
