<script lang="ts">
  import Shown from '$lib/exercises/Shown.svelte'
  import { shown } from '$lib/offline/shown.svelte'
  import type { Session } from '$lib/practice/lay'

  /** An exercise as the coach shows it: a touch lays it over the whole page, another takes it away. */
  let { item, touched }: { item: Session['items'][number]; touched?: () => void } = $props()
  let sheet = $state<HTMLDialogElement>()
  let open = $state(false)
  $effect(() => {
    if (open) sheet?.showModal()
  })
</script>

<button
  class="flex min-h-hand items-center justify-between gap-3 rounded border-2 border-night-soft px-3 text-left text-big font-semibold"
  onclick={() => {
    open = true
    touched?.()
  }}
  ><span>{item.name}</span><span class="shrink-0 text-head text-night-soft"
    >{item.clip ? `clip, ${Math.round(item.clip.seconds)} s` : 'picture'}</span
  ></button
>
{#if open}
  <dialog
    bind:this={sheet}
    onclose={() => (open = false)}
    aria-label="{item.name}, shown by your coach"
    class="m-0 h-dvh max-h-none w-screen max-w-none bg-night p-5 text-night-text"
  >
    <div class="mx-auto flex h-full max-w-[60ch] flex-col">
      <h2 class="mb-3 text-huge leading-tight font-bold">{item.name}</h2>
      <div class="min-h-0 grow overflow-y-auto">
        <Shown clip={item.clip} picture={item.picture} name={item.name} kept={shown.at} />
        <p class="mt-3 text-big">{item.cues[0]}</p>
      </div>
      <button
        class="mt-3 min-h-thumb shrink-0 rounded bg-night-text text-title font-bold text-night"
        onclick={() => sheet?.close()}>Back</button
      >
    </div>
  </dialog>
{/if}
