<script lang="ts">
  import { isSenior } from '$lib/people/session.svelte'
  import WhenField from '$lib/parts/WhenField.svelte'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { here, longDay } from '$lib/format'

  /** The practice's own emergency number, and who has confirmed the careful starting values. */
  let care = $state.raw<Schemas['CareView'] | null>(null)
  let number = $state('')
  let problem = $state('')
  let kept = $state('')
  let open = $state('')
  let form = $state({ by_name: '', role: '', confirmed_on: here() })

  async function load() {
    care = await ask(api.GET('/api/settings/safety'))
    number = care.emergency_number
  }
  async function tried(work: () => Promise<unknown>, said: string) {
    problem = kept = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await work()
        await load()
        kept = said
      }
    )
  }
  onMount(() => void tried(() => Promise.resolve(), ''))

  const keepNumber = () =>
    tried(
      () => ask(api.PUT('/api/settings/safety/number', { body: { emergency_number: number } })),
      'Kept. Clients read it with every sudden sign.'
    )

  const confirm = (value: string) =>
    tried(async () => {
      const body = { ...$state.snapshot(form), id: crypto.randomUUID() }
      await ask(api.POST('/api/settings/safety/values/{value}', { params: { path: { value } }, body }))
      open = ''
    }, 'Kept, with name and day.')
</script>

<svelte:head><title>Safety · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-6 pb-12">
  <h1>Safety</h1>
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
  {#if kept}<p role="status" class="mt-3 text-fine">{kept}</p>{/if}
  {#if care}
    <form
      class="mt-5 grid max-w-column grid-cols-[1fr_auto] items-end gap-3"
      onsubmit={(e) => {
        e.preventDefault()
        void keepNumber()
      }}
    >
      <label class="grid gap-1"
        >Emergency number of your place<input
          class="field"
          inputmode="tel"
          placeholder="none: clients read “your local emergency number”"
          bind:value={number}
        /></label
      >
      {#if isSenior()}<button class="act" disabled={number === care.emergency_number}>Keep it</button
        >{:else}<span class="text-row text-soft">kept by a coach or the owner</span>{/if}
      <p class="col-span-2 text-row text-soft">
        It is read, word for word, by whoever tells a sudden sign. Dial it once in your mind before you keep
        it.
      </p>
    </form>
    <h2 class="mt-9">Careful starting values</h2>
    <p class="mt-1 max-w-page">
      They ship on the cautious side. Let a licensed clinician who knows your local rules confirm each; one
      that is a setting can only be loosened after that.
    </p>
    <table class="mt-4 w-full text-left text-base">
      <thead
        ><tr class="border-b border-ink"
          ><th class="py-1.5 pr-4">Value</th><th class="pr-4">Ships as</th><th class="pr-4">Why</th><th
            >Confirmed by, on</th
          ></tr
        ></thead
      >
      <tbody>
        {#each care.values as v (v.id)}
          <tr class="border-b border-rule align-top">
            <th class="py-2 pr-4 font-semibold">{v.name}</th>
            <td class="py-2 pr-4">{v.ships}{v.loosens ? ' (a setting)' : ''}</td>
            <td class="py-2 pr-4 text-soft">{v.why}</td>
            <td class="py-2">
              {#if v.confirmed}{v.confirmed.by_name}, {v.confirmed.role}, {longDay(
                  v.confirmed.confirmed_on
                )}{:else}<span class="text-soft">nobody yet</span>{/if}
              {#if !isSenior()}<span></span>{:else if open !== v.id}<button
                  class="block link"
                  onclick={() => (open = v.id)}
                  >{v.confirmed ? 'Confirmed anew' : 'Note who confirmed it'}</button
                >{:else}<form
                  class="mt-2 grid max-w-slip gap-2"
                  onsubmit={(e) => {
                    e.preventDefault()
                    void confirm(v.id)
                  }}
                >
                  <label class="grid gap-1"
                    >Name of the clinician<input class="field" required bind:value={form.by_name} /></label
                  >
                  <label class="grid gap-1"
                    >Profession<input
                      class="field"
                      required
                      placeholder="physician"
                      bind:value={form.role}
                    /></label
                  >
                  <label class="grid gap-1"
                    >Day<WhenField required max={here()} bind:value={form.confirmed_on} /></label
                  >
                  <span class="flex gap-4"
                    ><button class="act">Keep it</button><button
                      class="link"
                      type="button"
                      onclick={() => (open = '')}>Back</button
                    ></span
                  >
                </form>{/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {:else if !problem}<p class="mt-4 text-soft" role="status">Reading …</p>{/if}
</main>
