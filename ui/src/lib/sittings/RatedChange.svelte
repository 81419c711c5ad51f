<script lang="ts">
  import type { Schemas } from '../api/client'
  import { signed } from '../format'

  /** A change of rated severity with its 95 % interval: left of the line less marked, right of it more. */
  let { change }: { change: Schemas['RatedChangeView'] } = $props()
  const [W, H] = [440, 44]
  const most = $derived(Math.max(1, ...[change.low, change.high].map((v) => Math.ceil(Math.abs(v)))))
  const x = (v: number) => W / 2 + (v / most) * (W / 2 - 30)
  const ticks = $derived(Array.from({ length: 2 * most + 1 }, (_, i) => i - most))
</script>

<svg
  viewBox="0 0 {W} {H}"
  class="mt-1 block w-full max-w-column"
  role="img"
  aria-label="Change {signed(change.amount)}, with 95 % confidence between {signed(change.low)} and {signed(
    change.high
  )}"
>
  <path d="M{x(-most)} 14H{x(most)}" stroke="var(--color-rule)" />
  <path d="M{x(0)} 3V26" stroke="var(--color-ink)" />
  <path
    d="M{x(change.low)} 14H{x(change.high)}"
    stroke="var(--color-action)"
    stroke-width="5"
    opacity=".45"
  />
  <path d="M{x(change.low)} 8v12M{x(change.high)} 8v12" stroke="var(--color-action)" stroke-width="1.6" />
  <circle cx={x(change.amount)} cy="14" r="5.5" fill="var(--color-action)" />
  <g class="text-note" fill="var(--color-soft)" text-anchor="middle">
    {#each ticks as t (t)}<text x={x(t)} y="42">{t === 0 ? 'no change' : signed(t, 0)}</text>{/each}
    <text x={x(-most)} y="29" text-anchor="start">less marked</text>
    <text x={x(most)} y="29" text-anchor="end">more marked</text>
  </g>
</svg>
