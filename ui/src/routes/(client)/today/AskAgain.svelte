<script lang="ts">
  import Changed from '$lib/safety/Changed.svelte'
  import type { Days } from '$lib/offline/db'
  import { keepHere, queue } from '$lib/offline/queue.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'

  /** Health is asked again: after a pause practice waits for it, once a week it is a line; at any time there is a way to it. */
  let { view, halted }: { view: Days; halted: () => void } = $props()
  let open = $state(false)
  const answered = $derived(
    queue.waiting.some(({ entry }) => entry.kind === 'asked' || entry.kind === 'answer')
  )
  const ask = $derived(answered ? null : view.ask)

  async function nothing() {
    await keepHere({ kind: 'asked', id: crypto.randomUUID(), said_at: new Date().toISOString() })
  }
  const big = 'act min-h-wet w-full text-big'
</script>

{#if ask}
  <section
    aria-label="Has something changed"
    class={ask.first ? '' : 'mt-6 border-l-4 border-mark-watch pl-3'}
  >
    {#if ask.first}<p class="mt-5 text-soft">Before you go on</p>
      <h1 class="mt-1 text-title leading-tight">Has something changed in your health?</h1>
    {:else}<h2 class="text-big">Has something changed in your health?</h2>{/if}
    <p class="mt-2">
      {ask.because} An illness, an injury, a treatment of the face, a medicine: it may decide on what you practise.
    </p>
    <div class="mt-4 grid gap-3">
      <button class={ask.first ? big : 'act min-h-press act-quiet'} onclick={nothing}
        >Nothing has changed</button
      >
      <button
        class={ask.first ? `${big} act-quiet` : 'act min-h-press act-quiet'}
        onclick={() => (open = true)}>Something has changed</button
      >
    </div>
  </section>
{:else}
  <p class="mt-2">
    <button class="inline-flex min-h-touch items-center text-left link" onclick={() => (open = true)}
      >Something has changed in my health</button
    >
  </p>
{/if}
<Dialog bind:open title="Something has changed">
  <Changed
    {view}
    halted={() => {
      open = false
      halted()
    }}
    told={() => (open = false)}
  />
</Dialog>
