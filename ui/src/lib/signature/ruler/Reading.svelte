<script lang="ts">
  import { signed } from '../../format'
  import { LEFT, RIGHT } from './axis'
  import type { Stand } from './sittings'

  /** The first headline reading of each sitting with the noise band of one reading; a filled dot lies beyond it. */
  let { at }: { at: Stand[] } = $props()
  const points = $derived(at.flatMap((s) => s.sitting.readings.slice(0, 1).map((r) => ({ ...r, ...s }))))
  const widest = $derived(Math.max(1.5, ...points.map((r) => Math.abs(r.value) + r.band)))
  const level = (value: number) => 300 - (value / widest) * 24
</script>

{#if points.length}
  <path d="M{LEFT} 300H{RIGHT}" stroke="var(--color-soft)" stroke-dasharray="3 4" />
  {#if points.length > 1}<polyline
      points={points.map((r) => `${r.x + 6},${level(r.value)}`).join(' ')}
      fill="none"
      stroke="var(--color-ink)"
      stroke-width=".9"
    />{/if}
  {#each points as r (r.sitting.id)}
    {@const x = r.x + 6}
    <rect
      x={x - 6}
      y={level(r.value + r.band)}
      width="12"
      height={level(r.value - r.band) - level(r.value + r.band)}
      fill="var(--color-band)"
      opacity=".8"
    />
    <circle
      cx={x}
      cy={level(r.value)}
      r="4"
      fill={r.real ? 'var(--color-ink)' : 'var(--color-sheet)'}
      stroke="var(--color-ink)"
      stroke-width="1.5"
    />
    {#if r.words}<text
        x={x + 11}
        y={level(r.value) + 4}
        class="text-note font-bold [paint-order:stroke]"
        stroke="var(--color-sheet)"
        stroke-width="4"
        fill="var(--color-ink)">{signed(r.value)} ±{r.band.toFixed(1)}</text
      >{/if}
  {/each}
{:else}
  <text x={LEFT + 8} y="304" class="text-note" fill="var(--color-soft)"
    >no measured photograph in these weeks</text
  >
{/if}
