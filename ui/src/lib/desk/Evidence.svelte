<script lang="ts">
  import type { Schemas } from '../api/client'
  import { daysBetween } from '../format'
  import PracticeBars from '../parts/PracticeBars.svelte'
  import FaceMap from '../signature/FaceMap.svelte'
  import type { Fills } from '../signature/face-map'

  /**
   * What an alarm stands on, in miniature: the face with the place under a caution or in pain, effort and soreness in two
   * weeks with what the rules say, the first photograph beside the one that is due, or the bars of practice.
   */
  let { row, alarm }: { row: Schemas['DeskRow']; alarm: Schemas['AlarmView'] } = $props()
  const wide = 108
  const x = (day: string) => wide - 8 - daysBetween(day, row.today) * 7.2
  const y = (n: number) => 34 - n * 3
  const efforts = $derived(row.feel.filter((f) => f.effort !== null))
  const sore = $derived(row.feel.filter((f) => f.soreness !== null))
  const tender = $derived<Fills>(
    Object.fromEntries(
      Object.entries(row.tender).map(([m, r]) => [m, { right: r.right / 10, left: r.left / 10 }])
    )
  )
  const places = $derived(Object.keys(row.tender).length + Object.keys(row.holds).length)
  const verdict = $derived(row.reviews[0]?.verdict)
  /** A verdict as the course writes it above a week: up, level, down. */
  const SIGNS = {
    advance: 'M0 9 5 0 10 9Z',
    hold: 'M0 2h10v2H0ZM0 6h10v2H0Z',
    'ease back': 'M0 0h10L5 9Z',
    stop: 'M0 0h10v9H0Z'
  }
  let seen = $state(true)
</script>

{#if alarm.kind === 'sore' || (alarm.kind === 'review' && row.feel.length > 1)}
  <svg
    width={wide}
    height="38"
    role="img"
    aria-label="effort {efforts.map((f) => f.effort).join(', ')}; soreness {sore
      .map((f) => f.soreness)
      .join(', ')}, of 10, in two weeks{verdict ? `; the rules say ${verdict}` : ''}"
  >
    <rect x="0" y={y(7)} width={wide} height={y(3) - y(7)} fill="var(--color-band)" opacity=".6" />
    <polyline
      points={efforts.map((f) => `${x(f.day)},${y(f.effort ?? 0)}`).join(' ')}
      fill="none"
      stroke="var(--color-ink)"
    />
    {#each efforts as f (f.day)}<circle
        cx={x(f.day)}
        cy={y(f.effort ?? 0)}
        r="2.4"
        fill="var(--color-ink)"
      />{/each}
    {#each sore as f (f.day)}<path
        d="M{x(f.day)} {y(f.soreness ?? 0) - 3.4}l3.4 3.4l-3.4 3.4l-3.4 -3.4Z"
        fill={(f.soreness ?? 0) > 5 ? 'var(--color-mark-watch)' : 'var(--color-paper)'}
        stroke="var(--color-watch)"
      />{/each}
    {#if verdict}<path
        d={SIGNS[verdict]}
        transform="translate({wide - 12} 1)"
        fill={verdict === 'advance' ? 'var(--color-mark-fine)' : 'var(--color-mark-watch)'}
      />{/if}
  </svg>
{:else if row.first_shot && seen}
  <span
    class="flex gap-1.5"
    role="img"
    aria-label="the first photograph, and an empty frame for the one that is due"
  >
    <img
      class="h-[40px] w-[30px] object-cover"
      src="/api/photographs/{row.first_shot}/small.jpg"
      alt=""
      loading="lazy"
      onerror={() => (seen = false)}
    />
    <svg width="30" height="40" aria-hidden="true"
      ><rect
        x=".5"
        y=".5"
        width="29"
        height="39"
        fill="none"
        stroke="var(--color-soft)"
        stroke-dasharray="3 3"
      /><path d="M10 20h10m-5-5v10" stroke="var(--color-soft)" /></svg
    >
  </span>
{:else if places}
  <span class="block size-[42px]"
    ><FaceMap
      view="facing"
      holds={row.holds}
      {tender}
      small
      labels={false}
      label={Object.keys(row.tender).length ? 'where it hurt' : 'what is locked or eased'}
    /></span
  >
{:else if row.days.length}
  <PracticeBars days={row.days} width={wide} />
{:else}
  <span class="text-small text-soft">{row.programs.length ? 'not begun yet' : 'no program yet'}</span>
{/if}
