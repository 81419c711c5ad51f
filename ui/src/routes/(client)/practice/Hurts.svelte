<script lang="ts">
  import type { Pain } from '$lib/offline/db'
  import type { Player } from '$lib/practice/player.svelte'

  /** Pain stops an exercise. Which, where, how much and since when are asked with large buttons; nothing is told until the
   * last button, and it can be taken back for a minute after. */
  let {
    player,
    stop,
    ends,
    sign,
    back
  }: {
    player: Player
    stop: (exercise: string, pain: Pain) => void
    ends: (pain: Pain) => boolean
    sign: () => void
    back: () => void
  } = $props()
  const here = $derived(player.cue?.item ?? 0)
  /** The running exercise first, then those that were done before it. */
  const exercises = $derived([
    ...new Map(
      player.session.items
        .slice(0, here + 1)
        .reverse()
        .map((i) => [i.exercise, i.name])
    )
  ])
  const places = $derived(
    [
      ...new Set([
        ...player.session.items.flatMap((i) => i.regions),
        'jaw joint',
        'temple',
        'ear',
        'teeth',
        'shoulder'
      ])
    ].sort()
  )
  const TIMES = ['just now', 'the last session', 'yesterday', 'some days', 'weeks or longer']
  let chosen = $state<string | null>(null)
  const exercise = $derived(chosen ?? exercises[0]?.[0] ?? '')
  let side = $state<Pain['side'] | null>(null)
  let where = $state('')
  let since = $state('just now')
  let level = $state<number | null>(null)
  const pain = $derived<Pain | null>(level === null ? null : { side: side ?? 'both', level, where, since })
  const big =
    'min-h-hand rounded border-2 border-night-soft px-2 text-head leading-tight font-semibold aria-pressed:bg-night-text aria-pressed:text-night'
</script>

<div class="min-h-0 grow overflow-y-auto pb-3">
  <button
    class="mt-1 min-h-wet w-full rounded bg-stop px-3 text-head leading-tight font-bold text-white"
    onclick={sign}>Face suddenly uneven, numb, weak or drooping? Seeing double? Touch here</button
  >
  <h1 class="mt-4 text-title">What hurts?</h1>
  <div class="mt-2 grid gap-2" role="group" aria-label="Which exercise">
    {#each exercises as [id, name] (id)}<button
        class="{big} text-left"
        aria-pressed={exercise === id}
        onclick={() => (chosen = id)}>{name}</button
      >{/each}
  </div>
  <p class="mt-4 text-big font-bold">How much, of 10?</p>
  <div class="mt-2 grid grid-cols-5 gap-3" role="group" aria-label="How much">
    {#each [1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as n (n)}<button
        class={big}
        aria-pressed={level === n}
        onclick={() => (level = n)}>{n}</button
      >{/each}
  </div>
  <p class="mt-4 text-big font-bold">Which side, your own?</p>
  <div class="mt-2 grid grid-cols-3 gap-3" role="group" aria-label="Which side">
    {#each ['right', 'left', 'both'] as const as s (s)}<button
        class={big}
        aria-pressed={side === s}
        onclick={() => (side = s)}>{s}</button
      >{/each}
  </div>
  <p class="mt-4 text-big font-bold">Where?</p>
  <div class="mt-2 grid grid-cols-3 gap-2" role="group" aria-label="Where">
    {#each places as p (p)}<button class={big} aria-pressed={where === p} onclick={() => (where = p)}
        >{p}</button
      >{/each}
  </div>
  <p class="mt-4 text-big font-bold">Since when?</p>
  <div class="mt-2 grid grid-cols-2 gap-2" role="group" aria-label="Since when">
    {#each TIMES as t (t)}<button class={big} aria-pressed={since === t} onclick={() => (since = t)}
        >{t}</button
      >{/each}
  </div>
</div>
<div class="grid shrink-0 gap-2 pt-2">
  <button
    class="min-h-thumb rounded bg-night-text text-big leading-tight font-bold text-night disabled:opacity-40"
    disabled={pain === null}
    onclick={() => pain && stop(exercise, pain)}
    >{pain === null
      ? 'Say how much first'
      : ends(pain)
        ? 'Stop it, and end the session'
        : 'Stop it, and go on with what is safe'}</button
  >
  <button class="min-h-press text-head text-night-soft underline" onclick={back}
    >It does not hurt; go back</button
  >
</div>
