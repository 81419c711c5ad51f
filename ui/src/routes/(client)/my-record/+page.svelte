<script lang="ts">
  import Back from '$lib/parts/Back.svelte'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import PasswordField from '$lib/people/PasswordField.svelte'
  import { vanish } from '$lib/people/session.svelte'
  import Ends from '$lib/records/Ends.svelte'
  import Goes from '$lib/records/Goes.svelte'
  import Held from '$lib/records/Held.svelte'
  import Trail from '$lib/records/Trail.svelte'

  /** Everything that is held of the client: how much, for how long, who looked, to take out and to erase. */
  let record = $state.raw<Schemas['RecordView'] | null>(null)
  let problem = $state('')
  let taking = $state(false)
  let erasing = $state(false)
  let sure = $state(false)
  let busy = $state(false)
  let gone = $state(false)
  let password = $state('')

  const read = () =>
    attempt(
      (why) => (problem = why),
      async () => {
        record = await ask(api.GET('/api/my-record'))
      }
    )
  onMount(read)

  async function erase(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    busy = true
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/my-record/erase', { body: { password } }))
        await vanish()
        gone = true
      }
    )
    busy = false
  }
</script>

<svelte:head><title>Your record · Dimbo</title></svelte:head>
<main class="mx-auto large max-w-column px-5 pb-10 text-sub">
  {#if gone}
    <h1 class="mt-5 text-title">Everything of you is erased</h1>
    <p class="mt-3" role="status">
      You are signed out, and nothing is left on this device. If you come back one day, you begin anew.
    </p>
  {:else}
    <Back href="/my-settings" name="Settings" />
    <h1 class="text-title">Your record</h1>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    {#if record}
      <section class="mt-4" aria-label="What is held">
        <h2>What {record.practice} holds of you</h2>
        <Held held={record.held} />
        <a
          class="mt-4 act inline-flex min-h-press items-center"
          href="/api/my-record.zip"
          download
          onclick={() => (taking = true)}>Take everything out</a
        >
        <p class="mt-2 text-row text-soft" role={taking ? 'status' : undefined}>
          {taking
            ? 'It is being put together; with many photographs this takes some seconds. Your browser then keeps one file.'
            : 'One file to keep: a page to read, your photographs, tables for a spreadsheet, and everything for programs.'}
        </p>
      </section>
      <section class="mt-8" aria-label="How long it is kept">
        <h2>How long it is kept</h2>
        <Ends {record} mine />
      </section>
      <section class="mt-8" aria-label="Who looked">
        <h2>Who looked at your photographs</h2>
        <p class="mt-1 text-row text-soft">
          Each look by somebody else stands here, once an hour and photograph. Nobody can change this list.
        </p>
        <Trail steps={record.steps} />
      </section>
      <section class="mt-8" aria-label="Erase">
        <h2>Erase everything</h2>
        {#if !erasing}
          <p class="mt-1">
            To stop practising, nothing has to be erased: your coach ends the program, and you can take back
            what you agreed to.
          </p>
          <p>
            <a class="inline-flex min-h-touch items-center link" href="/agreements">What you agreed to</a>
          </p>
          <button class="mt-2 act min-h-press act-quiet" onclick={() => (erasing = true)}
            >What would be erased …</button
          >
        {:else}
          <div class="mt-3 border-2 border-stop p-4">
            <Goes {record} mine />
            <form class="mt-5 grid gap-4" onsubmit={erase}>
              <label class="flex min-h-touch items-center gap-3"
                ><input type="checkbox" class="size-6 shrink-0" required bind:checked={sure} /> It cannot be undone,
                and I want it.</label
              >
              <PasswordField label="Your password" bind:value={password} />
              <div class="flex flex-wrap gap-3">
                <button class="act min-h-press act-stop" disabled={busy || !sure}
                  >{busy ? 'Erasing …' : 'Erase everything of me'}</button
                >
                <button type="button" class="act min-h-press act-quiet" onclick={() => (erasing = false)}
                  >Leave it</button
                >
              </div>
            </form>
          </div>
        {/if}
      </section>
    {:else if !problem}<p class="mt-4 text-soft" role="status">Reading …</p>{/if}
  {/if}
</main>
