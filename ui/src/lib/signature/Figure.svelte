<script lang="ts">
  import { onMount, type Snippet } from 'svelte'
  import map from './face-map.json'
  import art from './face-figure.json'
  import SideFigure from './SideFigure.svelte'
  import { browAt, eyeAt, mouthAt, type Way } from './between'
  import { drawn, toward, type Fills, type Side } from './face-map'
  import {
    BREATH,
    CYCLE_S,
    curve,
    frame,
    handAt,
    handShape,
    pacedHand,
    pacedShare,
    places,
    pose,
    reach,
    swing,
    type Count,
    type FigureData,
    type Point
  } from './figure'

  /**
   * How an exercise is done, drawn from its card's data: hands, strokes, and what the face does, through the shapes in between. It
   * follows the count where there is one, else goes round by itself, and stands still under reduced motion, where two states are
   * drawn one over the other.
   */
  let {
    figure,
    side = 'right',
    mirror = false,
    night = false,
    fills = {},
    count = null,
    label,
    whole = false,
    over
  }: {
    figure: FigureData
    /** The client's own side that works, for an exercise of one side. */
    side?: Side
    /** As in a mirror, for the client. */
    mirror?: boolean
    night?: boolean
    /** Muscles at work, shown in their side's hatch. */
    fills?: Fills
    /** Where practice stands in the exercise. */
    count?: Count | null
    label: string
    /** All that its view can show, whatever the figure needs. */
    whole?: boolean
    /** What is drawn over it on the client's right side, which the left mirrors. */
    over?: Snippet
  } = $props()

  const id = $props.id()
  const behind = $derived(figure.view === 'behind')
  const aside = $derived(figure.view === 'side')
  const way = $derived(toward(behind ? 'behind' : mirror ? 'mirror' : 'facing'))
  const ink = $derived(night ? 'var(--color-night-text)' : 'var(--color-ink)')
  const paper = $derived(night ? 'var(--color-night)' : 'var(--color-sheet)')
  const inks = $derived({
    right: night ? 'var(--color-night-right)' : 'var(--color-side-right)',
    left: night ? 'var(--color-night-left)' : 'var(--color-side-left)'
  })
  const sides = ['right', 'left'] as const
  const works = (s: Side) => !figure.one_side || s === side
  /** The part of the drawing that the figure needs: hands whole, whichever way they come. */
  const box = $derived(frame(figure, whole))

  let phase = $state(0.45)
  let still = $state(true)
  onMount(() => {
    still = matchMedia('(prefers-reduced-motion: reduce)').matches
  })
  const led = $derived(count !== null)
  $effect(() => {
    if (still || led) return
    let frame = 0
    const step = (now: number) => {
      phase = ((now / 1000) % CYCLE_S) / CYCLE_S
      frame = requestAnimationFrame(step)
    }
    frame = requestAnimationFrame(step)
    return () => cancelAnimationFrame(frame)
  })
  const muscles = $derived(drawn(behind ? 'behind' : 'facing', false).filter(([name]) => fills[name]))
  const share = $derived(count ? pacedShare(count) : swing(phase))
  const posed = $derived(pose(figure.head, figure.head.length > 1 ? share : 1))
  const turn = $derived(figure.one_side && side === 'left' ? -1 : 1)

  /** What is drawn of a feature: one shape on its way, or under reduced motion the first state paler below the second. */
  function shown(states: string[], moving: boolean): [Way, number][] {
    const [a, b] = [states[0] ?? 'rest', states[1]]
    if (!b || !moving) return [[[a, a, 0], 1]]
    return still
      ? [
          [[a, a, 0], 0.28],
          [[b, b, 0], 1]
        ]
      : [[[a, b, share], 1]]
  }
  const iris = (states: string[], [x, y]: Point): Point =>
    states.includes('round') && !still
      ? [37.8 + 5 * Math.cos(phase * 2 * Math.PI), 153.4 + 3.2 * Math.sin(phase * 2 * Math.PI)]
      : [x, y]
  const touches = (s: Side) =>
    figure.hands
      .filter((h) => (h.other ? figure.one_side && s !== side : works(s)))
      .map((h) => {
        const path = places(figure.view, h.path).map(
          // Two hands that meet on the midline keep a finger's width apart.
          ([x, y]): Point => [x === 0 && !figure.one_side && ['index', 'thumb'].includes(h.tool) ? 6 : x, y]
        )
        return {
          hand: h,
          path,
          ...handAt(h, path, still ? 0.4 : count ? pacedHand(count, h.does) : phase),
          angle: reach(path[0]!, h.tool)
        }
      })
