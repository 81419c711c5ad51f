<script lang="ts" module>
  /** How strongly each muscle is shown on each side of the client's own face, 0 to 1. */
  export type Fills = Record<string, { right?: number; left?: number }>

  /** Muscles that a head without neck and shoulders leaves out. */
  const NECK = [
    'trapezius',
    'scalenes',
    'platysma',
    'infrahyoids',
    'suprahyoids',
    'sternocleidomastoid',
    'suboccipitals',
    'tongue'
  ]

  /** Whether any of these muscles needs the neck to be drawn. */
  export const onNeck = (muscles: string[]) => muscles.some((m) => NECK.includes(m))
</script>

<script lang="ts">
  import art from './face-map.json'

  /**
   * The face as a map. One half is drawn (the client's left) and mirrored. "facing" shows the client as seen from in
   * front: their right at the viewer's left. "mirror" shows what they see of themselves: their right at their right.
   * Right rises, left falls in its hatch, in either view.
   */
  let {
    view,
    fills = {},
    night = false,
    headOnly = false,
    fibres = true,
    labels = true,
    label
  }: {
    view: 'facing' | 'mirror'
    fills?: Fills
    night?: boolean
    headOnly?: boolean
    /** Small maps leave the fibres out. */
    fibres?: boolean
    labels?: boolean
    label: string
  } = $props()

  const id = $props.id()
  const muscles = $derived(Object.entries(art.muscles).filter(([name]) => !headOnly || !NECK.includes(name)))
  const box = $derived(headOnly ? art.headBox : art.viewBox)
  const ink = $derived(night ? 'var(--color-night-text)' : 'var(--color-ink)')
  const paper = $derived(night ? 'var(--color-night)' : 'var(--color-sheet)')
  const inks = $derived({
    right: night ? 'var(--color-night-right)' : 'var(--color-side-right)',
    left: night ? 'var(--color-night-left)' : 'var(--color-side-left)'
  })
  /** Horizontal direction of each side on the screen. */
  const toward = $derived({ left: view === 'facing' ? 1 : -1, right: view === 'facing' ? -1 : 1 })
  const sides = ['right', 'left'] as const
</script>

<svg
  viewBox={box.join(' ')}
  role="img"
  aria-label="{label}; {view === 'facing'
    ? 'facing you: the client’s right is at your left'
    : 'as in a mirror: your right is at the right'}"
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
        patternTransform="scale({toward[side]} 1) rotate({side === 'right' ? -45 : 45})"
      >
        <rect width="5" height="5" fill={inks[side]} fill-opacity=".35" /><path
          d="M0 2.5H5"
          stroke={inks[side]}
          stroke-width="1.6"
        />
      </pattern>
    {/each}
  </defs>
  {#each sides as side (side)}
    <g transform="scale({toward[side]} 1)" data-side={side}>
      {#if !headOnly}<path d={art.body} fill={paper} />{/if}
      <path d={art.head} fill={paper} />
      {#each muscles as [name, muscle] (name)}
        {@const strength = fills[name]?.[side] ?? 0}
        {#if strength > 0}
          <path
            d={muscle.region}
            data-muscle={name}
            fill="url(#{id}-{side})"
            fill-opacity={0.4 + 0.6 * strength}
            stroke={inks[side]}
            stroke-width="1.4"
          />
        {:else if fibres && !muscle.deep}
          <path d={muscle.fibres} fill="none" stroke={ink} stroke-width=".5" opacity={night ? 0.3 : 0.4} />
        {/if}
      {/each}
      <path d={art.eye} fill={night ? '#2a2131' : '#fff'} stroke={ink} stroke-width=".6" />
      <circle cx={art.iris[0]} cy={art.iris[1]} r={art.iris[2]} fill="none" stroke={ink} stroke-width="1.4" />
      <circle cx={art.iris[0]} cy={art.iris[1]} r="3.2" fill={ink} />
      <path d={art.hair} fill={ink} opacity=".8" />
      <path d={art.brow} fill={ink} />
      <path d={art.lines} fill={ink} />
      {#if !headOnly}<path d={art.neck} fill={ink} />{/if}
    </g>
  {/each}
  {#if labels}
    {#each sides as side (side)}
      <text
        x={toward[side] * (box[2] ?? 0) * 0.46}
        y={(box[1] ?? 0) + (box[3] ?? 0) * 0.06}
        text-anchor={toward[side] > 0 ? 'end' : 'start'}
        font-size={(box[3] ?? 0) * 0.058}
        font-weight="700"
        fill={inks[side]}>{side}</text
      >
    {/each}
  {/if}
</svg>
