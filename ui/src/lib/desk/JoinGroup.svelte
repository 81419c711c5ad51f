<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { api, ask, attempt, type Schemas } from '../api/client'
  import { here } from '../format'
  import Dialog from '../parts/Dialog.svelte'

  /** Somebody starts the group's program later, or anew: who, and from which day. */
  let {
    open = $bindable(false),
    group,
    done
  }: { open?: boolean; group: Schemas['GroupView']; done: () => Promise<void> } = $props()
  let clients = $state.raw<Schemas['ListedClient'][]>([])
  let client = $state('')
  let start = $state(here())
  let problem = $state('')
  let busy = $state(false)
  const inside = $derived(new Set(group.members.filter((m) => !m.ended).map((m) => m.client_id)))
  $effect(() => {
    if (!open || clients.length) return
    void attempt(
      (why) => (problem = why),
      async () => {
        clients = await ask(api.GET('/api/clients'))
      }
    )
  })
  async function join(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const params = { path: { group_id: group.id } }
        await ask(api.POST('/api/groups/{group_id}/members', { params, body: { client_id: client, start } }))
        open = false
        await done()
      }
    )
    busy = false
  }
</script>

<Dialog bind:open title="Add somebody to {group.name}">
  <form class="grid gap-3" onsubmit={join}>
    <label class="grid gap-1"
      >Who<select class="field" required bind:value={client} data-first>
        <option value="" disabled>choose</option>
        {#each clients.filter((c) => !inside.has(c.id) && !c.archived) as c (c.id)}<option value={c.id}
            >{c.name}</option
          >{/each}
      </select></label
    >
    <label class="grid gap-1">First day<WhenField required bind:value={start} /></label>
    <p class="text-small text-soft">
      They get a copy of the group’s program from its first week. Cautions, consent and daily ceilings are
      asked as always; what stands against it is said here, and nothing is kept then.
    </p>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <button class="act" disabled={busy || !client}>{busy ? 'Adding …' : 'Add and start'}</button>
  </form>
</Dialog>
