<script lang="ts">
  import type { Schemas } from '../api/client'
  import { shortDay } from '../format'
  import PracticeBars from '../parts/PracticeBars.svelte'
  import { whereabouts } from './actions'

  /** Those of whom nothing is wanted now, under what is true of them: with where they are and their last two weeks, or `names` alone. */
  let {
    title,
    rows,
    about,
    names = false
  }: { title: string; rows: Schemas['DeskRow'][]; about: string; names?: boolean } = $props()
  let more = $state(false)
  const few = 10
  const shown = $derived(more ? rows : rows.slice(0, few))
  function where(r: Schemas['DeskRow']): string {
    if (!r.programs.length) return r.status
    const effort = r.feel.filter((f) => f.effort !== null).at(-1)?.effort
    return `${whereabouts(r)}${effort === undefined ? '' : `, effort ${effort}`}`
  }
</script>

<div class="mt-3 flex items-baseline justify-between border-t border-rule pt-2">
  <h2 class="text-sub">{title}</h2>
  <span class="text-small text-soft">{rows.length}, {about}</span>
</div>
<ul aria-label={title}>
  {#each shown as r (r.id)}
    {#if names}<li class="py-[2px]">
        <a href="/clients/{r.id}" class="block truncate text-row font-semibold hover:underline">{r.name}</a>
      </li>{:else}<li class="grid grid-cols-[1fr_110px] items-center gap-3 py-[2px]">
        <a href="/clients/{r.id}" class="min-w-0 hover:underline"
          ><span class="block truncate text-row font-semibold">{r.name}</span><span
            class="block truncate text-small text-soft">{where(r)}</span
          ></a
        >
        {#if r.days.length}<PracticeBars days={r.days} width={110} height={28} />
        {:else}<span class="text-small text-soft">{r.next_day ? `begins ${shortDay(r.next_day)}` : ''}</span
          >{/if}
      </li>{/if}
  {/each}
</ul>
{#if rows.length > few}<button class="mt-1 link font-bold" onclick={() => (more = !more)}
    >{more ? 'fewer' : `and ${rows.length - few} more`}</button
  >{/if}
