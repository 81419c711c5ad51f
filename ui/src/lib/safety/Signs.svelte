<script lang="ts">
  import type { Days } from '$lib/offline/db'
  import { keepHere, type Keep } from '$lib/offline/queue.svelte'

  /**
   * The sudden signs, to be told at any moment. One that is told stops everything on this device at once, whether there is
   * a connection or not; a second touch makes sure that it was meant.
   */
  let {
    view,
    told,
    back,
    none = 'None of these; go back',
    night = false,
    keep = keepHere
  }: {
    view: Pick<Days, 'signs'>
    told: () => void
    back: () => void
    none?: string
    night?: boolean
    /** Where an answer goes: the outbox of this device, or a link's own address. */
    keep?: Keep
  } = $props()
  let asked = $state<Days['signs'][number] | null>(null)
  /** By what they concern, in the order of the table: what a frightened person looks for stands under one word. */
  const kin = $derived([...new Set(view.signs.map((s) => s.kin))])
  const edge = $derived(night ? 'border-night-soft' : 'border-edge')

  async function tell(sign: Days['signs'][number]) {
    await keep({
      kind: 'answer',
      id: crypto.randomUUID(),
      caution: sign.id,
      answer: 'yes',
      regions: [],
      said_at: new Date().toISOString()
    })
    told()
    window.scrollTo({ top: 0 }) // what to do now stands first on the page
  }
</script>

{#if asked}
  <h1 class="mt-3 text-title leading-tight">{asked.ask}</h1>
  <p class="mt-3 text-head">New, and sudden? Then this comes before anything else.</p>
  <div class="mt-6 grid gap-4">
    <button
      class="min-h-thumb rounded bg-stop px-4 text-huge leading-tight font-bold text-white"
      onclick={() => asked && tell(asked)}>Yes. Stop everything</button
    >
    <button class="min-h-wet rounded border-2 {edge} text-big" onclick={() => (asked = null)}
      >No, go back</button
    >
  </div>
  <p class="mt-5 text-sub {night ? 'text-night-soft' : 'text-soft'}">
    A face that has always been a little uneven is no sudden sign.
  </p>
{:else}
  <h1 class="mt-3 text-title leading-tight">Is one of these new?</h1>
  <p class="mt-1 text-sub {night ? 'text-night-soft' : 'text-soft'}">
    New and sudden. What has always been so is no sign.
  </p>
  {#each kin as name (name)}
    <h2 class="mt-4 text-head">{name}</h2>
    <ul class="mt-2 grid gap-2">
      {#each view.signs.filter((s) => s.kin === name) as sign (sign.id)}
        <li>
          <button
            class="min-h-hand w-full rounded border-2 {edge} px-3 py-1 text-left text-head leading-tight font-semibold"
            onclick={() => (asked = sign)}>{sign.name}</button
          >
        </li>
      {/each}
    </ul>
  {/each}
  <button class="mt-5 min-h-wet w-full rounded border-2 {edge} text-big font-bold" onclick={back}
    >{none}</button
  >
{/if}
