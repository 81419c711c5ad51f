<script lang="ts">
  import { goto } from '$app/navigation'
  import { api, ask, attempt, words } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import type { Bench } from './bench.svelte'

  /** Arrange a sitting: which views, baseline or follow-up, who takes it. */
  let { bench, open = $bindable(false) }: { bench: Bench; open?: boolean } = $props()
  const sets: Record<string, string[]> = {
    short: ['front-neutral'],
    usual: ['front-neutral', 'gentle-smile', 'brows-raised', 'eyes-wide'],
    whole: []
  }
  let set = $state('usual')
  let kind = $state('')
  let how = $state('another person')
  let hint = $state('')
  let problem = $state('')
  let link = $state('')
  const first = $derived(!bench.view?.sittings.length)
  const views = $derived(set === 'whole' ? (bench.view?.protocol ?? []).map((v) => v.id) : (sets[set] ?? []))
  const shots = $derived(
    (bench.view?.protocol ?? []).filter((v) => views.includes(v.id)).reduce((n, v) => n + v.shots, 0)
  )

  async function make(): Promise<string | null> {
    problem = ''
    try {
      const made = await ask(
        api.POST('/api/clients/{client_id}/sittings', {
          params: { path: { client_id: bench.client } },
          body: { kind, how, hint, asked_views: views, note: '' }
        })
      )
      return made.id
    } catch (error) {
      problem = words(error)
      return null
    }
  }
  async function here() {
    const id = await make()
    if (id) await goto(`/clients/${bench.client}/sittings/${id}`)
  }
  async function send() {
    const id = await make()
    if (!id) return
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(
          api.POST('/api/sittings/{sitting_id}/link', { params: { path: { sitting_id: id } } })
        )
        link = `${location.origin}${made.path}`
        await bench.load()
      }
    )
  }
</script>

<Dialog bind:open title="New photo session (sitting)" width={560}>
  {#if link}
    <p>This link lets {bench.view?.client_name.split(' ')[0]} take the sitting alone, for 14 days:</p>
    <p class="mt-2 border border-rule bg-paper p-2 text-small break-all select-all">{link}</p>
    <button class="mt-3 act act-quiet" onclick={() => navigator.clipboard?.writeText(link)}>Copy it</button>
  {:else}
    <fieldset>
      <legend class="font-bold">Views</legend>
      {#each [['short', 'Neutral only, 3 shots'], ['usual', 'Neutral, smile, brows, eyes: 6 shots'], ['whole', 'The whole protocol: 14 shots']] as [key, name] (key)}
        <label class="mt-1 flex gap-2"><input type="radio" bind:group={set} value={key} />{name}</label>
      {/each}
    </fieldset>
    <fieldset class="mt-3">
      <legend class="font-bold">Kind</legend>
      {#each [['', bench.view?.primary_locked ? 'Follow-up' : 'Baseline, before practice'], ['baseline', 'Baseline'], ['follow-up', 'Follow-up']] as [key, name], i (key)}
        {#if i === 0 || (key === 'baseline') === !!bench.view?.primary_locked}
          <label class="mt-1 flex gap-2"><input type="radio" bind:group={kind} value={key} />{name}</label>
        {/if}
      {/each}
    </fieldset>
    <label class="mt-3 block"
      ><b>Taken</b>
      <select bind:value={how} class="ml-2 pick"
        ><option value="another person">by another person</option><option value="timer">by timer</option
        ><option value="selfie">as a selfie</option><option value="mirror">in a mirror</option></select
      ></label
    >
    {#if first}
      <label class="mt-3 block"
        ><b>A mark that tells the sides apart</b>
        <input
          bind:value={hint}
          maxlength="200"
          placeholder="a mole under the left eye, a parting on the right"
          class="mt-1 w-full border-b border-ink bg-transparent py-1"
        /></label
      >
    {/if}
    <div class="mt-5 flex flex-wrap gap-3">
      <button class="act" onclick={here} disabled={!bench.view?.may_keep}
        >Take or upload {shots} shots here</button
      >
      <button class="act act-quiet" onclick={send} disabled={!bench.view?.may_keep}
        >Send the client a link</button
      >
    </div>
    {#if !bench.view?.may_keep}<p class="mt-2 text-row text-watch">
        The client has not agreed that photographs are kept.
      </p>{/if}
  {/if}
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
</Dialog>
