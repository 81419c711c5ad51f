<script lang="ts">
  import { goto } from '$app/navigation'
  import { onMount } from 'svelte'
  import { handIn, heard, put, queue } from '$lib/offline/queue.svelte'
  import { helps, say } from '$lib/practice/helps.svelte'
  import type { Form, Player } from '$lib/practice/player.svelte'
  import { drop, playedOf } from '$lib/practice/plays'
  import { sound, tremble } from '$lib/practice/tones'
  import { clock } from '$lib/format'

  /** The end: where it was felt, effort and a note, then the log is kept here first and handed in once. */
  let { player }: { player: Player } = $props()
  // svelte-ignore state_referenced_locally
  const kept = player.play()
  const { id, account } = kept
  /** Ended before its end: it can be gone on with, now or later. */
  // svelte-ignore state_referenced_locally
  const early = player.left >= 1
  let note = $state('')
  let form = $state<Form | null>(null)
  let phase = $state<'asking' | 'sending' | 'waiting' | 'told'>('asking')
  const refusal = $derived(queue.refused.find((w) => w.entry.id === id)?.refused ?? '')
  const forms = [
    ['yes', 'yes'],
    ['partly', 'partly'],
    ['no', 'no']
  ] as const

  onMount(() => {
    if (helps.tones) sound('end')
    if (helps.tremble) tremble('end')
    say(early ? 'What you did is kept.' : 'That was all. Thank you.')
  })

  async function done(effort: number | null) {
    phase = 'sending'
    heard()
    await put(player.log(effort, form, note))
    player.close()
    await drop(account)
    await handIn()
    const waits = queue.waiting.some((w) => w.entry.id === id)
    phase = waits ? 'waiting' : 'told'
    if (!waits && !refusal && !queue.said.length) await goto('/today')
  }
</script>

<h1 class="mt-4 text-display">{early ? 'Ended for today' : 'That was all'}</h1>
{#if phase === 'asking'}
  {#if early}<p class="mt-2 text-head">
      What you did is kept, {clock(playedOf(kept))} of {clock(player.session.seconds)}. The rest can wait.
      <button class="min-h-press font-bold underline" onclick={() => player.unend()}>Go on instead</button>
    </p>{/if}
  <p class="mt-3 text-big font-bold">Felt in the right place?</p>
  <div class="mt-2 grid grid-cols-3 gap-3">
    {#each forms as [value, name] (value)}
      <button
        class="min-h-hand rounded border-2 border-night-soft text-big font-semibold aria-pressed:bg-night-text aria-pressed:text-night"
        aria-pressed={form === value}
        onclick={() => (form = form === value ? null : value)}>{name}</button
      >
    {/each}
  </div>
  <label class="mt-4 grid gap-1 text-big font-bold"
    >A word to your coach<input
      class="min-h-hand rounded border-2 border-night-soft bg-night px-3 text-head font-normal"
      maxlength="2000"
      bind:value={note}
    /></label
  >
  <p class="mt-5 text-big font-bold">How hard was it? This ends it.</p>
  <p class="text-sub text-night-soft">0 is nothing, 10 the hardest. Most work belongs at 3 to 7.</p>
  <div class="mt-2 grid grid-cols-4 gap-3">
    {#each [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as n (n)}
      <button
        class="min-h-wet rounded border-2 border-night-soft text-huge font-bold {n >= 3 && n <= 7
          ? 'bg-night-raised'
          : ''}"
        onclick={() => done(n)}>{n}</button
      >
    {/each}
    <button class="min-h-wet text-head underline" onclick={() => done(null)}>no answer</button>
  </div>
{:else if phase === 'sending'}<p class="mt-4 text-big" role="status">Handing it in …</p>
{:else}
  {#if phase === 'waiting'}
    <p class="mt-4 text-big" role="status">
      {queue.held === 'signed-out'
        ? 'You are signed out. The session is kept on this phone and handed in once you sign in again.'
        : 'No connection. The session is kept on this phone and handed in later, once.'}
    </p>
  {/if}
  {#each queue.said as text (text)}<p role="status" class="mt-4 text-big">{text}</p>{/each}
  {#if refusal}<p role="alert" class="mt-4 text-big">{refusal}</p>{/if}
  <a
    href="/today"
    class="mt-6 flex min-h-wet items-center justify-center rounded bg-night-text text-huge font-bold text-night"
    >Back to today</a
  >
{/if}
