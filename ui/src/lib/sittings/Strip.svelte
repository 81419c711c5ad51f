<script lang="ts">
  import Hint from '$lib/parts/Hint.svelte'
  import type { Bench, Where } from './bench.svelte'

  /** The shots of one sitting, small; the chosen one is framed. */
  let { bench, where }: { bench: Bench; where: Where } = $props()
  const shots = $derived(bench.sitting(where)?.photographs ?? [])
  const chosen = $derived(bench.photo(where)?.id)
  const numbered = (i: number) => {
    const p = shots[i]
    const same = shots.filter((x) => x.view === p?.view)
    return same.length > 1 && p ? ` ${same.indexOf(p) + 1}` : ''
  }
  const short = (name: string) =>
    name.replace('Front, ', '').replace(' side', '').replace('Three-quarter', '¾')
</script>

<ul class="flex gap-1.5 overflow-x-auto pb-1 print:hidden" aria-label="Shots of this sitting">
  {#each shots as p, i (p.id)}
    <li class="w-[62px] shrink-0">
      <Hint text="{p.view_name}{p.standing ? `, ${p.standing}` : ''}"
        >{#snippet child({ props })}
          <button
            {...props}
            class="block w-full border-[3px] {p.id === chosen ? 'border-action' : 'border-transparent'}"
            aria-pressed={p.id === chosen}
            onclick={() => (bench.picked[where] = p.id)}
          >
            <img
              src="/api/photographs/{p.id}/small.jpg"
              alt="{p.view_name}{numbered(i)}"
              class="block aspect-[4/5] w-full bg-band object-cover {p.flipped ? '-scale-x-100' : ''}"
              loading={i > 3 ? 'lazy' : 'eager'}
            />
          </button>{/snippet}</Hint
      >
      <span class="block truncate text-note {p.standing === 'to be retaken' ? 'text-stop' : 'text-soft'}"
        >{p.state === 'waiting' || p.state === 'working'
          ? 'measuring …'
          : p.state === 'refused'
            ? 'refused'
            : `${short(p.view_name)}${numbered(i)}`.toLowerCase()}</span
      >
    </li>
  {/each}
</ul>
