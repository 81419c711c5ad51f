<script lang="ts">
  import type { Schemas } from '../api/client'

  /** How often the later photograph was picked, with its 95 % interval, against one half, which is chance. */
  let { preference: p }: { preference: Schemas['PreferenceView'] } = $props()
  const [W, H] = [440, 44]
  const x = (share: number) => 30 + share * (W - 60)
</script>

<svg
  viewBox="0 0 {W} {H}"
  class="mt-1 block w-full max-w-column"
  role="img"
  aria-label="The later one {p.later} of {p.of} times; with 95 % confidence between {Math.round(
    100 * p.low
  )} and {Math.round(100 * p.high)} percent"
>
  <path d="M{x(0)} 14H{x(1)}" stroke="var(--color-rule)" />
  <path d="M{x(0.5)} 3V26" stroke="var(--color-ink)" />
  <path d="M{x(p.low)} 14H{x(p.high)}" stroke="var(--color-action)" stroke-width="5" opacity=".45" />
  <path d="M{x(p.low)} 8v12M{x(p.high)} 8v12" stroke="var(--color-action)" stroke-width="1.6" />
  <circle cx={x(p.later / Math.max(p.of, 1))} cy="14" r="5.5" fill="var(--color-action)" />
  <g class="text-note" fill="var(--color-soft)" text-anchor="middle">
    <text x={x(0)} y="40" text-anchor="start">always the earlier</text>
    <text x={x(0.5)} y="40">chance</text>
    <text x={x(1)} y="40" text-anchor="end">always the later</text>
  </g>
</svg>
