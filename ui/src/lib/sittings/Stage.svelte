<script lang="ts">
  import { atClock, shortDay } from '$lib/format'
  import type { Bench, Photo, Where } from './bench.svelte'
  import { matrix, outline, STAGE, turned } from './geometry'
  import Picture from './Picture.svelte'

  /** Two photographs compared: side by side, split, flipped, halves mirrored, or their outlines. Aligned, never retouched. */
  let { bench, who }: { bench: Bench; who: string } = $props()
  const a = $derived(bench.photo('before'))
  const b = $derived(bench.photo('after'))
  const wheres = $derived<Where[]>(a ? ['before', 'after'] : ['after'])
  const other = (where: Where): Where => (where === 'before' ? 'after' : 'before')
  let split = $state(50)
  let held = $state(false)
  let alike = $state(false)
  const W = STAGE.w
  const H = STAGE.h

  const clock = (p: Photo) => (p.taken_at ? atClock(p.taken_at.slice(11, 16)) : 'time not told')
  const shots = (where: Where, p: Photo) => {
    const same = (bench.sitting(where)?.photographs ?? []).filter((x) => x.view === p.view)
    return same.length > 1 ? `, shot ${same.indexOf(p) + 1} of ${same.length}` : ''
  }
  const kind = (where: Where) => bench.sitting(where)?.kind ?? ''
  function keys(e: KeyboardEvent, down: boolean) {
    if (e.key.toLowerCase() !== 'f' || (e.target as HTMLElement).matches('input, textarea, select')) return
    held = down && !e.ctrlKey && !e.metaKey
  }
</script>

<svelte:window
  onkeydown={(e) => keys(e, true)}
  onkeyup={(e) => keys(e, false)}
  onblur={() => (held = false)}
/>

{#snippet image(p: Photo, extra = '')}
  <g transform="{extra}{matrix(bench.place(p))}"
    ><image href="/api/photographs/{p.id}.jpg" width={p.width} height={p.height} transform={turned(p)} /></g
  >
{/snippet}
{#snippet heading(where: Where, p: Photo | null)}
  <p class="truncate pb-1 text-small">
    <b>{shortDay(bench.sitting(where)?.taken_on ?? '')}</b>{p ? `, ${clock(p)}` : ''}, {kind(where)}{p
      ? shots(where, p)
      : ''}
  </p>
{/snippet}
{#snippet sides()}
  <rect x="6" y="6" width="82" height="20" fill="var(--color-night)" />
  <text x="12" y="20" class="text-note" fill="var(--color-night-right)">client’s right</text>
  <rect x={W - 84} y="6" width="78" height="20" fill="var(--color-night)" />
  <text x={W - 12} y="20" text-anchor="end" class="text-note" fill="var(--color-night-left)"
    >client’s left</text
  >
{/snippet}
{#snippet halves(p: Photo, where: Where)}
  <div>
    {@render heading(where, p)}
    <div class="grid grid-cols-2 gap-px">
      {#each ['right', 'left'] as const as half (half)}
        {@const x0 = half === 'right' ? 0 : W / 2}
        <figure>
          <svg
            viewBox="0 0 {W} {H}"
            class="block w-full bg-band"
            role="img"
            aria-label="{who}: the {half} half of the face and its mirror image"
          >
            <clipPath id="half-{where}-{half}"><rect x={x0} width={W / 2} height={H} /></clipPath>
            <g clip-path="url(#half-{where}-{half})">{@render image(p)}</g>
            <g transform="translate({W} 0) scale(-1 1)"
              ><g clip-path="url(#half-{where}-{half})">{@render image(p)}</g></g
            >
          </svg>
          <figcaption class="text-center text-note {half === 'right' ? 'text-side-right' : 'text-side-left'}">
            the {half} side twice
          </figcaption>
        </figure>
      {/each}
    </div>
  </div>
{/snippet}

{#if b && (!a || bench.mode === 'side by side')}
  <div class="grid gap-3 {a ? 'grid-cols-2' : ''}">
    {#each wheres as where (where)}
      {@const p = where === 'before' ? a : b}
      {#if p}<div>
          {@render heading(where, p)}
          <Picture
            {bench}
            photo={held ? (bench.photo(other(where)) ?? p) : p}
            {where}
            {who}
            show={held ? 'bare' : 'points'}
          />
        </div>{/if}
    {/each}
  </div>
{:else if a && b && bench.mode === 'halves'}
  <div class="grid grid-cols-2 gap-3">
    {@render halves(a, 'before')}{@render halves(b, 'after')}
  </div>
{:else if a && b}
  <div class="mx-auto max-w-card">
    {#if bench.mode === 'split line'}
      <div class="flex justify-between">
        {@render heading('before', null)}{@render heading('after', null)}
      </div>
    {:else if bench.mode === 'flip'}{@render heading(held ? 'before' : 'after', held ? a : b)}
    {:else}<p class="pb-1 text-small">
        Outline of <b>{shortDay(bench.sitting('before')?.taken_on ?? '')}</b> in white, of
        <b>{shortDay(bench.sitting('after')?.taken_on ?? '')}</b> dark; aligned on eye corners and nose.
      </p>{/if}
    <svg
      viewBox="0 0 {W} {H}"
      class="block w-full bg-band"
      role="img"
      aria-label="{who}, two photographs aligned: {bench.mode}"
    >
      {#if bench.mode === 'split line'}
        <clipPath id="split-a"><rect width={(split / 100) * W} height={H} /></clipPath>
        {@render image(b)}
        <g clip-path="url(#split-a)">{@render image(a)}</g>
        <path d="M{(split / 100) * W} 0V{H}" stroke="var(--color-white)" stroke-width="2" />
      {:else if bench.mode === 'flip'}
        {@render image(held ? a : b)}
      {:else}
        <g opacity=".55">{@render image(b)}</g>
        <path
          d={outline(a.points, bench.place(a))}
          fill="none"
          stroke="var(--color-white)"
          stroke-width="3"
          stroke-linejoin="round"
        />
        <path
          d={outline(b.points, bench.place(b))}
          fill="none"
          stroke="var(--color-action)"
          stroke-width="1.6"
          stroke-linejoin="round"
        />
      {/if}
      {@render sides()}
    </svg>
    {#if bench.mode === 'split line'}
      <label class="mt-1 block text-small"
        >Line <input
          type="range"
          min="0"
          max="100"
          step="0.5"
          bind:value={split}
          class="w-full"
          aria-label="Where the line stands"
        /></label
      >
    {:else if bench.mode === 'flip'}
      <button
        class="mt-2 act w-full act-quiet"
        onpointerdown={() => (held = true)}
        onpointerup={() => (held = false)}
        onpointerleave={() => (held = false)}
        >Hold here, or F, to see {shortDay(bench.sitting('before')?.taken_on ?? '')}</button
      >
    {/if}
  </div>
{/if}
{#if a && b && bench.view?.may_compare}
  <p class="mt-1 flex items-center gap-3 text-small">
    <a class="link" href="/api/comparisons/{a.id}/{b.id}.png?match_light={alike}" download
      >Comparison picture</a
    >
    <label class="flex items-center gap-1.5 text-soft"
      ><input type="checkbox" bind:checked={alike} /> match lightness, and say so on it</label
    >
  </p>
{/if}
