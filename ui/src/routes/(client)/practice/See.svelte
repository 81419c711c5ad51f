<script lang="ts">
  import Shown from '$lib/exercises/Shown.svelte'
  import { shown } from '$lib/offline/shown.svelte'
  import type { Session } from '$lib/practice/lay'

  /** An exercise as the coach shows it, opened by a touch. */
  let { item, touched }: { item: Session['items'][number]; touched?: () => void } = $props()
  let open = $state(false)
</script>

<button
  class="flex min-h-hand items-center justify-between gap-3 rounded border-2 border-night-soft px-3 text-left text-big font-semibold"
  aria-expanded={open}
  onclick={() => {
    open = !open
    touched?.()
  }}
  ><span>{item.name}</span><span class="shrink-0 text-head text-night-soft"
    >{open ? 'close' : item.clip ? `clip, ${Math.round(item.clip.seconds)} s` : 'picture'}</span
  ></button
>
{#if open}<Shown clip={item.clip} picture={item.picture} name={item.name} kept={shown.at} />{/if}
