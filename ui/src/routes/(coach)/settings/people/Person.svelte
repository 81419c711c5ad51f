<script lang="ts">
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { session } from '$lib/people/session.svelte'

  /** One who works here: what they are, whom they see, and what comes before they can leave. */
  let {
    person,
    people,
    changed,
    newPassword
  }: {
    person: Schemas['PersonView']
    people: Schemas['PersonView'][]
    changed: () => Promise<void>
    newPassword: (person: Schemas['PersonView']) => Promise<void>
  } = $props()

  let problem = $state('')
  let to = $state('')
  let open = $state(false)
  const me = $derived(person.id === session.me?.id)
  const others = $derived(people.filter((p) => p.id !== person.id && p.standing !== 'assistant'))
  const seen = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long' })
  const sees = $derived(
    person.sees_all
      ? 'sees all clients'
      : person.sees.length
        ? `sees own clients and those of ${people
            .filter((p) => person.sees.includes(p.id))
            .map((p) => p.name)
            .join(', ')}`
        : 'sees own clients only'
  )
  const clients = $derived(person.clients === 1 ? '1 client' : `${person.clients} clients`)

  const tried = (work: () => Promise<unknown>) =>
    attempt(
      (why) => (problem = why),
      async () => {
        problem = ''
        await work()
        await changed()
      }
    )
  const change = (part: Partial<Schemas['PersonChange']>) =>
    tried(() =>
      ask(
        api.PUT('/api/people/{account_id}', {
          params: { path: { account_id: person.id } },
          body: {
            standing: person.standing,
            sees_all: person.sees_all,
            sees: person.sees,
            disabled: !!person.disabled_at,
            ...part
          }
        })
      )
    )
  const handOver = () =>
    tried(async () => {
      await ask(
        api.POST('/api/people/{account_id}/hand-over', {
          params: { path: { account_id: person.id } },
          body: { to }
        })
      )
      to = ''
    })
  const toggle = (id: string) =>
    change({ sees: person.sees.includes(id) ? person.sees.filter((x) => x !== id) : [...person.sees, id] })
</script>

<article class="border-b border-rule py-3" aria-label={person.name}>
  <div class="flex items-baseline gap-x-4">
    <h2 class="text-sub">{person.name}</h2>
    <span class="text-row">{person.standing}{me ? ', you' : ''}</span>
    <span class="text-row text-soft">{person.email}</span>
    {#if person.disabled_at}
      <button class="ml-auto link" onclick={() => change({ disabled: false })}>Let in again</button>
    {:else}
      <button class="ml-auto link" aria-expanded={open} onclick={() => (open = !open)}
        >{open ? 'Done' : 'Change'}</button
      >
    {/if}
  </div>
  <p class="text-row text-soft">
    {person.clients ? `has taken on ${clients}` : 'no clients of their own'} · {sees} · {person.factor_since
      ? 'second factor on'
      : 'no second factor'} · {person.seen_at
      ? `last here ${seen.format(new Date(person.seen_at))}`
      : 'not signed in'}
  </p>
  {#if open && !person.disabled_at}
    <div class="mt-3 grid gap-3 border-l-4 border-rule pl-4">
      <label class="flex items-center gap-3 whitespace-nowrap"
        >Works here as <select
          class="field !w-auto"
          value={person.standing}
          onchange={(e) => change({ standing: e.currentTarget.value as Schemas['PersonChange']['standing'] })}
        >
          <option>owner</option><option>coach</option><option>assistant</option>
        </select></label
      >
      <fieldset class="grid gap-1">
        <legend class="font-bold">Clients</legend>
        <label class="flex gap-2"
          ><input
            type="checkbox"
            checked={person.sees_all}
            onchange={(e) => change({ sees_all: e.currentTarget.checked })}
          /> Sees every client of the practice</label
        >
        {#if !person.sees_all}
          {#each others as other (other.id)}
            <label class="ml-6 flex gap-2"
              ><input
                type="checkbox"
                checked={person.sees.includes(other.id)}
                onchange={() => toggle(other.id)}
              />
              Also those of {other.name}</label
            >
          {/each}
        {/if}
        <p class="text-row text-soft">
          Photographs are a choice of each client: the own coach, and one colleague whom the client names.
        </p>
      </fieldset>
      {#if person.clients && others.length}
        <div class="flex flex-wrap items-center gap-3">
          <label class="flex items-center gap-3 whitespace-nowrap"
            >Hand over {clients} to
            <select class="field !w-auto" bind:value={to}>
              <option value="" disabled>choose</option>
              {#each others as other (other.id)}<option value={other.id}>{other.name}</option>{/each}
            </select></label
          >
          <button class="act act-quiet" disabled={!to} onclick={handOver}>Hand over</button>
          <span class="text-row text-soft">The photographs go with them.</span>
        </div>
      {/if}
      <div class="flex gap-5">
        <button class="link" onclick={() => newPassword(person)}>Make a link for a new password</button>
        <button class="link text-stop" onclick={() => change({ disabled: true })}
          >Has left: sign out and close</button
        >
      </div>
    </div>
  {/if}
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
</article>
