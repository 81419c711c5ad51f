<script lang="ts">
  import type { Pain, Session } from '$lib/practice/player.svelte'

  /** Pain stops this exercise; where and how much is asked with large buttons. */
  let {
    item,
    stop,
    back
  }: {
    item: Session['items'][number]
    stop: (pain: Pain) => void
    back: () => void
  } = $props()
  let side = $state<Pain['side'] | null>(null)
  let where = $state('')
  const places = ['forehead', 'brow', 'eye', 'nose', 'cheek', 'mouth', 'jaw joint', 'neck', 'elsewhere']
  const big =
    'min-h-[56px] rounded border-2 border-night-soft text-[20px] font-semibold aria-pressed:bg-night-text aria-pressed:text-night'
</script>

<h1 class="mt-2 text-[29px]">{item.name} is stopped</h1>
<p class="mt-2 text-[20px]">Your coach is told, and decides when it goes on. {item.stop_rule}</p>
<p class="mt-4 text-[22px] font-bold">Which side, your own?</p>
<div class="mt-2 grid grid-cols-3 gap-3">
  {#each ['right', 'left', 'both'] as const as s (s)}<button
      class={big}
      aria-pressed={side === s}
      onclick={() => (side = s)}>{s}</button
    >{/each}
</div>
<p class="mt-4 text-[22px] font-bold">Where?</p>
<div class="mt-2 grid grid-cols-3 gap-3">
  {#each places as p (p)}<button class={big} aria-pressed={where === p} onclick={() => (where = p)}
      >{p}</button
    >{/each}
</div>
<p class="mt-4 text-[22px] font-bold">How much, of 10? Then we go on with what is safe.</p>
<div class="mt-2 grid grid-cols-5 gap-3">
  {#each [1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as n (n)}<button
      class={big}
      onclick={() => stop({ side: side ?? 'both', level: n, where })}>{n}</button
    >{/each}
</div>
<button class="mt-auto min-h-[52px] text-[20px] text-night-soft underline" onclick={back}
  >It does not hurt; go back</button
>
