<script lang="ts">
  import type { Bench, Photo, Where } from './bench.svelte'
  import { back, forward, matrix, scale, side, STAGE, type Place, turned } from './geometry'

  /** One photograph, level on the stage, with its points. The client's right is at the viewer's left. */
  let {
    bench,
    photo,
    where,
    who,
    show = 'points'
  }: { bench: Bench; photo: Photo; where: Where; who: string; show?: 'points' | 'bare' } = $props()

  const m = $derived(bench.place(photo))
  const points = $derived(bench.points(photo))
  const profile = $derived(photo.view.startsWith('profile'))
  const active = $derived(bench.focus === where && bench.point !== null && bench.names.has(bench.point))
  const SHOWN = ['bp', 'ps', 'pi', 'al', 'ch', 'go']
  const listed = $derived(
    [...bench.names.keys()].filter(
      (n) => points[n] && (profile || active || SHOWN.includes(n.split('_')[0] ?? ''))
    )
  )
  const unset = $derived(profile ? bench.inOrder(photo).filter((n) => !points[n]) : [])
  /** Where an earlier picture of this side would have the missing points; never while they are set again. */
  const hints = $derived(
    profile && bench.again !== photo.id
      ? unset.flatMap((n) =>
          photo.suggested_points[n] ? [{ n, at: photo.suggested_points[n] as Place }] : []
        )
      : []
  )
  const at = (name: string): Place => forward(m, points[name] ?? [0, 0])
  const chosen = $derived(active && bench.point && points[bench.point] ? bench.point : null)
  const eye = $derived(
    points.en_right && points.en_left
      ? forward(m, [
          (points.en_right[0] + points.en_left[0]) / 2,
          (points.en_right[1] + points.en_left[1]) / 2
        ])
      : null
  )
  const levels = $derived(
    (['bp', 'al', 'ch', 'go'] as const).flatMap((n) => {
      const r = points[`${n}_right`]
      const l = points[`${n}_left`]
      return r && l && !profile ? [(forward(m, r)[1] + forward(m, l)[1]) / 2] : []
    })
  )
  const href = $derived(`/api/photographs/${photo.id}.jpg`)
  let svg = $state<SVGSVGElement>()
  let dragging = false
  /** A point being set for the first time: under the magnifier until it is let go, then comes the next. */
  let placing = false
  let moving = $state(false)

  function stage(e: PointerEvent): Place {
    const box = svg?.getBoundingClientRect()
    if (!box) return [0, 0]
    return [((e.clientX - box.left) / box.width) * STAGE.w, ((e.clientY - box.top) / box.height) * STAGE.h]
  }
  function press(e: PointerEvent) {
    bench.focus = where
    const p = stage(e)
    if (profile && bench.point && !points[bench.point]) {
      bench.move(photo, bench.point, back(m, p))
      placing = dragging = moving = true
      svg?.setPointerCapture(e.pointerId)
      return
    }
    const near = listed
      .map((n) => ({ n, d: Math.hypot(at(n)[0] - p[0], at(n)[1] - p[1]) }))
      .sort((a, b) => a.d - b.d)[0]
    if (!near || near.d > 12) return
    bench.point = near.n
    dragging = true
    svg?.setPointerCapture(e.pointerId)
  }
  function drag(e: PointerEvent) {
    if (!dragging || !bench.point) return
    moving = true
    bench.move(photo, bench.point, back(m, stage(e)))
  }
  function release() {
    if (placing) bench.point = unset.find((n) => n !== bench.point) ?? bench.point
    placing = dragging = moving = false
  }

  function keys(e: KeyboardEvent) {
    bench.focus = where
    const order = profile ? bench.inOrder(photo) : [...bench.names.keys()]
    const step = e.shiftKey ? 0.1 : 1
    const nudge: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step]
    }
    if (e.key === 'n' || e.key === 'p') {
      const i = bench.point ? order.indexOf(bench.point) : -1
      bench.point = order[(i + (e.key === 'n' ? 1 : order.length - 1) + order.length) % order.length] ?? null
    } else if (nudge[e.key] && bench.point) {
      const [dx, dy] = nudge[e.key] as [number, number]
      if (points[bench.point]) bench.nudge(photo, bench.point, dx, dy)
      else bench.move(photo, bench.point, back(m, [STAGE.w / 2, STAGE.h / 2]))
    } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z') bench.undo()
    else if (e.key === 'Backspace' && bench.point) bench.move(photo, bench.point, null)
    else if (e.key === 'h' && bench.point && points[bench.point])
      bench.move(photo, bench.point, points[bench.point] as Place)
    else if (e.key === 'h' && hints.some((h) => h.n === bench.point))
      bench.move(photo, bench.point as string, hints.find((h) => h.n === bench.point)?.at ?? null)
    else if (e.key === 'c' && bench.point && bench.again !== photo.id) bench.copy(photo, bench.point)
    else if (e.key === 'Escape') bench.point = null
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  const glass = $derived.by(() => {
    if (!chosen) return null
    const [x, y] = at(chosen)
    const left = x > STAGE.w / 2
    return { x, y, cx: left ? 54 : STAGE.w - 54, cy: STAGE.h - 60, zoom: 4.2 / Math.max(scale(m) * 2, 0.6) }
  })
