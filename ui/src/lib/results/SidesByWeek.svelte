<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { shortDay, signed } from '$lib/format'

  /** One client: the difference of the sides at each sitting with its band, hollow where it chose the side, and below it the extra minutes
   * of each side week by week. It says nothing of what does what. */
  let { drawing }: { drawing: Schemas['ClientDrawing'] } = $props()
  const [W, H, L] = [300, 150, 6]
  const weeks = $derived(
    Math.max(12, ...drawing.marks.map((m) => m.week + 1), ...drawing.extra.map((e) => e.week))
  )
  const from = $derived(Math.min(-1, ...drawing.marks.map((m) => m.week)))
  const x = (week: number) => L + ((week - from) / (weeks - from)) * (W - 2 * L)
  const most = $derived(Math.max(0.8, ...drawing.marks.map((m) => Math.abs(m.value) + m.band)))
  const y = (v: number) => 12 + ((most - v) / (2 * most)) * 76
  const longest = $derived(Math.max(2, ...drawing.extra.map((e) => Math.abs(e.minutes))))
  const tall = (minutes: number) => (minutes / longest) * 18
  const said = $derived(
    drawing.marks
      .map(
        (m) =>
          `${shortDay(m.day)} ${signed(m.value)} mm, give or take ${m.band.toFixed(1)}${m.chose ? ', chose the side' : ''}`
      )
      .join('; ')
  )
</script>

<svg
  viewBox="0 0 {W} {H}"
  class="block w-full"
  role="img"
  aria-label="{drawing.name}, {drawing.reading_name}, right minus left: {said}"
>
  <path d="M0 {y(0)}H{W}" stroke="var(--color-ink)" />
  <text x="0" y="9" class="text-note" fill="var(--color-side-right)">right more</text>
  <text x="0" y="98" class="text-note" fill="var(--color-side-left)">left more</text>
  {#each drawing.marks as m (m.day)}
    <path
      d="M{x(m.week)} {y(m.value - m.band)}V{y(m.value + m.band)}"
      stroke="var(--color-ink)"
      stroke-width="6"
      opacity=".18"
    />
    <circle
      cx={x(m.week)}
      cy={y(m.value)}
      r="4"
      fill={m.chose ? 'var(--color-sheet)' : m.excluded ? 'var(--color-rule)' : 'var(--color-ink)'}
      stroke="var(--color-ink)"
      stroke-width="1.5"
    />
  {/each}
  <path d="M0 122H{W}" stroke="var(--color-rule)" />
  {#each drawing.extra as e (e.week)}
    <rect
      x={x(e.week - 1) + 1}
      y={e.minutes > 0 ? 122 - tall(e.minutes) : 122}
      width={Math.max(2, x(1) - x(0) - 2)}
      height={Math.abs(tall(e.minutes))}
      fill={e.minutes > 0 ? 'var(--color-side-right)' : 'var(--color-side-left)'}
    />
  {/each}
  <text x={W} y={H - 1} text-anchor="end" class="text-note" fill="var(--color-soft)"
    >extra minutes a week, week {weeks}</text
  >
</svg>
