<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { day as at, longDate, shortDay, signed } from '$lib/format'

  /** A measurement at every sitting with its band: how far taking the photographs again would move it. */
  let { row, chosen = '' }: { row: Schemas['ResultRow']; chosen?: string } = $props()

  const [W, H, L, R] = [340, 120, 12, 12]
  const most = $derived(Math.max(...row.points.map((p) => Math.abs(p.value) + p.band), 0.5))
  const range = $derived(
    row.paired
      ? [-most, most]
      : [
          Math.min(...row.points.map((p) => p.value - p.band)),
          Math.max(...row.points.map((p) => p.value + p.band))
        ]
  )
  const times = $derived(row.points.map((p) => at(p.day).getTime()))
  const x = (iso: string) => {
    const [from, to] = [Math.min(...times), Math.max(...times)]
    return to > from ? L + ((at(iso).getTime() - from) / (to - from)) * (W - L - R) : W / 2
  }
  const y = (v: number) => {
    const [low, high] = range as [number, number]
    return 14 + ((high - v) / (high - low || 1)) * (H - 42)
  }
  const said = (p: Schemas['ResultPoint']) =>
    `${longDate(p.day)}: ${row.paired ? signed(p.value) : p.value.toFixed(1)} ${row.unit}, give or take ${p.band.toFixed(1)}${p.excluded ? ', taken under other conditions' : ''}`
</script>

<figure>
  <figcaption class="font-bold">{row.name}</figcaption>
  <svg
    viewBox="0 0 {W} {H}"
    class="block w-full"
    role="img"
    aria-label="{row.name}{row.paired ? ', left minus right' : ''}. {row.points.map(said).join('. ')}."
  >
    {#if row.paired}
      <path d="M0 {y(0)}H{W}" stroke="var(--color-ink)" stroke-width="1" />
      <text x="0" y="10" class="text-note" fill="var(--color-side-left)">left {row.more} ↑</text>
      <text x="0" y={H - 18} class="text-note" fill="var(--color-side-right)">right {row.more} ↓</text>
      <text x={W / 2} y={y(0) - 3} text-anchor="middle" class="text-note" fill="var(--color-soft)"
        >both alike</text
      >
    {/if}
    {#each row.points as p (p.sitting)}
      {@const ink = p.excluded ? 'var(--color-soft)' : 'var(--color-ink)'}
      <path
        d="M{x(p.day)} {y(p.value - p.band)}V{y(p.value + p.band)}"
        stroke={ink}
        stroke-width={p.sitting === chosen ? 9 : 7}
        opacity=".22"
      />
      <circle
        cx={x(p.day)}
        cy={y(p.value)}
        r={p.sitting === chosen ? 5 : 4}
        fill={p.excluded ? 'var(--color-sheet)' : ink}
        stroke={ink}
        stroke-width="1.6"
      />
    {/each}
    {#each row.points as p, i (p.sitting)}
      {#if i === 0 || i === row.points.length - 1}<text
          x={x(p.day)}
          y={H - 3}
          text-anchor={row.points.length === 1 ? 'middle' : i ? 'end' : 'start'}
          class="text-note"
          fill="var(--color-soft)">{shortDay(p.day)}</text
        >{/if}
    {/each}
  </svg>
</figure>
