<script lang="ts">
  import type { Schemas } from '$lib/api/client'

  /** A mean gain with its 95 % interval, the interval of those trained alike beside it, and a tick at the least gain that would show. */
  let { gain, alike }: { gain: Schemas['MeanView'] | null; alike: Schemas['MeanView'] | null } = $props()
  const [W, H] = [420, 52]
  const x = (mm: number) => W / 2 + (Math.max(-1.5, Math.min(1.5, mm)) / 1.5) * (W / 2 - 10)
</script>

{#snippet bar(m: Schemas['MeanView'], at: number, hollow: boolean)}
  <path d="M{x(m.low)} {at}H{x(m.high)}" stroke="var(--color-ink)" stroke-width={hollow ? 1.5 : 3} />
  {#if hollow}<rect
      x={x(m.mean) - 4}
      y={at - 4}
      width="8"
      height="8"
      fill="var(--color-sheet)"
      stroke="var(--color-ink)"
      stroke-width="1.5"
    />{:else}<circle cx={x(m.mean)} cy={at} r="5" fill="var(--color-ink)" />{/if}
{/snippet}

{#if gain}
  <svg
    viewBox="0 0 {W} {H}"
    class="block w-full"
    role="img"
    aria-label="Mean gain {gain.mean.toFixed(2)} mm, {gain.low.toFixed(2)} to {gain.high.toFixed(
      2
    )}, of {gain.clients} clients; the least that would show is {gain.least.toFixed(2)}"
  >
    <path d="M{x(0)} 2V{H - 14}" stroke="var(--color-rule)" />
    <path d="M{x(gain.least)} 6V26M{x(-gain.least)} 6V26" stroke="var(--color-action)" stroke-width="2" />
    {@render bar(gain, 14, false)}
    {#if alike}{@render bar(alike, 30, true)}{/if}
    {#each [-1, 0, 1] as v (v)}<text
        x={x(v)}
        y={H - 2}
        text-anchor="middle"
        class="text-note"
        fill="var(--color-soft)">{v < 0 ? '−1' : v === 0 ? '0' : '+1'} mm</text
      >{/each}
  </svg>
{/if}
