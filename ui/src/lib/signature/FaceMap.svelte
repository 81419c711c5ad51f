<script lang="ts">
  import art from './face-map.json'
  import { VIEW_WORDS, drawn, toward, type Fills, type Holds, type Side, type View } from './face-map'

  /**
   * The face as a map. One half is drawn and mirrored by construction; see face-map.ts for what stands where. Right
   * rises, left falls in its hatch, in every view. With `pick` every muscle is a button: arrow keys walk over the face,
   * Enter or space picks.
   */
  let {
    view,
    fills = {},
    holds = {},
    tender = {},
    night = false,
    headOnly = false,
    fibres = true,
    small = false,
    labels = true,
    label,
    pick,
    at = $bindable(null),
    names = {}
  }: {
    view: View
    fills?: Fills
    /** Locked muscles are crossed out, eased ones outlined with dashes. */
    holds?: Holds
    /** Tenderness 0 to 1: a dot that grows. */
    tender?: Fills
    night?: boolean
    headOnly?: boolean
    /** Small maps leave the fibres out. */
    fibres?: boolean
    /** Below some 100 px: a bold contour only. */
    small?: boolean
    labels?: boolean
    label: string
    pick?: (muscle: string, side: Side) => void
    /** The muscle under the pointer or the focus. */
    at?: { muscle: string; side: Side } | null
    names?: Record<string, string>
  } = $props()

  const id = $props.id()
  const back = $derived(view === 'behind')
  const muscles = $derived(drawn(view, headOnly))
  const box = $derived(headOnly ? art.headBox : art.viewBox)
  const ink = $derived(night ? 'var(--color-night-text)' : 'var(--color-ink)')
  const paper = $derived(night ? 'var(--color-night)' : 'var(--color-sheet)')
  const inks = $derived({
    right: night ? 'var(--color-night-right)' : 'var(--color-side-right)',
    left: night ? 'var(--color-night-left)' : 'var(--color-side-left)'
  })
  const way = $derived(toward(view))
  const sides = ['right', 'left'] as const
  let root = $state<SVGSVGElement>()
  let entry = $state('')

  const keyOf = (muscle: string, side: Side) => `${muscle} ${side}`
  const first = $derived(entry || keyOf(muscles.at(-1)?.[0] ?? '', 'right'))

  /** The nearest muscle in the direction of an arrow key, by where it stands on the screen. */
  function walk(event: KeyboardEvent, muscle: string, side: Side) {
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      pick?.(muscle, side)
      return
    }
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
    if (!step || !root) return
    event.preventDefault()
    const middle = (e: Element) => {
      const r = e.getBoundingClientRect()
      return [r.x + r.width / 2, r.y + r.height / 2]
    }
    const [x = 0, y = 0] = middle(event.currentTarget as Element)
    let best: SVGElement | null = null
    let cost = Infinity
    for (const e of root.querySelectorAll<SVGElement>('[data-pick]')) {
      const [ex = 0, ey = 0] = middle(e)
      const along = (ex - x) * (step[0] ?? 0) + (ey - y) * (step[1] ?? 0)
      const across = Math.abs((ex - x) * (step[1] ?? 0)) + Math.abs((ey - y) * (step[0] ?? 0))
      if (along > 1 && along + 2 * across < cost) {
        best = e
        cost = along + 2 * across
      }
    }
    best?.focus()
  }

  /** What else of the drawing belongs to a muscle when it is touched: the open eye, the lips. */
  const touch = (muscle: string) =>
    back ? '' : muscle === 'levator_palpebrae' ? art.eye : muscle === 'orbicularis_oris' ? art.lips : ''

  /** The middle of a region, from its own path: the mean of its end points. */
  function middleOf(region: string): [number, number] {
    const n = (region.match(/-?\d+(\.\d+)?/g) ?? []).map(Number)
    let x = 0
    let y = 0
    for (let i = 0; i + 1 < n.length; i += 2) {
      x += n[i] ?? 0
      y += n[i + 1] ?? 0
    }
    return [(2 * x) / n.length, (2 * y) / n.length]
  }
</script>

