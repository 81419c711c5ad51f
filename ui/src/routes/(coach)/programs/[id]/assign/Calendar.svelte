<script lang="ts">
  import { day as date, shortDay } from '$lib/format'
  import type { Prepared } from './plan.svelte'

  /** The real calendar: every day of the course with its minutes, a week a row, the week's minutes beside it. */
  let { prepared, both }: { prepared: Prepared; both: boolean } = $props()
  const names = new Intl.DateTimeFormat('en-GB', { weekday: 'short', timeZone: 'UTC' })
  const head = $derived(prepared.weeks[0]?.days.map((d) => names.format(date(d.day))) ?? [])
  const most = $derived(Math.max(60, ...prepared.weeks.map((w) => w.total_s)))
  const minutes = (s: number) => Math.max(1, Math.ceil(s / 60 - 1e-6))
  const first = (iso: string, n: number) => n === 0 || iso.endsWith('-01')
  /** The first of a month begins a new block: a firm line before it and above its week. */
  const begins = (iso: string) => iso.endsWith('-01')
  const firstWeek = (iso: string) => Number(iso.slice(8)) <= 7
</script>

<table class="w-full table-fixed border-collapse text-small">
  <thead class="text-left text-note text-soft">
    <tr>
      <th class="w-[64px] font-normal">week</th>
      {#each head as name, n (n)}<th class="px-1.5 font-normal">{name}</th>{/each}
      <th class="w-[128px] pl-3 font-normal">minutes a week</th>
    </tr>
  </thead>
  <tbody>
    {#each prepared.weeks as week (week.number)}
      <tr class="h-[40px] border-t border-rule align-top">
        <th class="pt-1 text-left font-bold">{week.number}</th>
        {#each week.days as d, n (d.day)}
          {@const own = d.morning_s + d.evening_s}
          <td
            class="border-l px-1.5 pt-0.5 {begins(d.day) ? 'border-l-ink' : 'border-l-rule'} {firstWeek(
              d.day
            ) && week.number > 1
              ? 'border-t border-t-ink'
              : ''} {d.paused ? 'text-soft line-through' : own ? 'bg-sheet' : 'text-soft'}"
          >
            <span class="block text-note leading-tight {own && !d.paused ? 'text-soft' : ''}"
              >{first(d.day, n) ? shortDay(d.day) : Number(d.day.slice(8))}</span
            >
            {#if d.paused && own}<span class="text-note">paused</span>
            {:else if own}
              <span class="font-bold"
                >{both && d.morning_s
                  ? `${minutes(d.morning_s)} + ${minutes(d.evening_s)}`
                  : minutes(own)}</span
              >&nbsp;min
            {/if}
            {#if d.beside_s && !d.paused}<span class="block text-note leading-none text-soft"
                >and {minutes(d.beside_s)} other</span
              >{/if}
          </td>
        {/each}
        <td class="pt-1.5 pl-3">
          <span class="flex items-center gap-2"
            ><svg width="66" height="9" aria-hidden="true"
              ><rect width={(66 * week.total_s) / most} height="9" fill="var(--color-ink)" /></svg
            ><b>{week.total_s ? minutes(week.total_s) : 0}</b></span
          >
        </td>
      </tr>
    {/each}
  </tbody>
</table>
