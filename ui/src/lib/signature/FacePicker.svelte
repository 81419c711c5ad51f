<script lang="ts">
  import { NEXT_VIEW, VIEW_WORDS, type Fills, type Holds, type Side, type View } from './face-map'
  import FaceMap from './FaceMap.svelte'

  /** A face map to pick from: the switch between its views, the name and action of what is pointed at, and the same
   * values as a list for screen readers. */
  let {
    muscles,
    fills = {},
    holds = {},
    tender = {},
    words,
    label,
    pick,
    view = $bindable('facing'),
    height = 236,
    hint = 'Point at a muscle.'
  }: {
    muscles: { id: string; name: string; action: string }[]
    fills?: Fills
    holds?: Holds
    tender?: Fills
    /** What a muscle's value on a side says, in words, for the list and beside its name. */
    words?: (muscle: string, side: Side) => string
    label: string
    pick?: (muscle: string, side: Side) => void
    view?: View
    height?: number
    hint?: string
  } = $props()

  let at = $state<{ muscle: string; side: Side } | null>(null)
  const known = $derived(new Map(muscles.map((m) => [m.id, m])))
  const names = $derived(Object.fromEntries(muscles.map((m) => [m.id, m.name])))
  const here = $derived(at ? known.get(at.muscle) : undefined)
  const sides = ['right', 'left'] as const
  const listed = $derived(
    muscles.flatMap((m) =>
      sides
        .filter((s) => (fills[m.id]?.[s] ?? 0) > 0 || (tender[m.id]?.[s] ?? 0) > 0 || holds[m.id])
        .map((s) => {
          const hold = holds[m.id] === 'lock' ? 'locked' : holds[m.id] === 'ease' ? 'eased' : ''
          return [`${s} ${m.name}`, words?.(m.id, s), hold].filter(Boolean).join(', ')
        })
    )
  )
</script>

<div>
  <div style="height: {height}px">
    <FaceMap {view} {fills} {holds} {tender} {label} {pick} {names} bind:at fibres={height > 180} />
  </div>
  <button class="mt-1 block w-full text-left text-note link" onclick={() => (view = NEXT_VIEW[view])}
    >{VIEW_WORDS[view].split(':')[0]}; turn</button
  >
  <p class="mt-1 min-h-press text-small leading-[1.35]" aria-live="polite">
    {#if here && at}
      <span class="font-bold {at.side === 'right' ? 'text-side-right' : 'text-side-left'}"
        >{at.side} {here.name}</span
      >
      {here.action}{#if words?.(here.id, at.side)}; {words(here.id, at.side)}{/if}
    {:else}
      <span class="text-soft">{hint}</span>
    {/if}
  </p>
  <ul class="sr-only" aria-label="{label}, as a list">
    {#each listed as line (line)}<li>{line}</li>{:else}<li>nothing marked</li>{/each}
  </ul>
</div>
