<script lang="ts">
  import { ToggleGroup } from 'bits-ui'
  import { longDate, shortDay } from '$lib/format'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { align, fit, layout, matrix, outline, STAGE, turned, type Points } from '$lib/sittings/geometry'
  import type { Picture } from './strip'

  /** Two photographs of one view, level and to one size: beside each other, one over the other with a line to draw across, or one for
   * the other by a touch. Each opens large. */
  let {
    before,
    after,
    days
  }: {
    before: Picture | null
    after: Picture
    /** The day of each. */
    days: { before: string; after: string }
  } = $props()

  type Mode = 'beside' | 'over' | 'flip'
  const modes: [Mode, string][] = [
    ['beside', 'Side by side'],
    ['over', 'With a line'],
    ['flip', 'By touch']
  ]
  const [W, H] = [STAGE.w, STAGE.h]
  let mode = $state<Mode>('beside')
  let outlines = $state(false)
  let split = $state(50)
  let earlier = $state(false)
  let large = $state<{ photo: Picture; day: string } | null>(null)
  let open = $state(false)
  const target = $derived(before ? layout(before.points as Points) : layout(after.points as Points))
  const place = (p: Picture) => (target && align(p.points as Points, target)) || fit(p.width, p.height)
  const drawable = $derived(!!target)
  const enlarge = (photo: Picture, day: string) => {
    large = { photo, day }
    open = true
  }
  function draw(e: PointerEvent & { currentTarget: SVGElement }) {
    if (e.type === 'pointermove' && !e.currentTarget.hasPointerCapture(e.pointerId)) return
    const box = e.currentTarget.getBoundingClientRect()
    if (e.type === 'pointerdown') e.currentTarget.setPointerCapture(e.pointerId)
    split = Math.max(0, Math.min(100, ((e.clientX - box.left) / box.width) * 100))
  }
</script>

{#snippet image(p: Picture)}
  <g transform={matrix(place(p))}
    ><image href="/api/photographs/{p.id}.jpg" width={p.width} height={p.height} transform={turned(p)} /></g
  >
{/snippet}
{#snippet lines(p: Picture, dark: boolean)}
  {#if outlines}<path
      d={outline(p.points, place(p))}
      fill="none"
      stroke={dark ? 'var(--color-action)' : 'var(--color-white)'}
      stroke-width={dark ? 1.8 : 2.6}
      stroke-linejoin="round"
    />{/if}
{/snippet}
{#snippet one(p: Picture, day: string, which: string)}
  <figure>
    <button
      class="block w-full"
      onclick={() => enlarge(p, day)}
      aria-label="Open {which}, {longDate(day)}, large"
    >
      <svg viewBox="0 0 {W} {H}" class="block w-full bg-band" role="img" aria-label="You, {longDate(day)}">
        {@render image(p)}{@render lines(p, which === 'the later photograph')}
      </svg>
    </button>
    <figcaption class="text-base">{longDate(day)}</figcaption>
  </figure>
{/snippet}

{#if before}
  <ToggleGroup.Root
    type="single"
    class="flex flex-wrap gap-x-5"
    aria-label="How to look at both"
    bind:value={() => mode, (m) => (mode = (m as Mode) || mode)}
  >
    {#each modes as [key, name] (key)}
      <ToggleGroup.Item
        value={key}
        class="min-h-touch border-b-[3px] border-transparent text-soft data-[state=on]:border-action data-[state=on]:font-bold data-[state=on]:text-ink"
        >{name}</ToggleGroup.Item
      >
    {/each}
  </ToggleGroup.Root>
{/if}
<div class="mt-2">
  {#if !before}
    <div class="mx-auto max-w-card">{@render one(after, days.after, 'the photograph')}</div>
  {:else if mode === 'beside'}
    <div class="grid grid-cols-2 gap-2">
      {@render one(before, days.before, 'the first photograph')}
      {@render one(after, days.after, 'the later photograph')}
    </div>
  {:else if mode === 'over'}
    <div class="mx-auto max-w-card">
      <svg
        viewBox="0 0 {W} {H}"
        class="block w-full cursor-ew-resize touch-pan-y bg-band"
        role="img"
        aria-label="You, {longDate(days.before)} left of the line and {longDate(days.after)} right of it"
        onpointerdown={draw}
        onpointermove={draw}
      >
        <clipPath id="own-split"><rect width={(split / 100) * W} height={H} /></clipPath>
        {@render image(after)}
        <g clip-path="url(#own-split)">{@render image(before)}</g>
        {@render lines(before, false)}{@render lines(after, true)}
        <path d="M{(split / 100) * W} 0V{H}" stroke="var(--color-white)" stroke-width="3" />
        <circle cx={(split / 100) * W} cy={H - 40} r="15" fill="var(--color-white)" />
        <path
          d="M{(split / 100) * W - 6} {H - 46}l-6 6 6 6M{(split / 100) * W + 6} {H - 46}l6 6-6 6"
          fill="none"
          stroke="var(--color-ink)"
          stroke-width="2"
        />
      </svg>
      <label class="mt-1 block text-base"
        ><span class="flex justify-between"
          ><span>{shortDay(days.before)}</span><span>{shortDay(days.after)}</span></span
        >
        <input
          type="range"
          min="0"
          max="100"
          step="1"
          bind:value={split}
          class="min-h-touch w-full"
          aria-label="Where the line stands, in percent from the left"
        /></label
      >
    </div>
  {:else}
    <button
      class="mx-auto block w-full max-w-card text-left"
      aria-pressed={earlier}
      onclick={() => (earlier = !earlier)}
    >
      <svg
        viewBox="0 0 {W} {H}"
        class="block w-full bg-band"
        role="img"
        aria-label="You, {longDate(earlier ? days.before : days.after)}"
      >
        {@render image(after)}
        {#if earlier}{@render image(before)}{/if}
        {@render lines(earlier ? before : after, !earlier)}
      </svg>
      <span class="block min-h-touch text-base" aria-live="polite"
        ><b>{longDate(earlier ? days.before : days.after)}</b>. Touch the picture for the other one.</span
      >
    </button>
  {/if}
</div>
{#if drawable}<label class="mt-1 flex min-h-touch items-center gap-2 text-base"
    ><input type="checkbox" class="size-5" bind:checked={outlines} /> Draw the outlines that are measured</label
  >{/if}

<Dialog bind:open title={large ? longDate(large.day) : ''} width={900}>
  {#if large}
    <svg
      viewBox="0 0 {W} {H}"
      class="block w-full bg-band"
      role="img"
      aria-label="You, {longDate(large.day)}"
    >
      {@render image(large.photo)}
    </svg>
  {/if}
</Dialog>
