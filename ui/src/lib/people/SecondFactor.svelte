<script lang="ts">
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { longDay } from '$lib/format'
  import PasswordField from './PasswordField.svelte'

  /** The second factor: off, being set up, or on with its recovery codes. */
  let { account, changed }: { account: Schemas['AccountView']; changed: () => Promise<void> } = $props()
  let begun = $state<Schemas['FactorBegun'] | null>(null)
  let codes = $state<string[]>([])
  let password = $state('')
  let code = $state('')
  let asking = $state<'' | 'on' | 'off'>('')
  let problem = $state('')

  const tried = (work: () => Promise<void>) => (event: SubmitEvent) => {
    event.preventDefault()
    problem = ''
    return attempt((why) => (problem = why), work)
  }
  const begin = tried(async () => {
    begun = await ask(api.POST('/api/account/factor', { body: { password } }))
    password = ''
  })
  const confirm = tried(async () => {
    codes = (await ask(api.POST('/api/account/factor/confirm', { body: { code } }))).codes
    begun = null
    code = ''
    asking = ''
    await changed()
  })
  const end = tried(async () => {
    await ask(api.POST('/api/account/factor/off', { body: { password } }))
    password = ''
    asking = ''
    codes = []
    await changed()
  })
</script>

<section aria-label="Second factor">
  <h2>Second factor</h2>
  <p class="mt-1">
    {#if account.factor_since}
      On since {longDay(account.factor_since.slice(0, 10))}: signing in asks for the code that your
      authenticator shows. {account.recovery_codes}
      {account.recovery_codes === 1 ? 'recovery code is' : 'recovery codes are'} left.
    {:else}
      Off. With it, signing in asks for a code besides the password, which a program on your phone shows anew
      every half minute.
    {/if}
  </p>
  {#if codes.length}
    <div class="mt-3 border border-ink bg-sheet p-4" role="status">
      <p>
        <b>Your recovery codes.</b> Each opens your account once, when the phone is lost. They are shown this once.
      </p>
      <p class="mt-2 grid grid-cols-2 gap-x-6 font-mono tabular-nums select-all">
        {#each codes as one (one)}<span>{one}</span>{/each}
      </p>
      <button class="mt-3 act act-quiet" onclick={() => navigator.clipboard.writeText(codes.join('\n'))}
        >Copy them</button
      >
    </div>
  {/if}
  {#if begun}
    <form onsubmit={confirm} class="mt-3 grid gap-3">
      <p>Take this picture with your authenticator, or type the letters, and then the code that it shows.</p>
      <div class="flex flex-wrap items-center gap-5">
        <!-- eslint-disable-next-line svelte/no-at-html-tags -- drawn by our own server from a secret that it made -->
        <div class="w-[180px] bg-white [&_svg]:h-auto [&_svg]:w-full">{@html begun.picture}</div>
        <code class="max-w-[16ch] break-all select-all">{begun.secret}</code>
      </div>
      <label class="grid gap-1"
        >Code<input
          class="field w-[148px]"
          inputmode="numeric"
          autocomplete="one-time-code"
          required
          bind:value={code}
        /></label
      >
      <div class="flex gap-3">
        <button class="act">Switch it on</button>
        <button type="button" class="act act-quiet" onclick={() => (begun = null)}>Not now</button>
      </div>
    </form>
  {:else if asking}
    <form onsubmit={asking === 'on' ? begin : end} class="mt-3 flex flex-wrap items-end gap-3">
      <PasswordField label="Your password" bind:value={password} />
      <button class="act">{asking === 'on' ? 'Set it up' : 'Switch it off'}</button>
      <button type="button" class="act act-quiet" onclick={() => (asking = '')}>Leave it</button>
    </form>
  {:else}
    <button class="mt-2 act act-quiet" onclick={() => (asking = account.factor_since ? 'off' : 'on')}
      >{account.factor_since ? 'Switch it off' : 'Set it up'}</button
    >
  {/if}
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
</section>
