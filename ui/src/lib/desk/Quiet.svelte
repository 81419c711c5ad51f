<script lang="ts">
  import type { Schemas } from '../api/client'
  import { shortDay } from '../format'
  import PracticeBars from '../parts/PracticeBars.svelte'
  import { whereabouts } from './actions'

  /** Those who go along: their last two weeks, and nothing to do. */
  let { rows, all }: { rows: Schemas['DeskRow'][]; all: number } = $props()
  let more = $state(false)
  const few = 10
  const shown = $derived(more ? rows : rows.slice(0, few))
  function where(r: Schemas['DeskRow']): string {
    if (!r.programs.length) return r.status === 'active' ? 'no program yet' : r.status
    const effort = r.feel.filter((f) => f.effort !== null).at(-1)?.effort
    return `${whereabouts(r)}${effort === undefined ? '' : `, effort ${effort}`}`
  }
</script>

<div class="mt-4 flex items-baseline justify-between border-t border-rule pt-2">
  <h2>Going along quietly</h2>
  <span class="text-small text-soft">{rows.length} of {all}, last 14 days</span>
</div>
<ul>
  {#each shown as r (r.id)}
    <li class="grid grid-cols-[1fr_150px] items-center gap-3 py-[3px]">
      <a href="/clients/{r.id}" class="min-w-0 hover:underline"
        ><span class="block truncate font-semibold">{r.name}</span><span
          class="block truncate text-small text-soft">{where(r)}</span
        ></a
      >
      {#if r.days.length}<PracticeBars days={r.days} width={150} height={30} />
      {:else}<span class="text-small text-soft"
          >{r.next_day ? `first practice ${shortDay(r.next_day)}` : ''}</span
        >{/if}
    </li>
  {/each}
</ul>
{#if rows.length > few}<button class="mt-1 link font-bold" onclick={() => (more = !more)}
    >{more ? 'fewer' : `and ${rows.length - few} more`}</button
  >{/if}