{#snippet contour(outline: string)}
  <!-- Without its closing stretch, which runs along the midline. -->
  <path d={outline.replace(/(L[^A-Z]*)*Z$/, '')} fill="none" stroke={ink} stroke-width="7" />
{/snippet}

<svg
  bind:this={root}
  viewBox={box.join(' ')}
  role={pick ? 'group' : 'img'}
  aria-label="{label}; {VIEW_WORDS[view]}"
  class="block h-full w-full"
>
  <defs>
    {#each sides as side (side)}
      <!-- Counter-mirrored inside its half, so that a hatch keeps its own direction on the screen. -->
      <pattern
        id="{id}-{side}"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="scale({way[side]} 1) rotate({side === 'right' ? -45 : 45})"
      >
        <rect width="5" height="5" fill={inks[side]} fill-opacity=".35" /><path
          d="M0 2.5H5"
          stroke={inks[side]}
          stroke-width="1.6"
        />
      </pattern>
    {/each}
    <pattern id="{id}-lock" width="7" height="7" patternUnits="userSpaceOnUse">
      <path d="M0 0L7 7M7 0L0 7" stroke="var(--color-stop)" stroke-width="1.1" />
    </pattern>
  </defs>
  {#each sides as side (side)}
    <g transform="scale({way[side]} 1)" data-side={side}>
      {#if !headOnly}
        <path d={back ? art.back.body : art.body} fill={paper} />
        {#if small}{@render contour(back ? art.back.body : art.body)}{/if}
      {/if}
      <path d={back ? art.back.head : art.head} fill={paper} />
      {#if small}{@render contour(back ? art.back.head : art.head)}{/if}
      {#each muscles as [name, muscle] (name)}
        {@const strength = fills[name]?.[side] ?? 0}
        {#if strength > 0}
          <path
            d={muscle.region}
            data-muscle={name}
            fill="url(#{id}-{side})"
            fill-opacity={0.4 + 0.6 * strength}
            stroke={inks[side]}
            stroke-width={small ? 5 : 1.4}
          />
        {:else if fibres && !small && !muscle.deep}
          <path d={muscle.fibres} fill="none" stroke={ink} stroke-width=".5" opacity={night ? 0.3 : 0.4} />
        {/if}
        {#if holds[name] === 'lock'}
          <path
            d={muscle.region}
            data-hold="lock"
            fill="url(#{id}-lock)"
            stroke="var(--color-stop)"
            stroke-width="1.2"
          />
        {:else if holds[name] === 'ease'}
          <path
            d={muscle.region}
            data-hold="ease"
            fill="none"
            stroke="var(--color-mark-watch)"
            stroke-width="1.8"
            stroke-dasharray="4 3"
          />
        {/if}
      {/each}
      {#if back}
        <path d={art.back.hair} fill={ink} opacity={small ? 0 : 0.55} pointer-events="none" />
        <path d={art.back.lines} fill={ink} pointer-events="none" />
      {:else}
        <path
          d={art.eye}
          fill={night ? 'var(--color-night-raised)' : 'var(--color-white)'}
          stroke={ink}
          stroke-width={small ? 4 : 0.6}
        />
        <circle
          cx={art.iris[0]}
          cy={art.iris[1]}
          r={art.iris[2]}
          fill="none"
          stroke={ink}
          stroke-width="1.4"
        />
        <circle cx={art.iris[0]} cy={art.iris[1]} r="3.2" fill={ink} />
        {#if !small}<path d={art.hair} fill={ink} opacity=".8" pointer-events="none" />{/if}
        <path d={art.brow} fill={ink} pointer-events="none" />
        <path
          d={art.lines}
          fill={ink}
          stroke={small ? ink : 'none'}
          stroke-width="2.5"
          pointer-events="none"
        />
        {#if !headOnly}<path d={art.neck} fill={ink} pointer-events="none" />{/if}
      {/if}
      {#each muscles as [name, muscle] (name)}
        {@const dot = tender[name]?.[side] ?? 0}
        {#if dot > 0}
          {@const [x, y] = middleOf(muscle.region)}
          <circle
            cx={x}
            cy={y}
            r={(small ? 10 : 3) + 8 * dot}
            data-tender={name}
            fill={inks[side]}
            stroke={small ? ink : paper}
            stroke-width={small ? 4 : 1.5}
          />
        {/if}
        {#if pick}
          {@const here = at?.muscle === name && at.side === side}
          <path
            d={muscle.region + touch(name)}
            data-pick={name}
            role="button"
            tabindex={first === keyOf(name, side) ? 0 : -1}
            aria-label="{side} {names[name] ?? name}"
            fill={here ? inks[side] : 'transparent'}
            fill-opacity={here ? 0.28 : 0}
            stroke={here ? inks[side] : 'transparent'}
            stroke-width="2"
            stroke-dasharray={muscle.deep ? '3 2' : undefined}
            class="cursor-pointer outline-none"
            onclick={() => pick(name, side)}
            onpointerenter={() => (at = { muscle: name, side })}
            onpointerleave={() => (at = null)}
            onfocus={() => {
              at = { muscle: name, side }
              entry = keyOf(name, side)
            }}
            onblur={() => (at = null)}
            onkeydown={(e) => walk(e, name, side)}
          />
        {/if}
      {/each}
    </g>
  {/each}
  {#if labels}
    {#each sides as side (side)}
      <text
        x={way[side] * (box[2] ?? 0) * 0.46}
        y={(box[1] ?? 0) + (box[3] ?? 0) * 0.06}
        text-anchor={way[side] > 0 ? 'end' : 'start'}
        font-size={(box[3] ?? 0) * 0.058}
        font-weight="700"
        fill={inks[side]}>{side}</text
      >
    {/each}
  {/if}
</svg>
