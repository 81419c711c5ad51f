<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, Problem, words, type Schemas } from '$lib/api/client'
  import { longDate } from '$lib/format'
  import { db } from '$lib/offline/db'
  import Back from '$lib/parts/Back.svelte'
  import { session } from '$lib/people/session.svelte'
  import LetterPaper from '$lib/results/LetterPaper.svelte'

  /** Letters from the coach, the newest open; kept on this phone and read without a connection, without their photographs. */
  let letters = $state<Schemas['OwnLetter'][] | null>(null)
  let chosen = $state('')
  let problem = $state('')
  let keptOnly = $state(false)
  onMount(async () => {
    const kept = await db()
    const account = session.me?.client_id ?? ''
    try {
      letters = await ask(api.GET('/api/my-letters'))
      await kept.put('letters', $state.snapshot(letters), account)
    } catch (error) {
      const before = error instanceof Problem && error.status === 0 && (await kept.get('letters', account))
      if (before) {
        letters = before
        keptOnly = true
      } else problem = words(error)
    }
    await open(letters?.[0]?.id ?? '')
  })
  const shown = $derived(letters?.find((l) => l.id === chosen))
  async function open(id: string) {
    chosen = id
    const at = letters?.find((l) => l.id === id)
    if (!at || at.opened || keptOnly) return
    at.opened = true
    await ask(api.POST('/api/my-letters/{letter_id}/opened', { params: { path: { letter_id: id } } })).catch(
      () => undefined
    )
  }
</script>

<svelte:head><title>My letters · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column-wide px-5 pb-10 text-head">
  <Back href="/my-course" name="My course" />
  <h1 class="text-display">My letters</h1>
  {#if problem}<p role="alert" class="mt-3">{problem}</p>{/if}
  {#if keptOnly}<p role="status" class="mt-3 border-l-4 border-mark-watch pl-3">
      No connection. The letters are kept on this phone; their photographs are not.
    </p>{/if}
  {#if letters && !letters.length}
    <p class="mt-3">
      No letters yet. When your coach writes what came of your practice, it stands here and stays.
    </p>
  {:else if letters}
    {#if letters.length > 1}
      <ul class="mt-3">
        {#each letters as l (l.id)}
          <li>
            <button
              class="block min-h-press w-full border-b border-rule py-2 text-left {l.id === chosen
                ? 'font-bold'
                : ''}"
              aria-current={l.id === chosen}
              onclick={() => open(l.id)}
              >{l.letter.title}<span class="block text-lead font-normal text-soft"
                >{longDate(l.sent_at.slice(0, 10))}{l.opened ? '' : ', new'}</span
              ></button
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#if shown}
      <div class="mt-5 border border-ink bg-sheet px-5 py-6">
        <LetterPaper
          letter={shown.letter}
          missing={keptOnly ? 'need a connection' : shown.has_pdf ? '' : 'are no longer kept'}
        />
      </div>
      {#if shown.has_pdf && !keptOnly}<a
          class="mt-4 act min-h-press act-quiet"
          href="/api/letters/{shown.id}.pdf"
          download>Save it as a file</a
        >{/if}
    {/if}
  {:else if !problem}<p class="mt-6 text-soft" role="status">Reading your letters …</p>{/if}
</main>
