<script lang="ts">
  import { momentAt } from '$lib/format'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { session } from './session.svelte'
  import SecondFactor from './SecondFactor.svelte'
  import PasswordField from './PasswordField.svelte'

  /** Everybody's own account: name, address, password, second factor, and where it is signed in. */
  let { zones = false }: { zones?: boolean } = $props()
  let account = $state<Schemas['AccountView'] | null>(null)
  let problem = $state('')
  let said = $state('')
  let name = $state('')
  let zone = $state('')
  let address = $state('')
  let secret = $state('')
  let old = $state('')
  let fresh = $state('')
  let open = $state<'' | 'address' | 'password'>('')

  async function read() {
    account = await ask(api.GET('/api/account'))
    name = account.name
    zone = account.time_zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone
  }
  onMount(() => attempt((why) => (problem = why), read))

  const tried = (words: string, work: () => Promise<string | void>) => (event?: Event) => {
    event?.preventDefault()
    problem = said = ''
    return attempt(
      (why) => (problem = why),
      async () => {
        said = (await work()) || words
        open = ''
        await read()
      }
    )
  }
  const rename = tried('Kept.', async () => {
    await ask(api.PUT('/api/account/name', { body: { name, time_zone: zones ? zone : null } }))
    if (session.me) Object.assign(session.me, { name: name.trim(), time_zone: zones ? zone : null })
  })
  const move = tried('', async () => {
    await ask(api.POST('/api/account/address', { body: { email: address, password: secret } }))
    const sent = `A link is on its way to ${address.trim()}. Until it is followed, you sign in as before.`
    address = secret = ''
    return sent
  })
  const change = tried('', async () => {
    const { count } = await ask(api.PUT('/api/account/password', { body: { old, new: fresh } }))
    old = fresh = ''
    return count
      ? `Your new password holds. You were signed out in ${places(count)}.`
      : 'Your new password holds.'
  })
  const elsewhere = tried('', async () => {
    const { count } = await ask(api.DELETE('/api/account/sign-ins'))
    return count ? `Signed out in ${places(count)}.` : 'You are signed in nowhere else.'
  })
  const end = (id: string) =>
    tried('Signed out there.', async () => {
      await ask(api.DELETE('/api/account/sign-ins/{sign_in_id}', { params: { path: { sign_in_id: id } } }))
    })()
  const places = (n: number) => (n === 1 ? 'one other place' : `${n} other places`)
</script>

{#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
{#if said}<p role="status" class="border-l-4 border-fine pl-3">{said}</p>{/if}
{#if account}
  <form onsubmit={rename} class="flex flex-wrap items-end gap-3">
    <label class="grid grow gap-1"
      >Name that others read<input
        class="field"
        autocomplete="name"
        required
        maxlength="120"
        bind:value={name}
      /></label
    >
    {#if zones}
      <label class="grid gap-1"
        >Your days are in<input class="field" list="zones" required maxlength="60" bind:value={zone} /></label
      >
      <datalist id="zones"
        >{#each Intl.supportedValuesOf('timeZone') as z (z)}<option>{z}</option>{/each}</datalist
      >
    {/if}
    <button class="act act-quiet">Keep</button>
  </form>
  <section aria-label="Signing in">
    <h2>Signing in</h2>
    <p class="mt-1">
      With <b class="break-all">{account.email}</b>.
      {#if account.pending}<span class="text-watch">{account.pending} waits to be confirmed by its link.</span
        >{/if}
    </p>
    {#if open === 'address'}
      <form onsubmit={move} class="mt-3 grid gap-3">
        <label class="grid gap-1"
          >New e-mail<input
            class="field"
            type="email"
            autocomplete="email"
            required
            bind:value={address}
          /></label
        >
        <PasswordField label="Your password" bind:value={secret} />
        <div class="flex gap-3">
          <button class="act">Send the link</button>
          <button type="button" class="act act-quiet" onclick={() => (open = '')}>Leave it</button>
        </div>
      </form>
    {:else if open === 'password'}
      <form onsubmit={change} class="mt-3 grid gap-3">
        <PasswordField label="Your password now" bind:value={old} />
        <PasswordField label="New password, at least ten characters" bind:value={fresh} fresh />
        <div class="flex gap-3">
          <button class="act">Change it</button>
          <button type="button" class="act act-quiet" onclick={() => (open = '')}>Leave it</button>
        </div>
      </form>
    {:else}
      <div class="mt-2 flex flex-wrap gap-3">
        <button class="act act-quiet" onclick={() => (open = 'password')}>Change the password</button>
        <button class="act act-quiet" onclick={() => (open = 'address')}>Change the e-mail</button>
      </div>
    {/if}
  </section>
  <SecondFactor {account} changed={read} />
  <section aria-label="Where you are signed in">
    <h2>Where you are signed in</h2>
    <ul class="mt-1">
      {#each account.sign_ins as s (s.id)}
        <li class="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
          <b>{s.device}</b>
          <span class="text-soft">last used {momentAt(s.seen_at)}</span>
          {#if s.here}<span class="ml-auto">here</span>
          {:else}<button class="ml-auto link" onclick={() => end(s.id)}>Sign out there</button>{/if}
        </li>
      {/each}
    </ul>
    {#if account.sign_ins.length > 1}
      <button class="mt-3 act act-quiet" onclick={elsewhere}>Sign out everywhere else</button>
    {/if}
  </section>
{:else if !problem}<p class="text-soft" role="status">Reading your account …</p>{/if}
