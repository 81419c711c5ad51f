<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'

  /** All that is due of a client, one under the other; what is done is said. */
  const token = page.params.token ?? ''
  let due = $state.raw<Schemas['DueView'] | null>(null)
  let problem = $state('')
  let busy = $state('')
  const THINGS = [
    [
      'account',
      'Choose a password',
      'Then you can sign in, see your program and practise.',
      'You have an account'
    ],
    [
      'intake',
      'Answer some questions',
      'About your face, your health and what you wish for; you can stop and go on later.',
      'Your answers are here'
    ],
    [
      'photographs',
      'Take photographs',
      'The page shows you how, one after the other.',
      'Your photographs are here'
    ]
  ] as const
  const next = $derived(due && THINGS.find(([what]) => due?.[what] === 'due')?.[0])

  onMount(() =>
    attempt(
      (why) => (problem = why),
      async () => {
        due = await ask(api.GET('/api/due/{token}', { params: { path: { token } } }))
      }
    )
  )
  async function open(what: (typeof THINGS)[number][0]) {
    problem = ''
    busy = what
    await attempt(
      (why) => (problem = why),
      async () => {
        const { path } = await ask(api.POST('/api/due/{token}/{what}', { params: { path: { token, what } } }))
        await goto(path)
      }
    )
    busy = ''
  }
</script>

<svelte:head><title>What is due · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pt-6 pb-12 text-sub">
  <Logo />
  {#if due}
    <h1 class="mt-6 text-title">Welcome, {due.client_name}</h1>
    <p class="mt-2">
      {next
        ? `This is what ${due.practice_name} asks of you. Come back by the same link at any time.`
        : 'Everything is done. Thank you.'}
    </p>
    <ol class="mt-5 border-t border-ink">
      {#each THINGS as [what, name, about, done] (what)}
        {@const at = due[what]}
        {#if at !== 'not yet'}
          <li class="border-b border-rule py-4">
            {#if at === 'due'}
              <h2>{name}</h2>
              <p class="mt-1">{about}</p>
              <button
                class="mt-3 act min-h-press {what === next ? '' : 'act-quiet'}"
                disabled={!!busy}
                onclick={() => open(what)}>{busy === what ? 'One moment …' : 'Open'}</button
              >
            {:else}<p class="flex items-center gap-2 text-fine">
                <span aria-hidden="true">✓</span>{done}.
              </p>{/if}
          </li>
        {/if}
      {/each}
    </ol>
    {#if due.account === 'done'}<p class="mt-5">
        <a class="inline-flex min-h-touch items-center link" href="/today">To your practice</a>
      </p>{/if}
    <p class="mt-6 text-base text-soft">
      No diagnosis, no treatment. Your clinician and local rules come first.
    </p>
  {:else if problem}<h1 class="mt-6 text-title">What is due</h1>{:else}<p
      class="mt-6 text-soft"
      role="status"
    >
      Looking …
    </p>{/if}
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
</main>