</script>

<div class="relative">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    bind:this={svg}
    viewBox="0 0 {STAGE.w} {STAGE.h}"
    class="block w-full touch-none bg-band select-none"
    role="application"
    tabindex="0"
    aria-label="{who}, {photo.view_name}. The client's right is at your left. N and P choose a point, arrows move it, Shift for a tenth of a pixel."
    onpointerdown={press}
    onpointermove={drag}
    onpointerup={release}
    onpointercancel={release}
    onkeydown={keys}
  >
    <defs>
      <clipPath id="stage-{where}"><rect width={STAGE.w} height={STAGE.h} /></clipPath>
      {#if glass}<clipPath id="glass-{where}"><circle cx={glass.cx} cy={glass.cy} r="50" /></clipPath>{/if}
    </defs>
    <g clip-path="url(#stage-{where})">
      <g transform={matrix(m)}
        ><image {href} width={photo.width} height={photo.height} transform={turned(photo)} /></g
      >
      {#if show === 'points'}
        {#if eye && !profile}
          <g stroke="var(--color-white)" opacity=".75">
            <path d="M0 {eye[1]}H{STAGE.w}M{eye[0]} 0V{STAGE.h}" stroke-width="1" />
            {#each levels as y, i (i)}<path
                d="M0 {y}H{STAGE.w}"
                stroke-dasharray="4 5"
                stroke-width=".8"
              />{/each}
          </g>
        {/if}
        {#if profile}
          {#each photo.profile as r (r.id)}{#each r.lines as line (line.join())}{@const a =
                line[0] ?? ''}{@const b = line[1] ?? ''}{#if points[a] && points[b]}
                {@const p = at(a)}{@const q = at(b)}
                <path
                  d="M{p[0]} {p[1]}L{q[0]} {q[1]}"
                  stroke="var(--color-white)"
                  stroke-width="3"
                  opacity=".8"
                /><path d="M{p[0]} {p[1]}L{q[0]} {q[1]}" stroke="var(--color-action)" stroke-width="1.6" />
              {/if}{/each}{#if r.id === 'craniovertebral_angle' && points.c7}
              {@const c = at('c7')}
              <path d="M{c[0] - 90} {c[1]}H{c[0] + 90}" stroke="var(--color-action)" stroke-dasharray="4 4" />
            {/if}{/each}
        {/if}
        {#each hints as h (h.n)}
          {@const [x, y] = forward(m, h.at)}
          {@const r = h.n === bench.point ? 9 : 6}
          <circle cx={x} cy={y} {r} fill="none" stroke="var(--color-white)" stroke-width="3" />
          <circle
            cx={x}
            cy={y}
            {r}
            fill="none"
            stroke="var(--color-ink)"
            stroke-width="1.4"
            stroke-dasharray="3 2"
            ><title>{bench.names.get(h.n)}, as the earlier picture would have it: press H to take it</title
            ></circle
          >
        {/each}
        {#each listed as name (name)}
          {@const [x, y] = at(name)}
          {@const own = side(name)}
          {@const big = name === chosen}
          {@const r = big ? 7 : 4.5}
          <g
            stroke={own === 'right'
              ? 'var(--color-side-right)'
              : own === 'left'
                ? 'var(--color-side-left)'
                : 'var(--color-ink)'}
          >
            <path d="M{x - r} {y}h{2 * r}M{x} {y - r}v{2 * r}" stroke="var(--color-white)" stroke-width="3" />
            <path d="M{x - r} {y}h{2 * r}M{x} {y - r}v{2 * r}" stroke-width="1.5" />
            {#if bench.byHand(photo, name)}<rect
                x={x - r - 2.5}
                y={y - r - 2.5}
                width={2 * r + 5}
                height={2 * r + 5}
                fill="none"
                stroke-width="1"><title>{bench.names.get(name)}, set by hand</title></rect
              >{/if}
          </g>
        {/each}
        {#if glass && chosen}
          <path
            d="M{glass.x} {glass.y}L{glass.cx} {glass.cy}"
            stroke="var(--color-white)"
            stroke-width="1.5"
          />
          <circle
            cx={glass.x}
            cy={glass.y}
            r="13"
            fill="none"
            stroke="var(--color-white)"
            stroke-width="1.5"
          />
          <circle cx={glass.cx} cy={glass.cy} r="51.5" fill="var(--color-night)" />
          <g clip-path="url(#glass-{where})">
            <g
              transform="translate({glass.cx} {glass.cy}) scale({glass.zoom}) translate({-glass.x} {-glass.y}) {matrix(
                m
              )}"
            >
              <image {href} width={photo.width} height={photo.height} transform={turned(photo)} />
            </g>
          </g>
          <circle
            cx={glass.cx}
            cy={glass.cy}
            r="50.5"
            fill="none"
            stroke="var(--color-white)"
            stroke-width="2"
          />
          <path
            d="M{glass.cx - 11} {glass.cy}h8m6 0h8M{glass.cx} {glass.cy - 11}v8m0 6v8"
            stroke="var(--color-white)"
            stroke-width="3"
          />
          <path
            d="M{glass.cx - 11} {glass.cy}h8m6 0h8M{glass.cx} {glass.cy - 11}v8m0 6v8"
            stroke={side(chosen) === 'left' ? 'var(--color-side-left)' : 'var(--color-side-right)'}
            stroke-width="1.4"
          />
        {/if}
      {/if}
    </g>
    {#if !profile && !photo.view.startsWith('three')}
      <rect x="6" y="6" width="82" height="20" fill="var(--color-night)" />
      <text x="12" y="20" class="text-note" fill="var(--color-night-right)">client’s right</text>
      <rect x={STAGE.w - 84} y="6" width="78" height="20" fill="var(--color-night)" />
      <text x={STAGE.w - 12} y="20" text-anchor="end" class="text-note" fill="var(--color-night-left)"
        >client’s left</text
      >
    {:else}
      {@const left = photo.view.endsWith('left')}
      <rect x="6" y="6" width="146" height="20" fill="var(--color-night)" />
      <text
        x="12"
        y="20"
        class="text-note"
        fill={left ? 'var(--color-night-left)' : 'var(--color-night-right)'}
        >the client’s {left ? 'left' : 'right'} side</text
      >
    {/if}
  </svg>
  {#if active && bench.point}
    <p
      class="pointer-events-none absolute bottom-1 w-[62%] bg-night px-2 py-1 text-note leading-[16px] text-night-text {glass &&
      glass.cx > STAGE.w / 2
        ? 'left-1'
        : 'right-1'}"
      role="status"
    >
      {#if points[bench.point]}{bench.lastMove && !moving && chosen
          ? bench.lastMove
          : bench.names.get(bench.point)}{:else}<b>{bench.names.get(bench.point)}</b>: press where it is{hints.some(
          (h) => h.n === bench.point
        )
          ? ', or H to take the dashed circle'
          : ''}{/if}
      <span class="block text-night-soft"
        >Arrows 1 px, Shift 0.1 · N, P next · C from the other · H hand-set · ⌫ automatic · Ctrl Z</span
      >
    </p>
  {/if}
</div>
