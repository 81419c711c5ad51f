<script lang="ts">
  import { forget, handIn, queue } from '$lib/offline/queue.svelte'
  import { signIn } from '$lib/people/session.svelte'
  import { offer } from '$lib/parts/undo.svelte'

  /** What waits on this device, what was not taken and why, and what the server said of what it took. */
  const names = {
    log: 'session',
    'check-in': 'check-in',
    habit: 'habit',
    message: 'message',
    answer: 'answer',
    asked: 'answer',
    born: 'answer',
    agree: 'agreement'
  } as const
  async function read(w: (typeof queue.refused)[number]) {
    offer(`The ${names[w.entry.kind]} is taken away.`, await forget(w))
  }
  /** With `halted` what the server said is not repeated: the page says it, larger. */
  let { halted = false }: { halted?: boolean } = $props()
  /** Answers are handed in when all are given; until then they only wait for the next one. */
  const waiting = $derived(
    queue.waiting.filter(({ entry }) => queue.held || (entry.kind !== 'answer' && entry.kind !== 'agree'))
  )
  const told = $derived.by(() => {
    const count = new Map<string, number>()
    for (const { entry } of waiting) count.set(names[entry.kind], (count.get(names[entry.kind]) ?? 0) + 1)
    return [...count].map(([name, n]) => `${n} ${name}${n > 1 ? 's' : ''}`).join(', ')
  })
</script>

{#if waiting.length && !queue.sending}
  <div role="status" class="mt-4 border-l-4 border-mark-watch pl-3">
    <b>{told}</b> kept on this phone.
    {#if queue.held === 'signed-out'}
      You are signed out; it is handed in once you sign in again.
      <button class="min-h-touch link" onclick={signIn}>Sign in</button>
    {:else if queue.held === 'storage'}
      There is no room left on it: leave this page open until it is handed in.
      <button class="min-h-touch link" onclick={handIn}>Try now</button>
    {:else}
      {queue.held === 'server'
        ? 'The server cannot take it just now; it is tried again by itself.'
        : 'It is handed in by itself when there is a connection.'}
      <button class="min-h-touch link" onclick={handIn}>Try now</button>
    {/if}
  </div>
{/if}
{#each queue.refused as w (w.seq)}
  <div role="alert" class="mt-4 border-l-4 border-stop pl-3">
    A {names[w.entry.kind]} could not be taken: {w.refused}
    <button class="min-h-touch link" onclick={() => read(w)}>I have read it</button>
  </div>
{/each}
{#each halted ? [] : queue.said as text (text)}
  <p role="status" class="mt-4 border-l-4 border-mark-watch pl-3">{text}</p>
{/each}
