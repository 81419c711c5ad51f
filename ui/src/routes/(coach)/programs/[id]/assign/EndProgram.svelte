<script lang="ts">
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import { longDay } from '$lib/format'
  import Dialog from '$lib/parts/Dialog.svelte'

  /** Ending a program says what it takes away, and asks what follows. */
  let {
    open = $bindable(false),
    assignment,
    title,
    name,
    done
  }: {
    open?: boolean
    assignment: string
    title: string
    name: string
    done: (follows: string) => Promise<void>
  } = $props()
  const CHOICES: Record<string, string> = {
    next: 'The next program; I write it now',
    rest: 'A rest, until I plan again',
    done: 'Nothing; it is complete'
  }
  let ending = $state.raw<Schemas['EndingView'] | null>(null)
  let follows = $state('')
  let problem = $state('')
  const params = $derived({ path: { assignment_id: assignment } })
  const says = $derived(ending?.follows.find((f) => f.id === follows)?.says)

  $effect(() => {
    if (!open) return
    problem = follows = ''
    ask(api.GET('/api/assignments/{assignment_id}/end', { params })).then(
      (found) => (ending = found),
      (error) => (problem = words(error))
    )
  })
  async function end(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/assignments/{assignment_id}/end', { params, body: { follows } }))
        open = false
        await done(follows)
      }
    )
  }
</script>

<Dialog bind:open title="End {title} today?">
  <p>
    {#if !ending}Counting what is still planned …
    {:else if ending.sessions}{ending.sessions === 1 ? 'One session' : `${ending.sessions} sessions`} up to {longDay(
        ending.last_day ?? ''
      )}
      {ending.sessions === 1 ? 'is' : 'are'} no longer due. What was done stays.
    {:else}Nothing is planned any more. What was done stays.{/if}
  </p>
  <form class="mt-4 grid gap-3" onsubmit={end}>
    <fieldset class="grid gap-2">
      <legend class="font-bold">What follows?</legend>
      {#each Object.entries(CHOICES) as [id, text] (id)}<label class="flex items-center gap-2"
          ><input type="radio" required value={id} bind:group={follows} />{text}</label
        >{/each}
    </fieldset>
    {#if says}<p class="border-l-4 border-mark-fine pl-3 text-row">{name} reads: {says}</p>{/if}
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <button class="act" disabled={!follows}>End it today</button>
  </form>
</Dialog>
