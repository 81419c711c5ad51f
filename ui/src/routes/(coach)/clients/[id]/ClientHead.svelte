<script lang="ts">
  import type { Snippet } from 'svelte'
  import type { Fills, Holds } from '$lib/signature/face-map'
  import FaceMap from '$lib/signature/FaceMap.svelte'

  let {
    name,
    id,
    place,
    severity,
    holds = {},
    children
  }: {
    name: string
    id: string
    place: 'course' | 'intake' | 'sittings'
    /** Severity 0 to 4 by muscle, for the small map. */
    severity?: Record<string, { right: number; left: number }>
    holds?: Holds
    children?: Snippet
  } = $props()
  const tabs = $derived([
    { key: 'course', name: 'Course', href: `/clients/${id}` },
    { key: 'intake', name: 'Intake', href: `/clients/${id}/intake` },
    { key: 'sittings', name: 'Sittings', href: `/clients/${id}/sittings` }
  ])
  const fills = $derived<Fills>(
    Object.fromEntries(
      Object.entries(severity ?? {}).map(([m, r]) => [m, { right: r.right / 4, left: r.left / 4 }])
    )
  )
</script>

<div class="flex items-start gap-3">
  {#if severity}
    <a
      href="/clients/{id}/intake"
      class="block size-[64px] shrink-0"
      title="Severity of concerns; open the intake"
      ><FaceMap view="facing" {fills} {holds} small labels={false} label="severity of concerns" /></a
    >
  {/if}
  <div>
    <h1>{name}</h1>
    {#if children}<p class="mt-1 text-[14px]">{@render children()}</p>{/if}
  </div>
</div>
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
