<script lang="ts">
  import { curve, pulses, shapeOf, trapezoid, type Train } from './train'

  let {
    train,
    width = 150,
    height = 18,
    seconds = 0,
    cursor = null,
    night = false,
    faded = false,
    label = ''
  }: {
    train: Train
    width?: number
    height?: number
    /** Seconds that the width stands for; 0 fits the train. */
    seconds?: number
    /** Seconds already done; a cursor stands there and what lies ahead is paler. */
    cursor?: number | null
    night?: boolean
    faded?: boolean
    label?: string
  } = $props()

  const id = $props.id()
  const list = $derived(pulses(train))
  const scale = $derived(width / Math.max(seconds || train.total_s, 1))
  const middle = $derived(height / 2)
  const shape = $derived(shapeOf(train.phases.find((p) => p.kind !== 'pause')?.kind ?? 'reps'))
  const dense = $derived(
    shape !== 'tap' &&
      list.length > 1 &&
      (width / list.length < 1.7 || scale * train.total_s < list.length * 1.7)
  )
  const sided = $derived(list.some((p) => p.lane !== 'both'))
  const ink = $derived({
    right: night ? 'var(--color-night-right)' : 'var(--color-side-right)',
    left: night ? 'var(--color-night-left)' : 'var(--color-side-left)',
    both: night ? 'var(--color-night-text)' : 'var(--color-ink)'
  })
  const half = $derived(sided ? middle - 1 : middle * 1.8)

  /** One envelope per run, when single repetitions would be thinner than a hair. */
  const runs = $derived.by(() => {
    const out: { start: number; end: number; lane: keyof typeof ink }[] = []
    for (const p of list) {
      const last = out.at(-1)
      const end = p.start + p.lead + p.hold + p.release
      if (last && last.lane === p.lane && p.start - last.end < 0.01) last.end = end
      else out.push({ start: p.start, end, lane: p.lane })
    }
    return out
  })
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label={label || 'pulse train'}
  class="block overflow-visible"
>
  <defs>
    <pattern id="{id}-r" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
      <rect width="4" height="4" fill={ink.right} /><path
        d="M0 0V4"
        stroke="var(--color-white)"
        stroke-opacity=".35"
      />
    </pattern>
    <pattern id="{id}-l" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="4" height="4" fill={ink.left} /><path
        d="M0 0V4"
        stroke="var(--color-white)"
        stroke-opacity=".35"
      />
    </pattern>
  </defs>
  <g opacity={faded ? 0.5 : 1}>
    {#if sided}<path
        d="M0 {middle}H{Math.min(train.total_s * scale, width)}"
        stroke={ink.both}
        stroke-opacity=".35"
      />{/if}
    {#if dense}
      {#each runs as r (r.start)}
        <rect
          x={r.start * scale}
          width={Math.max((r.end - r.start) * scale - 1, 1)}
          y={r.lane === 'left' ? middle : middle - half / (sided ? 1 : 2)}
          height={half}
          fill={r.lane === 'both' ? ink.both : `url(#${id}-${r.lane[0]})`}
          fill-opacity={shape === 'work' ? 1 : 0.3}
        />
      {/each}
    {:else}
      {#each list as p (p.start)}
        {@const ahead = cursor !== null && p.start + p.lead + p.hold + p.release > cursor}
        {#if shape === 'work'}
          <path
            d={trapezoid(p, scale, middle, half)}
            fill={p.lane === 'both' ? ink.both : `url(#${id}-${p.lane[0]})`}
            stroke={ink[p.lane]}
            stroke-width=".5"
            opacity={ahead ? 0.45 : 1}
          />
        {:else if shape === 'tap'}
          <path
            d="M{p.start * scale} {middle}H{(p.start + p.hold + p.lead + p.release) * scale}"
            stroke={ink[p.lane]}
            stroke-width={Math.min(half / 2, 5)}
            stroke-dasharray="1.5 3"
            opacity={ahead ? 0.6 : 1}
          />
        {:else}
          <path
            d={curve(p, scale, middle, sided ? half : half / 1.8)}
            fill="none"
            stroke={ink[p.lane]}
            stroke-width="1.2"
            opacity={ahead ? 0.5 : 1}
          />
        {/if}
      {/each}
    {/if}
    {#if cursor !== null}
      <path d="M{cursor * scale} -3V{height + 3}" stroke={ink.both} stroke-width="2.5" />
      <path d="M{cursor * scale - 6} -8h12l-6 8z" fill={ink.both} />
    {/if}
  </g>
</svg>
