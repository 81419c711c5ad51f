<script lang="ts">
  import { onDestroy, onMount } from 'svelte'
  import { shortDay } from '$lib/format'
  import { align, fit, layout, matrix, STAGE, turned, type Points } from '$lib/sittings/geometry'
  import type { StripSitting } from './strip'

  /** All sittings of a view in a row, level and to one size, with what the chosen reading says under each. Goes by arrow keys, and plays
   * through in order. */
  let {
    sittings,
    chosen,
    who,
    pick
  }: {
    sittings: StripSitting[]
    chosen: string | undefined
    /** Whose face it is, for whoever cannot see it. */
    who: string
    pick: (id: string) => void
  } = $props()

  const base = $derived(sittings.find((s) => s.photo)?.photo)
  const target = $derived(base ? layout(base.points as Points) : null)
  const placed = (p: NonNullable<StripSitting['photo']>) =>
    (target && align(p.points as Points, target)) || fit(p.width, p.height)
  const at = $derived(sittings.findIndex((s) => s.id === chosen))
  let list: HTMLElement | undefined = $state()
  let playing = $state(false)
  let timer: ReturnType<typeof setInterval> | undefined
  let still = false
  onMount(() => (still = matchMedia('(prefers-reduced-motion: reduce)').matches))
  onDestroy(() => clearInterval(timer))

  function go(to: number, focus = true) {
    const next = sittings[Math.max(0, Math.min(sittings.length - 1, to))]
    if (!next) return
    pick(next.id)
    const button = list?.querySelector<HTMLElement>(`[data-sitting="${next.id}"]`)
    if (focus) button?.focus()
    button?.scrollIntoView({ block: 'nearest', inline: 'nearest', behavior: still ? 'auto' : 'smooth' })
  }
  function stop() {
    clearInterval(timer)
    playing = false
  }
  function play() {
    if (playing) return stop()
    playing = true
    let next = 0
    go(next, false)
    timer = setInterval(() => {
      next += 1
      if (next >= sittings.length) stop()
      else go(next, false)
    }, 1200)
  }
  function keys(e: KeyboardEvent) {
    const to = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: sittings.length - 1 }[e.key]
    if (to === undefined) return
    e.preventDefault()
    stop()
    go(to)
  }
</script>

<div class="flex items-start gap-2">
  <ul
    bind:this={list}
    class="flex min-w-0 flex-1 gap-2 overflow-x-auto pb-1"
    aria-label="All sittings of this view, in the order of time"
  >
    {#each sittings as s (s.id)}
      <li class="w-[88px] shrink-0">
        <button
          class="block w-full border-[3px] text-left {s.id === chosen
            ? 'border-action'
            : 'border-transparent'}"
          aria-pressed={s.id === chosen}
          data-sitting={s.id}
          onkeydown={keys}
          onclick={() => {
            stop()
            pick(s.id)
          }}
        >
          <svg
            viewBox="0 0 {STAGE.w} {STAGE.h}"
            class="block w-full bg-band"
            role="img"
            aria-label="{who}, {shortDay(s.day)}"
          >
            {#if s.photo}<g transform={matrix(placed(s.photo))}
                ><image
                  href="/api/photographs/{s.photo.id}/small.jpg"
                  width={s.photo.width}
                  height={s.photo.height}
                  transform={turned(s.photo)}
                /></g
              >{/if}
          </svg>
          <span class="block px-0.5 text-small font-bold">{shortDay(s.day)}</span>
          {#each s.lines as line, i (i)}<span
              class="block px-0.5 text-small {s.faint ? 'text-soft' : 'text-ink'}">{line}</span
            >{/each}
        </button>
      </li>
    {/each}
  </ul>
  {#if sittings.length > 1}<button
      class="act min-h-press shrink-0 act-quiet"
      aria-pressed={playing}
      onclick={play}>{playing ? 'Stop' : 'Play'}</button
    >{/if}
</div>
