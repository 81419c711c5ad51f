<script lang="ts">
  import type { Schemas } from '../api/client'
  import { timeAt } from '../format'
  import { session } from '../people/session.svelte'

  /** The coach's day on one line of hours: when photographs suit, what is reviewed, and now. */
  let { day, now }: { day: Schemas['Appointment'][]; now: string } = $props()
  const time = (iso: string) => timeAt(iso, session.me?.time_zone)
  const hour = (iso: string) => {
    const [hours = 0, minutes = 0] = time(iso).split(':').map(Number)
    return hours + minutes / 60
  }
  const timed = $derived(day.filter((a) => a.from_at))
  const untimed = $derived(day.filter((a) => !a.from_at && a.what === 'sitting'))
  const reviews = $derived(day.filter((a) => !a.from_at && a.what === 'review'))
  /** The end of the hours that suit; past midnight the day ends. */
  const until = (a: Schemas['Appointment']) => {
    const from = hour(a.from_at ?? now)
    const to = a.to_at ? hour(a.to_at) : from
    return to < from ? 24 : to
  }
  const first = $derived(
    2 * Math.floor(Math.min(8, hour(now), ...timed.map((a) => hour(a.from_at ?? now))) / 2)
  )
  const last = $derived(Math.min(24, Math.ceil(Math.max(18, hour(now), ...timed.map(until)))))
  const px = 13
  const y = (h: number) => 20 + (h - first) * px
  /** Rows in time, pushed down so that no words lie over others. */
  const rows = $derived.by(() => {
    let free = 0
    return timed.map((a) => {
      const at = Math.max(y(hour(a.from_at ?? now)) + 10, free)
      free = at + 18
      return { a, at }
    })
  })
  const tall = $derived(Math.max(y(last) + 10, (rows.at(-1)?.at ?? 0) + 12))
  const kinds = { sitting: 'Sitting', review: 'Review' }
</script>

{#if timed.length}
  <svg viewBox="0 0 354 {tall}" class="block w-full" role="list" aria-label="The day by hours">
    {#each Array.from({ length: Math.floor((last - first) / 2) + 1 }, (_, i) => first + 2 * i) as h (h)}
      <text x="34" y={y(h) + 4} text-anchor="end" class="text-note" fill="var(--color-soft)"
        >{String(h).padStart(2, '0')}:00</text
      ><path d="M38 {y(h)}h8" stroke="var(--color-ink)" />
    {/each}
    <path d="M42 {y(first)}V{y(last)}" stroke="var(--color-ink)" />
    {#each rows as { a, at } (a.client_id + a.what)}
      {@const from = y(hour(a.from_at ?? now))}
      {@const to = a.to_at ? y(Math.max(until(a), hour(a.from_at ?? now) + 0.3)) : from + 5}
      <g role="listitem" opacity={a.done ? 0.55 : 1}>
        <rect x="44" y={from} width="6" height={Math.max(to - from, 4)} fill="var(--color-action)" />
        <text x="58" y={at} class="text-small font-bold" fill="var(--color-ink)">{kinds[a.what]}</text>
        <text x="112" y={at} class="text-small" fill="var(--color-ink)"
          ><a
            href="/clients/{a.client_id}{a.what === 'sitting' ? '/sittings' : ''}"
            aria-label="{kinds[a.what]} of {a.name}"
            >{a.name}{a.from_at && a.to_at && !a.done
              ? `, ${time(a.from_at)} to ${time(a.to_at)}`
              : a.done
                ? ', done'
                : ''}</a
          ></text
        >
      </g>
    {/each}
    {#if hour(now) >= first && hour(now) <= last}
      <path d="M38 {y(hour(now))}H354" stroke="var(--color-action)" stroke-width="1.4" />
      <text
        x="354"
        y={y(hour(now)) - 3}
        text-anchor="end"
        class="text-note font-bold"
        fill="var(--color-action)">{time(now)}</text
      >
    {/if}
  </svg>
{/if}
{#if reviews.length}
  <p class="border-b border-rule py-1 text-small">
    <b>{reviews.length} review{reviews.length === 1 ? '' : 's'}</b> to take
    <a class="link" href="/reviews">in a row</a>: {reviews
      .map((a) => `${a.name.split(' ')[0]}, ${a.text}`)
      .join('; ')}.
  </p>
{/if}
{#if untimed.length}
  <ul class="text-small">
    {#each untimed as a (a.client_id)}<li
        class="flex gap-3 border-b border-rule py-1 {a.done ? 'text-soft' : ''}"
      >
        <b class="w-[48px]">Sitting</b><a class="hover:underline" href="/clients/{a.client_id}/sittings"
          >{a.name}</a
        ><span class="ml-auto text-soft">{a.text}</span>
      </li>{/each}
  </ul>
{/if}
{#if !day.length}<p class="text-row text-soft">No sitting is due, and no review waits.</p>{/if}
