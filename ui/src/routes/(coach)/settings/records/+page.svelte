<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { longDate } from '$lib/format'
  import { session } from '$lib/people/session.svelte'

  /** How long the practice keeps photographs and records, and what stays of whom it erased. */
  let keeps = $state<Schemas['KeepingView'] | null>(null)
  let stones = $state.raw<Schemas['ErasureView'][]>([])
  let problem = $state('')
  let said = $state('')
  const owns = $derived(session.me?.standing === 'owner')
  const SPANS = [
    [null, 'without end'],
    [6, '6 months'],
    [12, '1 year'],
    [24, '2 years'],
    [36, '3 years'],
    [60, '5 years'],
    [84, '7 years'],
    [120, '10 years'],
    [180, '15 years'],
    [360, '30 years']
  ] as const
  const WHO = { client: 'by the client', owner: 'by an owner', age: 'for its age' }

  const read = async () => {
    keeps = await ask(api.GET('/api/settings/keeping'))
    if (owns) stones = await ask(api.GET('/api/erasures'))
  }
  onMount(() => attempt((why) => (problem = why), read))
  const keep = (event: SubmitEvent) => {
    event.preventDefault()
    problem = said = ''
    return attempt(
      (why) => (problem = why),
      async () => {
        if (!keeps) return
        await ask(api.PUT('/api/settings/keeping', { body: keeps }))
        said = 'Kept. Whoever it concerns is told 30 days before anything goes.'
      }
    )
  }
</script>

<svelte:head><title>Records · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-6 pb-12">
  <h1>Records</h1>
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
  {#if said}<p role="status" class="mt-3 border-l-4 border-fine pl-3">{said}</p>{/if}
  {#if keeps}
    <form class="mt-4 grid max-w-page gap-4" onsubmit={keep}>
      <p>
        How long after the last course, and after whatever else happened last. Client and coach get a letter
        30 days before; without that letter nothing goes. While a program runs nothing goes.
      </p>
      <div class="flex flex-wrap gap-5">
        {#each [['keep_photographs_months', 'Photographs are kept'], ['keep_records_months', 'The whole record is kept']] as const as [key, label] (key)}
          <label class="grid gap-1"
            >{label}<select class="field !w-auto" disabled={!owns} bind:value={keeps[key]}>
              {#each SPANS as [months, words] (words)}<option value={months}>{words}</option>{/each}
              {#if !SPANS.some(([m]) => m === keeps?.[key])}<option value={keeps[key]}
                  >{keeps[key]} months</option
                >{/if}
            </select></label
          >
        {/each}
      </div>
      <label class="grid gap-1"
        >What your local law makes you keep outside Dimbo
        <textarea
          class="field min-h-24 py-2"
          maxlength="600"
          disabled={!owns}
          placeholder="such as: bills, for seven years"
          bind:value={keeps.kept_by_law}></textarea></label
      >
      <p class="text-row text-soft">
        Clients read it before they erase themselves. How long health records have to be kept differs from
        place to place; ask whoever knows your local rules before you choose.
      </p>
      {#if owns}<button class="act justify-self-start">Keep these</button>{:else}<p>
          An owner of the practice decides.
        </p>{/if}
    </form>
    {#if owns}
      <section class="mt-10 max-w-page" aria-label="Erased">
        <h2>Erased</h2>
        <p class="mt-1 text-row text-soft">What stays of each: no name, only that it was done.</p>
        <ul class="mt-2">
          {#each stones as e (e.erased_client)}<li class="border-b border-rule py-1.5">
              {longDate(e.erased_at.slice(0, 10))}, {WHO[e.by_whom]}: {e.reason}
              <span class="ml-2 text-small text-soft">record {e.erased_client.slice(0, 8)}</span>
            </li>{:else}<li class="py-1.5 text-soft">Nobody yet.</li>{/each}
        </ul>
      </section>
    {/if}
  {:else if !problem}<p class="mt-4 text-soft" role="status">Reading …</p>{/if}
</main>
