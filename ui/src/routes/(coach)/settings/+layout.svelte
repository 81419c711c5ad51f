<script lang="ts">
  import { page } from '$app/state'
  import type { Snippet } from 'svelte'

  let { children }: { children: Snippet } = $props()
  const places = [
    ['/settings', 'How you work'],
    ['/settings/review', 'Weekly review'],
    ['/settings/safety', 'Safety'],
    ['/settings/reasoning', 'Reasoning table'],
    ['/settings/messenger', 'Messenger'],
    ['/settings/people', 'People'],
    ['/settings/records', 'Records']
  ] as const
</script>

<nav
  class="mx-auto flex max-w-desk gap-6 border-b border-rule px-6 pt-3 text-row"
  aria-label="Practice settings"
>
  {#each places as [href, name] (href)}
    <a
      {href}
      aria-current={page.url.pathname === href ? 'page' : undefined}
      class="border-b-2 pb-1.5 {page.url.pathname === href
        ? 'border-action font-bold'
        : 'border-transparent text-soft'}">{name}</a
    >
  {/each}
</nav>
{@render children()}