</script>

<svg
  viewBox={box.join(' ')}
  role="img"
  aria-label="{label}. {figure.words.join(' ')}"
  class="block h-full w-full"
>
  <defs>
    {#each ['right', 'left', 'both'] as const as s (s)}
      <marker
        id="{id}-{s}"
        viewBox="0 0 10 10"
        refX="6"
        refY="5"
        markerWidth="5.5"
        markerHeight="5.5"
        orient="auto"
      >
        <path d="M0 0L10 5L0 10L3 5Z" fill={s === 'both' ? ink : inks[s]} />
      </marker>
    {/each}
    {#each sides as s (s)}
      <pattern
        id="{id}-hatch-{s}"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="scale({way[s]} 1) rotate({s === 'right' ? -45 : 45})"
      >
        <rect width="5" height="5" fill={inks[s]} fill-opacity=".3" /><path
          d="M0 2.5H5"
          stroke={inks[s]}
          stroke-width="1.5"
        />
      </pattern>
    {/each}
  </defs>
  {#if aside}
    <SideFigure {figure} {share} {still} {night} />
  {:else}
    {#each sides as s (s)}
      <g transform="scale({way[s]} 1)">
        <path d={behind ? map.back.body : map.body} fill={paper} />
        {#if !behind}<path d={map.neck} fill={ink} opacity=".8" />{/if}
      </g>
    {/each}
    <g
      transform="translate({posed.head[0]! * way.left * turn} {posed.head[1]}) rotate({posed.head[3]! *
        way.left *
        -turn} 0 300) scale({posed.head[2]})"
    >
      {#each sides as s (s)}
        <g transform="scale({way[s]} 1)">
          <path d={behind ? map.back.head : map.head} fill={paper} />
          {#if behind}
            <path d={map.back.hair} fill={ink} opacity=".4" />
            <path d={map.back.lines} fill={ink} />
          {:else}
            <path d={map.hair} fill={ink} opacity=".55" />
          {/if}
        </g>
      {/each}
      {#each sides as s (s)}
        <g transform="scale({way[s]} 1)" data-fills={s}>
          {#each muscles as [name, muscle] (name)}
            {@const strength = fills[name]?.[s] ?? 0}
            {#if strength > 0}<path
                d={muscle.region}
                data-muscle={name}
                fill="url(#{id}-hatch-{s})"
                fill-opacity={0.4 + 0.6 * strength}
                stroke={inks[s]}
                stroke-width="1"
              />{/if}
          {/each}
        </g>
      {/each}
      {#if !behind}
        {#each sides as s (s)}
          <g transform="scale({way[s]} 1)"><path d={art.frame} fill={ink} opacity=".85" /></g>
        {/each}
        <g
          transform="translate({posed.features[0]! * way.left * turn} {posed.features[1]! +
            150 * (1 - posed.features[3]!)}) scale({posed.features[2]} {posed.features[3]})"
        >
          {#each sides as s (s)}
            <g transform="scale({way[s]} 1)">
              {#each shown(figure.eyes, works(s)) as [at, opacity], i (i)}
                {@const eye = eyeAt(at)}
                {@const [x, y] = iris(figure.eyes, eye.iris)}
                <g {opacity}>
                  <path d={eye.white} fill={night ? 'var(--color-night-raised)' : 'var(--color-white)'} />
                  {#if eye.open > 0}
                    <clipPath id="{id}-eye-{s}-{i}"><path d={eye.white} /></clipPath>
                    <g clip-path="url(#{id}-eye-{s}-{i})" opacity={eye.open}>
                      <circle cx={x} cy={y} r="7.2" fill="none" stroke={ink} stroke-width="1.4" />
                      <circle cx={x} cy={y} r="3.2" fill={ink} />
                    </g>
                  {/if}
                  <path d={eye.lines} fill={ink} />
                </g>
              {/each}
              {#each shown(figure.brows, works(s)) as [at, opacity], i (i)}
                <path d={browAt(at)} fill={ink} {opacity} />
              {/each}
              {#each shown(figure.mouth, works(s)) as [at, opacity], i (i)}
                {@const mouth = mouthAt(at)}
                <g {opacity}>
                  <path d={mouth.lips} fill={ink} fill-opacity=".1" />
                  {#if mouth.open > 0}<path d={mouth.dark} fill={ink} fill-opacity={0.75 * mouth.open} />{/if}
                  <path d={mouth.lines} fill={ink} />
                  {#if mouth.tongue.seen > 0}<path
                      d={mouth.tongue.path}
                      fill={paper}
                      stroke={ink}
                      stroke-width="1"
                      opacity={mouth.tongue.seen}
                    />{/if}
                  {#if mouth.crease.seen > 0}<path
                      d={mouth.crease.path}
                      fill={ink}
                      opacity={mouth.crease.seen}
                    />{/if}
                </g>
              {/each}
              {#if figure.breath}<path
                  d={BREATH}
                  fill="none"
                  stroke={ink}
                  stroke-width="1.8"
                  stroke-dasharray="1 4.5"
                  stroke-linecap="round"
                  data-breath
                  opacity={still ? 0.8 : 0.15 + 0.85 * share}
                />{/if}
            </g>
          {/each}
        </g>
      {/if}
    </g>
    {#each sides as s (s)}
      <g transform="scale({way[s]} 1)" data-side={s}>
        {#if works(s)}
          {#each figure.moves as move, i (i)}
            {@const line = places(figure.view, move)}
            {@const middle = line.every(([x]) => x === 0)}
            {#if !middle || s === 'right'}<path
                d={curve(line)}
                fill="none"
                stroke={middle ? ink : inks[s]}
                stroke-width="3.2"
                stroke-dasharray="1 5"
                stroke-linecap="round"
                marker-end="url(#{id}-{middle ? 'both' : s})"
                opacity={still ? 1 : 0.45 + 0.55 * share}
              />{/if}
          {/each}
        {/if}
        {#each touches(s) as t, i (i)}
          {#if t.path.length > 1}
            <path
              d={curve(t.path)}
              fill="none"
              stroke={inks[s]}
              stroke-width="2.4"
              marker-end="url(#{id}-{s})"
              data-path={t.hand.does}
            />
          {/if}
          <g transform="translate({t.at[0]} {t.at[1]})" opacity={t.show} data-hand={t.hand.tool}>
            {#each handShape(t.hand.tool, t.angle) as d, j (j)}
              <path {d} fill={paper} fill-opacity=".86" stroke={inks[s]} stroke-width="1.7" />
            {/each}
            <circle r="3.4" fill={inks[s]} />
            {#if t.hand.does === 'circle'}
              <path
                d="M-9 -3A9.5 9.5 0 1 1 -6 7"
                fill="none"
                stroke={inks[s]}
                stroke-width="1.6"
                marker-end="url(#{id}-{s})"
              />
            {/if}
          </g>
        {/each}
      </g>
    {/each}
  {/if}
  {#if over}<g transform="scale({aside ? 1 : way.right} 1)">{@render over()}</g>{/if}
</svg>
