<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { longDate } from '$lib/format'
  import { practisedWords } from '$lib/results/practised'

  /** The first photograph beside the latest, what they say, and the way to all of them. */
  let {
    results,
    kept
  }: {
    results: Schemas['OwnResultsView']
    /** Whether it is shown from this phone, without a connection and so without pictures. */
    kept: boolean
  } = $props()
  const view = $derived(results.views[0]?.id ?? '')
  const seen = $derived(results.sittings.filter((s) => s.photographs[view]))
  const last = $derived(results.sittings.at(-1))
  const first = $derived(seen.find((s) => s.first) ?? seen[0])
  const shown = $derived([...new Set([first, seen.at(-1)])].filter((s) => !!s))
</script>

{#if !last}
  <p class="mt-1">
    None yet. When your coach asks for photographs, the first ones will stand here beside the latest.
  </p>
{:else}
  {#if !kept}
    <a href="/my-photographs" class="mt-2 grid grid-cols-2 gap-2">
      {#each shown as s (s.id)}
        <figure>
          <img
            src="/api/photographs/{s.photographs[view]?.id}/small.jpg"
            alt="You, {longDate(s.day)}"
            class="block aspect-[4/5] w-full bg-band object-cover {s.photographs[view]?.flipped
              ? '-scale-x-100'
              : ''}"
          />
          <figcaption class="text-lead text-soft">{longDate(s.day)}</figcaption>
        </figure>
      {/each}
    </a>
  {/if}
  {#each last.said as s (s.reading)}<p class="mt-2">{s.sentence}</p>{:else}
    <p class="mt-2">
      {last.first ? 'The first photographs; later ones are held against them.' : 'Not measured yet.'}
    </p>{/each}
  {#if last.practised}<p class="mt-2">{practisedWords(last.practised)}</p>{/if}
  {#if !kept}<p>
      <a class="inline-flex min-h-touch items-center link" href="/my-photographs">All my photographs</a>
    </p>{/if}
{/if}
