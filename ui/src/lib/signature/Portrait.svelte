<script lang="ts">
  import type { Schemas } from '../api/client'

  /** A photograph brought level, with the points that are measured. The client's right is at the viewer's left. */
  let { photo, who }: { photo: Schemas['PhotographView']; who: string } = $props()

  const p = $derived(photo.points)
  const named = ['ps', 'pi', 'ch', 'en', 'ex']
  const frame = $derived.by(() => {
    if (!p) return null
    const mid = (a: [number, number], b: [number, number]): [number, number] => [
      (a[0] + b[0]) / 2,
      (a[1] + b[1]) / 2
    ]
    const at = (name: string) => p[name] as number[] as [number, number]
    const right = mid(at('en_right'), at('ex_right'))
    const left = mid(at('en_left'), at('ex_left'))
    const apart = Math.hypot(left[0] - right[0], left[1] - right[1])
    return {
      centre: mid(right, left),
      apart,
      roll: (Math.atan2(left[1] - right[1], left[0] - right[0]) * 180) / Math.PI
    }
  })
  const view = $derived(
    frame
      ? {
          x: frame.centre[0] - frame.apart * 1.45,
          y: frame.centre[1] - frame.apart * 1.5,
          w: frame.apart * 2.9,
          h: frame.apart * 3.6
        }
      : { x: 0, y: 0, w: photo.width, h: photo.height }
  )
  const size = $derived(view.w / 60)
  const eye = $derived(frame?.centre[1] ?? 0)
  const corner = $derived(p ? ((p.ch_right?.[1] ?? 0) + (p.ch_left?.[1] ?? 0)) / 2 : 0)
</script>

<svg
  viewBox="{view.x} {view.y} {view.w} {view.h}"
  class="block w-full bg-band"
  role="img"
  aria-label="{who}, {photo.source_name}, with measured points; the client's right is at your left"
>
  <g transform={frame ? `rotate(${-frame.roll} ${frame.centre[0]} ${frame.centre[1]})` : undefined}>
    <image href="/api/photographs/{photo.id}.jpg" x="0" y="0" width={photo.width} height={photo.height} />
    {#if p}
      {#each Object.entries(p).filter( ([name]) => named.some( (n) => name.startsWith(`${n}_`) ) ) as [name, [x = 0, y = 0]] (name)}
        {@const right = name.endsWith('right')}
        <path
          d="M{x - size} {y}H{x + size}M{x} {y - size}V{y + size}"
          stroke="#fff"
          stroke-width={size * 0.55}
        />
        <path
          d="M{x - size} {y}H{x + size}M{x} {y - size}V{y + size}"
          stroke={right ? 'var(--color-side-right)' : 'var(--color-side-left)'}
          stroke-width={size * 0.26}
        />
      {/each}
    {/if}
  </g>
  {#if frame}
    <g stroke="#fff" stroke-width={view.w / 420} opacity=".8">
      <path d="M{view.x} {eye}h{view.w}M{frame.centre[0]} {view.y}v{view.h}" />
      <path d="M{view.x} {corner}h{view.w}" stroke-dasharray="{size / 1.6} {size / 1.6}" />
    </g>
  {/if}
  {#each [{ text: 'client’s right', x: view.x + view.w * 0.03, fill: 'var(--color-night-right)' }, { text: 'client’s left', x: view.x + view.w * 0.71, fill: 'var(--color-night-left)' }] as label (label.text)}
    <rect
      x={label.x}
      y={view.y + view.h * 0.02}
      width={view.w * 0.26}
      height={view.w * 0.07}
      fill="var(--color-night)"
    />
    <text
      x={label.x + view.w * 0.02}
      y={view.y + view.h * 0.02 + view.w * 0.05}
      font-size={view.w * 0.042}
      fill={label.fill}>{label.text}</text
    >
  {/each}
</svg>
