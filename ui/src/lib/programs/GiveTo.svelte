<script lang="ts">
  import { goto } from '$app/navigation'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'

  /** Gives a template, or another client's program, to a client: made to fit their cautions, days and minutes, and opened as a draft. */
  let {
    open = $bindable(false),
    source,
    except = ''
  }: { open?: boolean; source: string; except?: string } = $props()
  let clients = $state.raw<Schemas['ListedClient'][]>([])
  let wanted = $state('')
  let problem = $state('')
  let writing = $state('')
  const shown = $derived(
    clients.filter((c) => c.id !== except && c.name.toLowerCase().includes(wanted.trim().toLowerCase()))
  )

  $effect(() => {
    if (!open || clients.length) return
    void attempt(
      (why) => (problem = why),
      async () => {
        clients = await ask(api.GET('/api/clients'))
      }
    )
  })
  async function give(client: Schemas['ListedClient']) {
    problem = ''
    writing = client.id
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(
          api.POST('/api/clients/{client_id}/programs', {
            params: { path: { client_id: client.id } },
            body: { source, weeks: 12, title: '' }
          })
        )
        open = false
        await goto(`/programs/${made.id}`)
      }
    )
    writing = ''
  }
</script>

<Dialog bind:open title="For which client?" width={460}>
  <label class="grid gap-1 text-small text-soft"
    >Name<input class="field" data-first bind:value={wanted} autocomplete="off" /></label
  >
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
  <ul class="mt-2 max-h-[46vh] overflow-y-auto">
    {#each shown as c (c.id)}<li class="border-b border-rule">
        <button
          type="button"
          class="min-h-10 w-full text-left hover:underline"
          disabled={!!writing}
          onclick={() => give(c)}
          >{c.name}{#if writing === c.id}<span class="ml-2 text-small text-soft">Writing …</span>{/if}</button
        >
      </li>{:else}<li class="py-2 text-soft">
        {clients.length ? 'Nobody of that name.' : 'Reading the clients …'}
      </li>{/each}
  </ul>
  <p class="mt-3 text-small text-soft">
    It is made to fit: what is locked for them is left out, sides and minutes are theirs. Reasons, notes and
    the side that got more stay behind. Nothing is assigned yet.
  </p>
</Dialog>
