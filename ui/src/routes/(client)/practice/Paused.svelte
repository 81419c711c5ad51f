<script lang="ts">
  import type { Mirror } from '$lib/practice/mirror.svelte'
  import type { Player } from '$lib/practice/player.svelte'
  import Helps from './Helps.svelte'
  import See from './See.svelte'

  /** What can be done while practice stands still, with keys that oily fingers find. */
  let {
    player,
    mirror,
    skip,
    changed
  }: { player: Player; mirror: Mirror; skip: () => void; changed: () => void } = $props()
  let more = $state(false)
  const key = 'min-h-hand rounded border-2 border-night-soft px-2 text-big leading-tight font-semibold'
</script>

<div class="mt-3 mb-3 grid grid-cols-2 gap-3 landscape:grid-cols-5">
  <button
    class="col-span-2 min-h-wet rounded border-2 border-night-text text-huge font-bold landscape:col-span-1"
    onclick={() => player.toggle()}>Go on</button
  >
  <button class={key} onclick={() => player.back()}>One back</button>
  <button class={key} onclick={skip}>Skip this</button>
  {#if player.canEase && !player.isEased}<button class={key} onclick={() => player.ease()}
      >Easier version</button
    >{:else}<p class="{key} flex items-center justify-center border-transparent">
      {player.easedForThem ? 'Eased for you' : player.isEased ? 'Easier, on' : ''}
    </p>{/if}
  <button class={key} aria-expanded={more} onclick={() => (more = !more)}>Sound and mirror</button>
</div>
{#if more}<div class="mb-3"><Helps {mirror} /></div>{/if}
{#if player.item?.clip || player.item?.picture}
  {#key player.item.exercise}<div class="mb-3 grid gap-2"><See item={player.item} /></div>{/key}
{/if}
<button class="mb-3 min-h-press text-left text-head text-night-soft underline" onclick={changed}
  >Something has changed in my health</button
>
{#if player.isEased && player.item?.eased}<p class="mb-3 text-head">Easier: {player.item.eased}</p>{/if}
