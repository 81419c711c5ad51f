<script lang="ts">
  import type { Schemas } from '../api/client'

  /** A sheet in miniature: weeks across, exercises down under their stages, darker where more is done; minutes on top. */
  let { small, width = 300 }: { small: Schemas['MiniatureView']; width?: number } = $props()
  const LEFT = 62
  const TOP = 26
  const column = $derived((width - LEFT) / Math.max(small.minutes.length, 1))
  const tall = $derived(Math.min(7, 84 / Math.max(small.rows.length, 1)))
  const most = $derived(Math.max(...small.minutes, 1))
  /** The first row of each stage, where its name stands. */
  const stages = $derived(
    small.rows.flatMap((r, i) =>
      r.stage !== small.rows[i - 1]?.stage
        ? [{ name: r.stage, from: i, to: small.rows.findLastIndex((x) => x.stage === r.stage) }]
        : []
    )
  )
  const height = $derived(TOP + small.rows.length * tall + 2)
  /** Families by shade and edge: what contracts is full, what is done by hand is hollow. */
  const works = (family: string) => ['contract', 'resist', 'align'].includes(family)
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  class="block"
  role="img"
  aria-label="{small.minutes.length} weeks, {small.rows.length} exercises; sessions from {Math.round(
    Math.min(...small.minutes)
  )} to {Math.round(most)} minutes"
>
  <text x="0" y="10" class="text-note" fill="var(--color-soft)">minutes</text>
  {#each small.minutes as m, i (i)}
    {@const h = (m / most) * 16}
    <rect
      x={LEFT + i * column + 1}
      y={18 - h}
      width={Math.max(column - 2, 1)}
      height={h}
      fill="var(--color-band)"
      stroke="var(--color-edge)"
      stroke-width=".6"><title>week {i + 1}: {Math.round(m)} min</title></rect
    >
  {/each}
  <path d="M{LEFT} 18.500H{width}" stroke="var(--color-ink)" stroke-width=".8" />
  {#each stages as s (s.from)}
    {@const y = TOP + s.from * tall}
    <path d="M{LEFT - 4} {y - 1}H{width}" stroke="var(--color-rule)" stroke-width=".7" />
    {#if (s.to - s.from + 1) * tall >= 9}<text x="0" y={y + 8} class="text-note" fill="var(--color-soft)"
        >{s.name.length > 10 ? `${s.name.slice(0, 9)}…` : s.name}</text
      >{/if}
  {/each}
  {#each small.rows as row, n (n)}
    {#each row.shares as share, i (i)}
      {#if share > 0}<rect
          x={LEFT + i * column + 1}
          y={TOP + n * tall + 0.8}
          width={Math.max(column - 2, 1)}
          height={tall - 1.6}
          fill={works(row.family) ? 'var(--color-action)' : 'var(--color-soft)'}
          fill-opacity={(works(row.family) ? 0.25 : 0.12) + share * (works(row.family) ? 0.7 : 0.4)}
          ><title>{row.name}</title></rect
        >{/if}
    {/each}
  {/each}
</svg>
