<script lang="ts">
  import type { Snippet } from 'svelte'
  let {
    name,
    id,
    place,
    children
  }: { name: string; id: string; place: 'course' | 'intake' | 'sittings'; children?: Snippet } = $props()
  const tabs = $derived([
    { key: 'course', name: 'Course', href: `/clients/${id}` },
    { key: 'intake', name: 'Intake', href: `/clients/${id}/intake` },
    { key: 'sittings', name: 'Sittings', href: `/clients/${id}/sittings` }
  ])
</script>

<h1>{name}</h1>
{#if children}<p class="mt-1 text-[14px]">{@render children()}</p>{/if}
<nav class="mt-2 flex gap-6" aria-label="Client">
  {#each tabs as tab (tab.key)}
    <a
      href={tab.href}
      aria-current={tab.key === place ? 'page' : undefined}
      class="border-b-[3px] pb-1 {tab.key === place
        ? 'border-action font-bold'
        : 'border-transparent text-soft'}">{tab.name}</a
    >
  {/each}
</nav>
