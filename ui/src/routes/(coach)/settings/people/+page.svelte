<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { session } from '$lib/people/session.svelte'
  import Person from './Person.svelte'

  /** Those who work in the practice, and who was invited. */
  let view = $state<Schemas['PeopleView'] | null>(null)
  let problem = $state('')
  let link = $state<{ for: string; url: string; days: number } | null>(null)
  let shown = $state(false)
  let copied = $state(false)
  let name = $state('')
  let email = $state('')
  let standing = $state<Schemas['InviteColleague']['standing']>('coach')
  const owns = $derived(session.me?.standing === 'owner')
  const here = $derived((view?.people ?? []).filter((p) => !p.disabled_at))
  const gone = $derived((view?.people ?? []).filter((p) => p.disabled_at))
  const STANDINGS = [
    ['coach', 'Coach', 'takes on clients, and works with those that the owner lets them see'],
    [
      'assistant',
      'Assistant',
      'does the day’s work with coaches’ clients; no photographs, no settings, no exports'
    ],
    ['owner', 'Owner', 'all that a coach does, and people, exports and what holds for the whole practice']
  ] as const

  const read = async () => {
    view = await ask(api.GET('/api/people'))
  }
  const tried = async (work: () => Promise<void>) => {
    problem = ''
    await attempt((why) => (problem = why), work)
  }
  onMount(() => void (owns && tried(read)))

  function show(whom: string, made: Schemas['PathView']) {
    link = { for: whom, url: location.origin + made.path, days: made.days }
    copied = false
    shown = true
  }
  const invite = (event: SubmitEvent) => {
    event.preventDefault()
    return tried(async () => {
      show(name, await ask(api.POST('/api/people/invitations', { body: { name, email, standing } })))
      name = email = ''
      await read()
    })
  }
  const takeBack = (link_id: string) =>
    tried(async () => {
      await ask(api.DELETE('/api/people/invitations/{link_id}', { params: { path: { link_id } } }))
      await read()
    })
  const newPassword = (person: Schemas['PersonView']) =>
    tried(async () => {
      const params = { path: { account_id: person.id } }
      show(person.name, await ask(api.POST('/api/people/{account_id}/new-password', { params })))
    })
</script>

<svelte:head><title>People · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-desk grid-cols-[minmax(0,1fr)_360px] gap-x-12 px-6 pt-5 pb-12">
  <section>
    <h1>People</h1>
    {#if !owns}<p class="mt-2">People are invited and let in by an owner of the practice.</p>{/if}
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
    {#each here as person (person.id)}
      <Person {person} people={here} changed={read} {newPassword} />
    {/each}
    {#if gone.length}
      <h2 class="mt-8">Have left</h2>
      {#each gone as person (person.id)}<Person {person} people={here} changed={read} {newPassword} />{/each}
    {/if}
  </section>
  {#if owns}
    <aside class="grid content-start gap-6">
      <form class="grid gap-3" onsubmit={invite}>
        <h2>Invite a colleague</h2>
        <label class="grid gap-1"
          >Name<input class="field" required maxlength="120" bind:value={name} /></label
        >
        <label class="grid gap-1"
          >E-mail<input class="field" type="email" required bind:value={email} /></label
        >
        <fieldset class="grid gap-1">
          <legend>As</legend>
          {#each STANDINGS as [value, label, what] (value)}
            <label class="flex gap-2"
              ><input type="radio" class="mt-1" name="standing" {value} bind:group={standing} /><span
                ><b>{label}</b> <span class="text-row text-soft">{what}</span></span
              ></label
            >
          {/each}
        </fieldset>
        <button class="act justify-self-start">Invite</button>
      </form>
      {#if view?.invited.length}
        <section>
          <h2>Invited</h2>
          {#each view.invited as x (x.id)}
            <p class="mt-1 border-b border-rule pb-1.5 text-row">
              <b>{x.name}</b>, {x.standing}, {x.email}
              <span class="block text-soft"
                >{new Date(x.expires_at) < new Date()
                  ? 'the link has run out'
                  : 'the link waits to be followed'}
                <button class="ml-2 link" onclick={() => takeBack(x.id)}>Take it back</button></span
              >
            </p>
          {/each}
        </section>
      {/if}
    </aside>
  {/if}
</main>
<Dialog bind:open={shown} title="A link for {link?.for ?? ''}">
  <p>
    It works once, within {link?.days} days. Whoever has it chooses the password, so hand it over yourself.
  </p>
  <p class="bg-field mt-3 border border-ink p-3 text-row break-all select-all">{link?.url}</p>
  <div class="mt-3 flex items-center gap-4">
    <button
      class="act"
      onclick={async () => {
        await navigator.clipboard.writeText(link?.url ?? '')
        copied = true
      }}>Copy it</button
    >{#if copied}<span role="status">Copied.</span>{/if}
  </div>
</Dialog>
