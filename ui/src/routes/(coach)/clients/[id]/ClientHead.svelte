<script lang="ts">
  import Hint from '$lib/parts/Hint.svelte'
  import type { Snippet } from 'svelte'
  import type { Fills, Holds } from '$lib/signature/face-map'
  import FaceMap from '$lib/signature/FaceMap.svelte'

  let {
    name,
    id,
    place,
    severity,
    holds = {},
    tender = {},
    children
  }: {
    name: string
    id: string
    place: 'course' | 'intake' | 'sittings' | 'letters' | 'record'
    /** Severity 0 to 4 by muscle, for the small map. */
    severity?: Record<string, { right: number; left: number }>
    holds?: Holds
    /** Where it hurt lately, 0 to 10 by muscle. */
    tender?: Record<string, { right: number; left: number }>
    children?: Snippet
  } = $props()
  const tabs = $derived([
    { key: 'course', name: 'Course', href: `/clients/${id}` },
    { key: 'intake', name: 'Intake', href: `/clients/${id}/intake` },
    { key: 'sittings', name: 'Sittings', href: `/clients/${id}/sittings` },
    { key: 'letters', name: 'Letters', href: `/clients/${id}/letters` },
    { key: 'record', name: 'Record', href: `/clients/${id}/record` }
  ])
  const share = (of: Record<string, { right: number; left: number }>, most: number): Fills =>
    Object.fromEntries(
      Object.entries(of).map(([m, r]) => [m, { right: r.right / most, left: r.left / most }])
    )
</script>

<div class="flex items-start gap-3">
  {#if severity}
    <Hint text="Hatched: severity of concerns. Dots: where it hurt. Opens the intake"
      >{#snippet child({ props })}
        <a
          {...props}
          href="/clients/{id}/intake"
          aria-label="To the intake: severity of concerns, and where it hurt"
          class="block size-[64px] shrink-0"
          ><FaceMap
            view="facing"
            fills={share(severity, 4)}
            tender={share(tender, 10)}
            {holds}
            small
            labels={false}
            label="severity of concerns, and where it hurt"
          /></a
        >{/snippet}</Hint
    >
  {/if}
  <div>
    <h1>{name}</h1>
    {#if children}<p class="mt-1 text-row">{@render children()}</p>{/if}
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
