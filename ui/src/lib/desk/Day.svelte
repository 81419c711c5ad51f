<script lang="ts">
  import type { Schemas } from '../api/client'
  import { timeAt, weekDay } from '../format'
  import { session } from '../people/session.svelte'

  /** The coach's day in its order, with now between what was and what comes; and the days to come. */
  let { day, ahead, now }: { day: Schemas['Appointment'][]; ahead: Schemas['AheadView'][]; now: string } =
    $props()
  const time = (iso: string) => timeAt(iso, session.me?.time_zone)
  const timed = $derived(day.filter((a) => a.from_at))
  const untimed = $derived(day.filter((a) => !a.from_at && a.what === 'sitting'))
  /** As many as stand one by one; of more the first, and how many follow. */
  const FEW = 4
  let more = $state(false)
  const shown = $derived(more || untimed.length <= FEW ? untimed : untimed.slice(0, FEW - 1))
  const reviews = $derived(day.filter((a) => !a.from_at && a.what === 'review'))
  /** Where now stands among what has an hour. */
  const until = $derived(timed.filter((a) => (a.to_at ?? a.from_at ?? '') < now).length)
  const days = $derived([...new Set(ahead.map((a) => a.day))])
  const KINDS = { sitting: 'photos', review: 'review' }
  const page = (a: Schemas['Appointment']) =>
    `/clients/${a.client_id}${a.what === 'sitting' ? '/sittings' : ''}`
</script>

{#snippet line()}<li class="flex items-center gap-2 text-note font-bold text-action" aria-label="now">
    {time(now)}<span class="h-px grow bg-action"></span>
  </li>{/snippet}
<ul class="text-small">
  {#each timed as a, i (a.client_id + a.what)}
    {#if i === until}{@render line()}{/if}
    <li class="flex gap-x-2 border-b border-rule py-1 {a.done ? 'text-soft' : ''}">
      <span class="w-[84px] shrink-0"
        >{a.done ? time(a.from_at ?? now) : `${time(a.from_at ?? now)}–${time(a.to_at ?? now)}`}</span
      ><a class="min-w-0 grow truncate hover:underline" href={page(a)}>{a.name}</a><span class="text-soft"
        >{KINDS[a.what]}{a.done ? ', done' : ''}</span
      >
    </li>
  {/each}
  {#if timed.length && until === timed.length}{@render line()}{/if}
  {#if reviews.length}<li class="flex gap-x-2 border-b border-rule py-1">
      <span class="grow">{reviews.length} review{reviews.length === 1 ? '' : 's'}</span><a
        class="link"
        href="/reviews">{reviews.length === 1 ? 'Take it' : 'Take them one by one'}</a
      >
    </li>{/if}
  {#each shown as a (a.client_id)}<li
      class="flex gap-x-2 border-b border-rule py-1 {a.done ? 'text-soft' : ''}"
    >
      <a class="grow hover:underline" href={page(a)}>{a.name}</a><span class="text-soft"
        >{a.done ? a.text : 'photos'}</span
      >
    </li>{/each}
  {#if untimed.length > FEW}<li class="border-b border-rule py-1">
      <button class="link" aria-expanded={more} onclick={() => (more = !more)}
        >{more ? 'fewer' : `photos of ${untimed.length - shown.length} more are due`}</button
      >
    </li>{/if}
  {#if !day.length}<li class="text-soft">No photographs are due, and no review waits.</li>{/if}
</ul>
{#if days.length}
  <h3 class="mt-2 text-row">Next days</h3>
  <ul class="text-small">
    {#each days as d (d)}
      {#each ahead.filter((a) => a.day === d) as a, i (a.client_id + a.what)}<li
          class="flex gap-x-2 border-b border-rule py-[3px]"
        >
          <span class="w-[46px] shrink-0 font-bold">{i ? '' : weekDay(d)}</span><a
            class="min-w-0 grow truncate hover:underline"
            href="/clients/{a.client_id}{a.what === 'photographs' ? '/sittings' : ''}">{a.name}</a
          ><span class="shrink-0 text-soft">{a.what}</span>
        </li>{/each}
    {/each}
  </ul>
{/if}
