<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { lines } from './steps'

  /** Who looked at what and when, and what else was done with the record; nobody can edit it. */
  let { steps, zone = null }: { steps: Schemas['TrailView'][]; zone?: string | null } = $props()
  const FIRST = 8
  let all = $state(false)
  const told = $derived(lines(steps, zone))
</script>

<ul class="mt-2">
  {#each all ? told : told.slice(0, FIRST) as line (line.key)}
    <li class="border-b border-rule py-2">
      <p>{line.words}</p>
      <p class="text-small text-soft">{line.when}</p>
      {#if line.each.length}<details class="text-row">
          <summary class="flex min-h-touch cursor-pointer items-center link">Which ones</summary>
          <p class="pb-2">{line.each.join('; ')}</p>
        </details>{/if}
    </li>
  {:else}<li class="py-2 text-soft">Nobody else has looked at a photograph or taken anything out.</li>{/each}
</ul>
{#if told.length > FIRST && !all}<button
    class="inline-flex min-h-touch items-center link"
    onclick={() => (all = true)}>All {told.length} entries</button
  >{/if}
