<script lang="ts" module>
  import type { Train } from '$lib/signature/train'
  import { curve, pulses, shapeOf, trapezoid, type Lane } from '$lib/signature/train'

  type Drawn = { lane: Lane; fill: string; line: string; dash: string }
  const known = new WeakMap<Train, Map<string, Drawn[]>>()

  /** A train as one path per side, remembered: a sheet has hundreds of cells and few trains. */
  function drawn(train: Train, width: number, height: number, seconds: number): Drawn[] {
    const key = `${width} ${height} ${seconds}`
    let kept = known.get(train)
    if (!kept) known.set(train, (kept = new Map()))
    const have = kept.get(key)
    if (have) return have
    const list = pulses(train)
    const scale = width / Math.max(seconds || train.total_s, 1)
    const middle = height / 2
    const shape = shapeOf(train.phases.find((p) => p.kind !== 'pause')?.kind ?? 'reps')
    const sided = list.some((p) => p.lane !== 'both')
    const half = sided ? middle - 0.5 : middle * 1.8
    const dense = shape !== 'tap' && list.length > 1 && scale * train.total_s < list.length * 1.7
    const out = new Map<Lane, Drawn>()
    for (const p of list) {
      const at = out.get(p.lane) ?? { lane: p.lane, fill: '', line: '', dash: '' }
      out.set(p.lane, at)
      const [x, end] = [p.start * scale, (p.start + p.lead + p.hold + p.release) * scale]
      if (dense) {
        const top = p.lane === 'left' ? middle : p.lane === 'right' ? middle - half : middle - half / 2
        at.fill += `M${x.toFixed(1)} ${top.toFixed(1)}H${end.toFixed(1)}v${half.toFixed(1)}H${x.toFixed(1)}z`
      } else if (shape === 'work') at.fill += trapezoid(p, scale, middle, half)
      else if (shape === 'tap') at.dash += `M${x.toFixed(1)} ${middle}H${end.toFixed(1)}`
      else at.line += curve(p, scale, middle, sided ? half : half / 1.8)
    }
    const result = [...out.values()]
    kept.set(key, result)
    return result
  }
</script>

<script lang="ts">
  /** The pulse train of a cell of the sheet, in as few elements as can be. */
  let {
    train,
    width,
    height = 12,
    seconds = 0,
    faded = false
  }: { train: Train; width: number; height?: number; seconds?: number; faded?: boolean } = $props()
  const ink: Record<Lane, string> = {
    right: 'var(--color-side-right)',
    left: 'var(--color-side-left)',
    both: 'var(--color-ink)'
  }
  const parts = $derived(drawn(train, width, height, seconds))
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  class="block"
  aria-hidden="true"
  opacity={faded ? 0.45 : 1}
>
  {#each parts as p (p.lane)}
    {#if p.fill}<path d={p.fill} fill={ink[p.lane]} fill-opacity={0.9} />{/if}
    {#if p.line}<path d={p.line} fill="none" stroke={ink[p.lane]} stroke-width="1.1" />{/if}
    {#if p.dash}<path d={p.dash} stroke={ink[p.lane]} stroke-width="3" stroke-dasharray="1.5 3" />{/if}
  {/each}
</svg>
