<script lang="ts">
  import type { Schemas } from '../api/client'
  import { signed } from '../format'

  /** Left minus right on a vertical midline: a rung tilts by the difference and leaves its band only when it is real. */
  let {
    readings,
    baseline = []
  }: { readings: Schemas['ReadingView'][]; baseline?: Schemas['ReadingView'][] } = $props()

  const row = 92
  const mid = 206
  const half = 92
  /** Vertical pixels per millimetre of difference at each end. */
  const rise = 14
  const end = (mm: number) => Math.max(-34, Math.min(34, mm * rise))
  const before = $derived(new Map(baseline.map((r) => [r.id, r])))
</script>

<svg
  viewBox="0 0 310 {readings.length * row + 26}"
  class="w-full max-w-[380px]"
  role="img"
  aria-label={readings
    .map(
      (r) =>
        `${r.name}: left minus right ${signed(r.difference)} ${r.unit}, noise ${r.band.toFixed(1)}, ${r.judgement}`
    )
    .join('; ')}
>
  <text x={mid - half} y="12" text-anchor="middle" class="fill-side-right text-[12px] font-bold">right</text>
  <text x={mid + half} y="12" text-anchor="middle" class="fill-side-left text-[12px] font-bold">left</text>
  <path d="M{mid} 4V{readings.length * row + 20}" stroke="var(--color-ink)" stroke-width="1.5" />
  {#each readings as r, i (r.id)}
    {@const y = 26 + i * row + row / 2}
    {@const tilt = end(r.difference)}
    {@const band = end(r.band)}
    {@const old = before.get(r.id)}
    <text x="0" y={y + 4} class="text-[13px] font-bold" fill="var(--color-ink)">{r.name}</text>
    <path
      d="M{mid - half} {y - band}L{mid} {y}L{mid - half} {y + band}ZM{mid + half} {y - band}L{mid} {y}L{mid +
        half} {y + band}Z"
      fill="var(--color-band)"
    />
    <path
      d="M{mid - half} {y}H{mid + half}"
      stroke="var(--color-soft)"
      stroke-dasharray="3 4"
      stroke-width=".8"
    />
    {#if old}
      {@const was = end(old.difference)}
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
      stroke-width="4"
      stroke-linecap="round"
    />
    <path
      d="M{mid} {y}L{mid + half} {y - tilt}"
      stroke="var(--color-side-left)"
      stroke-width="4"
      stroke-linecap="round"
      stroke-dasharray="9 5"
    />
    <circle cx={mid} cy={y} r="3.5" fill="var(--color-ink)" />
  {/each}
</svg>
