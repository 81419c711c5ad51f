<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { api, ask, Problem, words, type Schemas } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'

  let { open = $bindable(false), done }: { open?: boolean; done: (id: string) => void } = $props()

  let name = $state('')
  let year = $state<number | undefined>()
  let zone = $state(Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Lisbon')
  let minutes = $state<number | undefined>(15)
  let concern = $state('')
  let story = $state('')
  let problem = $state<{ text: string; field: string | null } | null>(null)
  let concerns = $state<Schemas['Named'][]>([])

  $effect(() => {
    if (open && !concerns.length)
      void ask(api.GET('/api/catalogue')).then(
        (c) => (concerns = c.concerns),
        (e) => (problem = { text: words(e), field: null })
      )
  })

  async function save(event: SubmitEvent) {
    event.preventDefault()
    problem = null
    try {
      const made = await ask(
        api.POST('/api/clients', {
          body: {
            name,
            birth_year: year ?? null,
            time_zone: zone,
            minutes: minutes ?? null,
            concerns: concern ? [concern] : [],
            goals: story
          }
        })
      )
      done(made.id)
    } catch (error) {
      problem = { text: words(error), field: error instanceof Problem ? error.field : null }
    }
  }
</script>

<Dialog bind:open title="New client">
  <form class="grid gap-3" onsubmit={save}>
    <label class="grid gap-1">Name, as they like it<input class="field" required bind:value={name} /></label>
    <div class="grid grid-cols-2 gap-3">
      <label class="grid gap-1"
        >Year of birth<input
          class="field"
          type="number"
          inputmode="numeric"
          min="1900"
          max="2100"
          required
          bind:value={year}
        /></label
      >
      <label class="grid gap-1"
        >Minutes a day they really have<NumberField min="1" max="120" bind:value={minutes} /></label
      >
    </div>
    <label class="grid gap-1"
      >Time zone<input
        class="field"
        required
        bind:value={zone}
        aria-invalid={problem?.field === 'time_zone'}
      /></label
    >
    <label class="grid gap-1"
      >First concern<select class="field" bind:value={concern}>
        <option value="">none noted yet</option>
        {#each concerns as c (c.id)}<option value={c.id}>{c.name}</option>{/each}
      </select></label
    >
    <label class="grid gap-1"
      >What they told you<textarea class="field min-h-thumb py-2" bind:value={story}></textarea></label
    >
    {#if problem}<p role="alert" class="text-stop">{problem.text}</p>{/if}
    <button class="act">Add client</button>
  </form>
</Dialog>
