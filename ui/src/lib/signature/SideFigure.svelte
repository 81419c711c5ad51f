<script lang="ts">
  import { curve, handShape, places, type FigureData, type Point } from './figure'
  import { profile } from './side'

  /** The head from the side, for what goes forward, back or tilts: it moves through all in between; under reduced motion the first state
   * stands paler behind the second. */
  let { figure, share, still, night }: { figure: FigureData; share: number; still: boolean; night: boolean } =
    $props()
  const id = $props.id()
  const ink = $derived(night ? 'var(--color-night-text)' : 'var(--color-ink)')
  const paper = $derived(night ? 'var(--color-night)' : 'var(--color-sheet)')
  const moves = $derived(figure.head.length > 1 || figure.mouth.length > 1)
  const now = $derived(profile(figure.head, figure.mouth, still || !moves ? 1 : share))
  const first = $derived(still && moves ? profile(figure.head, figure.mouth, 0) : null)
  const hands = $derived(
    figure.hands.map((h) => {
      const path = places('side', h.path).map((p) => now.at(p))
      const [x, y] = path[0] ?? ([0, 0] as Point)
      return { hand: h, path, x, y, angle: y > 300 ? 1.3 : x < 110 ? 2.2 : 0.9 }
    })
  )
</script>

<defs
  ><marker
    id="{id}-way"
    viewBox="0 0 10 10"
    refX="6"
    refY="5"
    markerWidth="5.5"
    markerHeight="5.5"
    orient="auto"><path d="M0 0L10 5L0 10L3 5Z" fill={ink} /></marker
  ></defs
>
{#if first}<path d={first.outline} fill="none" stroke={ink} stroke-width="1.4" opacity=".3" />{/if}
<path d={now.outline} fill={paper} stroke={ink} stroke-width="1.8" stroke-linejoin="round" />
{#each now.hair as line, i (i)}<path
    d={line}
    fill="none"
    stroke={ink}
    stroke-width="1"
    opacity=".45"
  />{/each}
<path d={now.ear} fill={paper} stroke={ink} stroke-width="1.3" />
<path d={now.brow} fill="none" stroke={ink} stroke-width="3" stroke-linecap="round" />
<path
  d={now.eye}
  fill={night ? 'var(--color-night-raised)' : 'var(--color-white)'}
  stroke={ink}
  stroke-width="1.3"
/>
{#if !figure.eyes.includes('closed')}<circle cx={now.iris[0]} cy={now.iris[1]} r="4" fill={ink} />{/if}
<path d={now.mouth} fill="none" stroke={ink} stroke-width="1.6" />
<path d={now.jawline} fill="none" stroke={ink} stroke-width="1" opacity=".5" />
{#if now.palate}<path
    d={now.palate}
    fill="none"
    stroke={ink}
    stroke-width="1.2"
    stroke-dasharray="3 3"
  />{/if}
{#if now.tongueSeen > 0.05}
  {#each [[9, ink], [6, paper]] as const as [width, tint] (width)}<path
      d={now.tongue}
      fill="none"
      stroke={tint}
      stroke-width={width}
      stroke-linecap="round"
      opacity={now.tongueSeen}
    />{/each}
{/if}
{#each figure.moves as move, i (i)}
  <path
    d={curve(places('side', move).map((p) => now.at(p)))}
    fill="none"
    stroke={ink}
    stroke-width="3.2"
    stroke-dasharray="1 5"
    stroke-linecap="round"
    marker-end="url(#{id}-way)"
    opacity={still ? 1 : 0.45 + 0.55 * share}
  />
{/each}
{#each hands as t, i (i)}
  <g transform="translate({t.x} {t.y})" data-hand={t.hand.tool}>
    {#each handShape(t.hand.tool, t.angle) as d, j (j)}
      <path {d} fill={paper} fill-opacity=".86" stroke={ink} stroke-width="1.7" />
    {/each}
    <circle r="3.4" fill={ink} />
  </g>
{/each}
