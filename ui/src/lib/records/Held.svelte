<script lang="ts">
  import type { Schemas } from '$lib/api/client'

  /** How much is held of a client, by kind. */
  let { held }: { held: Schemas['HeldCounts'] } = $props()
  const kinds = $derived(
    (
      [
        [held.photographs, 'photograph', 'photographs, with what was measured'],
        [held.sessions, 'practised session', 'practised sessions'],
        [held.programs, 'program', 'programs'],
        [held.entries, 'entry', 'entries: answers, ratings, tests, agreements, notes'],
        [held.messages, 'message', 'messages']
      ] as const
    ).filter(([n]) => n > 0)
  )
</script>

<ul class="mt-2 grid gap-1">
  {#each kinds as [n, one, many] (one)}
    <li class="flex items-baseline gap-3">
      <b class="w-9 shrink-0 text-right font-head text-head tabular-nums">{n}</b>
      <span>{n === 1 ? one : many}</span>
    </li>
  {:else}<li class="text-soft">Nothing yet.</li>{/each}
</ul>
