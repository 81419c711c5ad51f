<script lang="ts">
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import Sheet from '$lib/parts/Sheet.svelte'

  let {
    open = $bindable(false),
    id,
    preferred,
    done
  }: { open?: boolean; id: string; preferred: string; done: (id: string) => void } = $props()
  let title = $state('')
  let weeks = $state(4)
  let concern = $derived(preferred)
  let problem = $state('')
  let concerns = $state<Schemas['Named'][]>([])

  $effect(() => {
    if (open && !concerns.length)
      void ask(api.GET('/api/catalogue')).then(
        (c) => (concerns = c.concerns),
        (e) => (problem = words(e))
      )
  })

  async function create(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    try {
      const name = title.trim() || concerns.find((c) => c.id === concern)?.name || 'New program'
      const made = await ask(
        api.POST('/api/clients/{client_id}/programs', {
          params: { path: { client_id: id } },
          body: { title: name, weeks, concern: concern || null }
        })
      )
      done(made.id)
    } catch (error) {
      problem = words(error)
    }
  }
</script>

<Sheet bind:open title="New program">
  <form class="grid gap-3" onsubmit={create}>
    <label class="grid gap-1"
      >Drafted for<select class="field" bind:value={concern}>
        <option value="">nothing; an empty sheet</option>
        {#each concerns as c (c.id)}<option value={c.id}>{c.name}</option>{/each}
      </select></label
    >
    <div class="grid grid-cols-[1fr_110px] gap-3">
      <label class="grid gap-1"
        >Name<input class="field" placeholder="taken from the concern" bind:value={title} /></label
      >
      <label class="grid gap-1"
        >Weeks<input class="field" type="number" min="1" max="26" bind:value={weeks} /></label
      >
    </div>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <button class="act">Write it</button>
  </form>
</Sheet>
