<script lang="ts">
  import type { Schemas } from '../api/client'
  import { signed } from '../format'

  /** Left minus right on a vertical midline: a rung tilts by the difference and leaves its band only when it is real. */
  let {
    readings,
    baseline = [],
    changes = [],
    chosen,
    choose
  }: {
    readings: Schemas['ReadingView'][]
    baseline?: Schemas['ReadingView'][]
    changes?: Schemas['ChangeView'][]
    chosen?: string
    choose?: (id: string) => void
  } = $props()

  const row = 52
  const mid = 174
  const half = 56
  /** Vertical pixels per millimetre (or per degree) of difference at each end. */
  const rise = (unit: string) => (unit === '°' ? 3.2 : 8)
  const end = (v: number, unit: string) => Math.max(-20, Math.min(20, v * rise(unit)))
  const before = $derived(new Map(baseline.map((r) => [r.id, r])))
  const change = $derived(new Map(changes.map((c) => [c.id, c])))
  const verdict = (r: Schemas['ReadingView']): [string, string] => {
    const c = change.get(r.id)
    if (!c)
      return r.real ? [`${r.smaller_side} is less`, 'beyond noise'] : ['no real difference', 'within noise']
    if (c.verdict === 'not comparable') return ['not comparable', 'see the margin']
    if (c.verdict === 'within noise') return ['no real change', 'within noise']
    const moved = c.sides.filter((s) => s.beyond)
    const who = moved.length === 1 ? `the ${moved[0]?.side} moved` : 'both sides moved'
    const size = { 'toward symmetry': 'smaller, real', 'away from symmetry': 'larger, real' }[
      c.direction ?? ''
    ]
    return [size ?? 'changed, real', who]
  }
</script>

<svg
  viewBox="0 0 338 {readings.length * row + 20}"
  class="w-full"
  role="img"
  aria-label={readings
    .map(
      (r) =>
        `${r.name}: left minus right ${signed(r.value)} ${r.unit}, noise ${r.band.toFixed(1)}, ${verdict(r).join(', ')}`
    )
    .join('; ')}
>
  <text x={mid - half} y="11" text-anchor="middle" class="fill-side-right text-note font-bold">right</text>
  <text x={mid + half} y="11" text-anchor="middle" class="fill-side-left text-note font-bold">left</text>
  <path d="M{mid} 4V{readings.length * row + 16}" stroke="var(--color-ink)" stroke-width="1.5" />
  {#each readings as r, i (r.id)}
    {@const y = 18 + i * row + row / 2}
    {@const tilt = end(r.value, r.unit)}
    {@const band = end(r.band, r.unit)}
    {@const old = before.get(r.id)}
    {@const [what, who] = verdict(r)}
    {@const real = change.get(r.id) ? change.get(r.id)?.verdict === 'beyond noise' : r.real}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <g onclick={() => choose?.(r.id)} class={choose ? 'cursor-pointer' : ''}>
      <rect
        x="0"
        y={y - row / 2}
        width="338"
        height={row}
        fill={chosen === r.id ? 'var(--color-band)' : 'transparent'}
        opacity=".45"
      />
      <text x="0" y={y - 2} class="text-small font-bold" fill="var(--color-ink)">{r.name}</text>
      <text x="0" y={y + 14} class="text-note" fill="var(--color-soft)"
        >{old ? `${signed(old.value)} → ` : ''}{signed(r.value)} {r.unit}</text
      >
      <path
        d="M{mid - half} {y - band}L{mid} {y}L{mid - half} {y + band}ZM{mid + half} {y -
          band}L{mid} {y}L{mid + half} {y + band}Z"
        fill="var(--color-band)"
      />
      <path
        d="M{mid - half} {y}H{mid + half}"
        stroke="var(--color-soft)"
        stroke-dasharray="3 4"
        stroke-width=".8"
      />
      {#if old}
        {@const was = end(old.value, r.unit)}
        <path
          d="M{mid - half} {y + was}L{mid + half} {y - was}"
          stroke="var(--color-ink)"
          stroke-width="7"
          stroke-linecap="round"
        />
        <path
          d="M{mid - half} {y + was}L{mid + half} {y - was}"
          stroke="var(--color-sheet)"
          stroke-width="4.5"
          stroke-linecap="round"
        />
      {/if}
      <path
        d="M{mid} {y}L{mid - half} {y + tilt}"
        stroke="var(--color-side-right)"
        stroke-width="3.6"
        stroke-linecap="round"
      />
      <path
        d="M{mid} {y}L{mid + half} {y - tilt}"
        stroke="var(--color-side-left)"
        stroke-width="3.6"
        stroke-linecap="round"
        stroke-dasharray="8 5"
      />
      <circle cx={mid} cy={y} r="3.2" fill="var(--color-ink)" />
      <text
        x="240"
        y={y - 2}
        class="text-note font-bold"
        fill={real ? 'var(--color-fine)' : 'var(--color-ink)'}>{what}</text
      >
      <text x="240" y={y + 14} class="text-note" fill="var(--color-soft)">{who}</text>
    </g>
  {/each}
</svg>
