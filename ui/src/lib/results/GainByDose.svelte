<script lang="ts">
  import type { Schemas } from '$lib/api/client'

  /** Gain of the side that was smaller against its extra minutes: a dot with its band for each client, squares for those who trained both
   * alike, the strip within which one change is noise, and a line only when it may be drawn. */
  let { reading, strip }: { reading: Schemas['OutcomeReading']; strip: number } = $props()

  const [W, H, L, B] = [420, 190, 34, 26]
  const cases = $derived(reading.cases)
  const most = $derived(Math.max(50, ...cases.map((c) => c.minutes)))
  const tall = $derived(Math.max(1, strip * 1.2, ...cases.map((c) => Math.abs(c.gain) + c.band)))
  const x = (minutes: number) => L + 12 + (minutes / most) * (W - L - 28)
  const y = (gain: number) => 8 + ((tall - gain) / (2 * tall)) * (H - B - 8)
  const step = $derived(most > 200 ? 100 : most > 80 ? 50 : 25)
  const ticks = $derived(Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step))
</script>

<svg
  viewBox="0 0 {W} {H}"
  class="block w-full"
  role="img"
  aria-label="{reading.name}: gain in millimetres against extra minutes, {cases.length} clients"
>
  <rect x={L} y={y(strip)} width={W - L} height={y(-strip) - y(strip)} fill="var(--color-band)" />
  <path d="M{L} {y(0)}H{W}" stroke="var(--color-ink)" />
  {#each [-1, -0.5, 0.5, 1].filter((v) => Math.abs(v) < tall) as v (v)}
    <text x={L - 4} y={y(v) + 4} text-anchor="end" class="text-note" fill="var(--color-soft)"
      >{v < 0 ? '−' : '+'}{Math.abs(v)}</text
    >
  {/each}
  <text x={L - 4} y={y(0) + 4} text-anchor="end" class="text-note" fill="var(--color-soft)">0</text>
  {#each ticks as t (t)}
    <text x={x(t)} y={H - 12} text-anchor="middle" class="text-note" fill="var(--color-soft)">{t}</text>
  {/each}
  <text x={W} y={H - 1} text-anchor="end" class="text-note" fill="var(--color-soft)"
    >extra minutes of that side</text
  >
  <text x={L + 4} y="14" class="text-note" fill="var(--color-soft)">gain, mm</text>
  {#if reading.line}
    <path
      d="M{x(0)} {y(reading.line.at_zero)}L{x(reading.line.most * 100)} {y(
        reading.line.at_zero + reading.line.slope * reading.line.most
      )}"
      stroke="var(--color-action)"
      stroke-width="2.5"
    />
  {/if}
  {#each cases as c, i (i)}
    <path
      d="M{x(c.minutes)} {y(c.gain - c.band)}V{y(c.gain + c.band)}"
      stroke="var(--color-ink)"
      opacity=".35"
    />
    {#if c.kind === 'both sides alike'}
      <rect
        x={x(0) - 4}
        y={y(c.gain) - 4}
        width="8"
        height="8"
        fill="var(--color-sheet)"
        stroke="var(--color-ink)"
        stroke-width="1.5"
      />
    {:else}<circle cx={x(c.minutes)} cy={y(c.gain)} r="4" fill="var(--color-ink)" />{/if}
  {/each}
</svg>
