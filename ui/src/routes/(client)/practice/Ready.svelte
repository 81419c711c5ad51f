<script lang="ts">
  import { onMount } from 'svelte'
  import { clock } from '$lib/format'
  import type { Mirror } from '$lib/practice/mirror.svelte'
  import type { Player } from '$lib/practice/player.svelte'
  import See from './See.svelte'
  import Helps from './Helps.svelte'

  /** A few seconds to prop the phone up; then practice begins by itself, because hands get oily. */
  let {
    player,
    mirror,
    begin,
    lenses
  }: { player: Player; mirror: Mirror; begin: () => void; lenses: boolean } = $props()
  const WAIT_S = 10
  const LENSES = 'contact lenses out'
  let left = $state(WAIT_S)
  let held = $state(true)

  onMount(() => {
    // Without a touch there is no sound, so a page that was opened by its address waits for one.
    held = !navigator.userActivation?.hasBeenActive
    const from = performance.now()
    const timer = setInterval(() => {
      if (held || (waits && !out)) return
      left = Math.max(0, WAIT_S - Math.floor((performance.now() - from) / 1000))
      if (left === 0) begin()
    }, 200)
    return () => clearInterval(timer)
  })
  const doing = $derived(player.session.items.filter((i) => !player.out.has(i.exercise)))
  const needs = $derived([...new Set(doing.flatMap((i) => i.needs))])
  /** Who wears lenses says that they are out; nothing begins by itself before. */
  const waits = $derived(lenses && needs.includes(LENSES))
  let out = $state(false)
  /** What the coach shows of exercises that are done for the first time; seeing it stops the clock. */
  const fresh = $derived(
    doing.filter(
      (item, n) =>
        item.first_time &&
        (item.clip || item.picture) &&
        doing.findIndex((other) => other.exercise === item.exercise) === n
    )
  )
</script>

<h1 class="mt-2 text-display">
  {clock(player.session.seconds)} minutes,
  {doing.length}
  {doing.length === 1 ? 'exercise' : 'exercises'}
</h1>
<p class="mt-2 text-big">Prop the phone where you see it. After this you need no hands.</p>
<p class="mt-4 text-big font-bold">Have ready</p>
<ul class="mt-1 list-disc pl-6 text-big">
  {#each needs as need (need)}<li>{need}</li>{/each}
</ul>
{#if fresh.length}
  <p class="mt-4 text-big font-bold">New today: see it first</p>
  <div class="mt-1 grid gap-2">
    {#each fresh as item (item.exercise)}<See {item} touched={() => (held = true)} />{/each}
  </div>
{/if}
{#each [...player.out] as [id, why] (id)}
  <p class="mt-2 text-sub text-night-soft">
    {player.session.items.find((i) => i.exercise === id)?.name} is left out: {why}.
  </p>
{/each}
{#if waits}<label
    class="mt-3 flex min-h-wet items-center gap-4 rounded border-2 border-night-text px-4 text-big font-bold"
    ><input type="checkbox" class="size-7" bind:checked={out} />My contact lenses are out</label
  >{/if}
<div class="mt-5"><Helps {mirror} touched={() => (held = true)} /></div>
<p class="mt-5 text-sub text-night-soft">
  Pain means stop. Breathe, keep the teeth apart, never drag the skin. A tap anywhere pauses.
</p>
<div class="mt-auto grid gap-3 pt-4">
  <p class="text-center text-huge font-bold" role="timer">
    {waits && !out ? 'Lenses out first' : held ? ' ' : `Begins in ${left}`}
  </p>
  <button
    class="min-h-thumb rounded bg-night-text text-title font-bold text-night disabled:opacity-40"
    disabled={waits && !out}
    onclick={begin}>Begin</button
  >
  <a href="/today" class="flex min-h-press items-center justify-center text-head text-night-soft underline"
    >Not now</a
  >
</div>
