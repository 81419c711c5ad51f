<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { page } from '$app/state'
  import { goto } from '$app/navigation'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { here, longDate } from '$lib/format'
  import PasswordField from '$lib/people/PasswordField.svelte'
  import { isSenior, session } from '$lib/people/session.svelte'
  import Ends from '$lib/records/Ends.svelte'
  import Goes from '$lib/records/Goes.svelte'
  import Held from '$lib/records/Held.svelte'
  import Trail from '$lib/records/Trail.svelte'
  import ClientHead from '../ClientHead.svelte'

  /** A client's record as a whole: what is held and for how long, who looked, archive, and its end. */
  const id = $derived(page.params.id ?? '')
  let record = $state.raw<Schemas['RecordView'] | null>(null)
  let problem = $state('')
  let said = $state('')
  let taking = $state(false)
  let erasing = $state(false)
  let busy = $state(false)
  let until = $state('')
  let name = $state('')
  let password = $state('')
  let reason = $state('')
  const senior = $derived(isSenior())
  const params = $derived({ path: { client_id: id } })

  const read = async () => {
    record = await ask(api.GET('/api/clients/{client_id}/record', { params }))
    until = record.kept_until ?? ''
  }
  const tried = (words: string, work: () => Promise<unknown>) => {
    problem = said = ''
    return attempt(
      (why) => (problem = why),
      async () => {
        await work()
        await read()
        said = words
      }
    )
  }
  onMount(() => attempt((why) => (problem = why), read))

  const archive = (archived: boolean) =>
    tried(
      archived
        ? 'In the archive: away from the desk, and nothing of the record is gone.'
        : 'Back from the archive.',
      () => ask(api.PUT('/api/clients/{client_id}/archived', { params, body: { archived } }))
    )
  const keep = (day: string | null) =>
    tried(day ? `Kept until ${longDate(day)} at least.` : 'Kept as long as everything else.', () =>
      ask(api.PUT('/api/clients/{client_id}/kept-until', { params, body: { until: day } }))
    )
  async function erase(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    busy = true
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/clients/{client_id}/erase', { params, body: { name, password, reason } }))
        await goto('/clients')
      }
    )
    busy = false
  }
</script>

<svelte:head><title>Record{record ? ` of ${record.name}` : ''} · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-4 pb-16">
  {#if record}
    <ClientHead name={record.name} {id} place="record">
      {record.archived_at ? `In the archive since ${longDate(record.archived_at.slice(0, 10))}` : ''}
    </ClientHead>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    {#if said}<p role="status" class="mt-3 border-l-4 border-fine pl-3">{said}</p>{/if}
    <div class="mt-5 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-12 gap-y-8">
      <section aria-label="What is held">
        <h2>What is held</h2>
        <Held held={record.held} />
        {#if record.own && senior}
          <p class="mt-3">
            <a
              class="act inline-flex items-center act-quiet"
              href="/api/clients/{id}/record.zip"
              download
              onclick={() => (taking = true)}>Take everything out</a
            >
          </p>
          <p class="mt-1 text-row text-soft" role={taking ? 'status' : undefined}>
            {taking
              ? 'It is being put together; your browser keeps it as one file.'
              : 'For the client, as one file. They can do it themselves under Settings, Your record, and see that you did.'}
          </p>
        {:else}<p class="mt-2 text-row text-soft">
            {record.coach || 'The coach who took the client on'} and the client can take everything out.
          </p>{/if}
      </section>
      <section aria-label="Who looked">
        <h2>Who looked</h2>
        <p class="mt-1 text-row text-soft">The client sees the same list. Nobody can change it.</p>
        {#if record.own || record.may_erase}<Trail
            steps={record.steps}
            zone={session.me?.time_zone}
          />{:else}<p class="mt-2">
            It is for the client, {record.coach || 'their coach'} and the owner of the practice.
          </p>{/if}
      </section>
      <section aria-label="Archive">
        <h2>Archive</h2>
        {#if record.archived_at}
          <p class="mt-1">Away from desk and list. Whatever the client says or does brings them back.</p>
          {#if senior}<button class="mt-2 act" onclick={() => archive(false)}>Bring back</button>{/if}
        {:else}
          <p class="mt-1">
            For a course that is over: away from desk and list, and nothing of the record goes.
            {record.running ? 'A program runs; end it first.' : ''}
          </p>
          {#if senior && !record.running}<button class="mt-2 act act-quiet" onclick={() => archive(true)}
              >Put into the archive</button
            >{/if}
        {/if}
      </section>
      <section aria-label="How long it is kept">
        <h2>How long it is kept</h2>
        <Ends {record} />
        {#if senior}
          <form
            class="mt-3 flex flex-wrap items-end gap-3"
            onsubmit={(e) => {
              e.preventDefault()
              void keep(until)
            }}
          >
            <label class="grid gap-1"
              >Keep at least until<WhenField required min={here()} bind:value={until} /></label
            >
            <button class="act act-quiet">Keep until then</button>
            {#if record.kept_until}<button type="button" class="link" onclick={() => keep(null)}
                >As everything else</button
              >{/if}
          </form>
        {/if}
      </section>
      <section class="col-span-2 border-t border-rule pt-6" aria-label="Erase">
        <h2>Erase everything</h2>
        {#if !record.may_erase}
          <p class="mt-1">
            The client does it under Settings, Your record; an owner of the practice does it here.
          </p>
        {:else if !erasing}
          <p class="mt-1">
            When the client asks for it, or the record was made by mistake. It cannot be undone.
          </p>
          <button class="mt-2 act act-quiet" onclick={() => (erasing = true)}>What would be erased …</button>
        {:else}
          <div class="mt-3 grid grid-cols-2 gap-10 border-2 border-stop p-5">
            <Goes {record} />
            <form class="grid content-start gap-4" onsubmit={erase}>
              <label class="grid gap-1"
                >Why<select class="field" required bind:value={reason}>
                  <option value="" disabled>choose</option>
                  <option value="asked for">The client asked for it</option>
                  <option value="mistake">The record was made by mistake</option>
                </select></label
              >
              <label class="grid gap-1"
                >Write the client’s name: {record.name}<input
                  class="field"
                  autocomplete="off"
                  required
                  bind:value={name}
                /></label
              >
              <PasswordField label="Your own password" bind:value={password} />
              <div class="flex gap-3">
                <button class="act act-stop" disabled={busy}>{busy ? 'Erasing …' : 'Erase everything'}</button
                >
                <button type="button" class="act act-quiet" onclick={() => (erasing = false)}>Leave it</button
                >
              </div>
            </form>
          </div>
        {/if}
      </section>
    </div>
  {:else if problem}<p role="alert" class="text-stop">{problem}</p>{:else}<p class="text-soft" role="status">
      Reading …
    </p>{/if}
</main>
