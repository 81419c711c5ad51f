<script lang="ts">
  import { goto } from '$app/navigation'
  import { handIn, put, waiting } from '$lib/practice/outbox'
  import type { Player } from '$lib/practice/player.svelte'

  /** The end: effort and a note, then the log is kept here first and handed in once. */
  let { player }: { player: Player } = $props()
  const id = crypto.randomUUID()
  let note = $state('')
  let phase = $state<'asking' | 'sending' | 'sent' | 'waiting'>('asking')
  let refused = $state<string[]>([])

  async function done(effort: number | null) {
    put(player.report(id, effort, note))
    phase = 'sending'
    refused = await handIn()
    phase = waiting().some((r) => r.id === id) ? 'waiting' : 'sent'
    if (phase === 'sent' && !refused.length) await goto('/today')
  }
</script>

<h1 class="mt-4 text-[34px]">That was all</h1>
{#if phase === 'asking'}
  <p class="mt-3 text-[24px]">How hard was it? 0 is nothing, 10 is the hardest.</p>
  <div class="mt-4 grid grid-cols-4 gap-3">
    {#each [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as n (n)}
      <button
        class="min-h-[64px] rounded border-2 border-night-soft text-[26px] font-bold {n >= 3 && n <= 7
          ? 'bg-night-raised'
          : ''}"
        onclick={() => done(n)}>{n}</button
      >
    {/each}
    <button class="min-h-[64px] text-[19px] underline" onclick={() => done(null)}>no answer</button>
  </div>
  <p class="mt-2 text-[18px] text-night-soft">3 to 7 is where most work belongs.</p>
  <label class="mt-5 grid gap-2 text-[20px]"
    >A word to your coach, if you like<textarea
      class="min-h-[80px] rounded border-2 border-night-soft bg-night p-3 text-[20px]"
      bind:value={note}></textarea></label
  >
{:else if phase === 'sending'}<p class="mt-4 text-[22px]" role="status">Handing it in …</p>
{:else if phase === 'waiting'}
  <p class="mt-4 text-[22px]" role="status">
    No connection. The session is kept on this phone and handed in later, once.
  </p>
  <a href="/today" class="mt-6 text-[22px] underline">Back to today</a>
{/if}
{#each refused as text (text)}<p role="alert" class="mt-4 text-[22px]">{text}</p>{/each}
{#if refused.length}<a href="/today" class="mt-4 text-[22px] underline">Back to today</a>{/if}
