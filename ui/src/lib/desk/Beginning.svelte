<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, type Schemas } from '$lib/api/client'
  import { session } from '$lib/people/session.svelte'

  /** What a practice that was just opened does first: each is ticked when it is done, and all are gone when all are. */
  let { addClient, changes }: { addClient: () => void; changes: unknown } = $props()
  let steps = $state<Schemas['StepView'][]>([])
  const read = async () => {
    steps = await ask(api.GET('/api/beginning'))
  }
  onMount(() => void read().catch(() => undefined)) // the desk below says what went wrong
  $effect(() => {
    if (changes) void read().catch(() => undefined)
  })
  const settle = async (step: 'ways' | 'colleague') => {
    await ask(api.POST('/api/beginning/{step}', { params: { path: { step } } }))
    await read()
  }
  const done = (id: string) => steps.some((s) => s.id === id && s.done)
  const next = $derived(steps.find((s) => !s.done)?.id)
</script>

{#snippet mark(id: string)}
  <span
    class="grid size-6 shrink-0 place-items-center border border-ink font-bold {done(id)
      ? 'bg-ink text-sheet'
      : ''}"
    aria-hidden="true">{done(id) ? '✓' : ''}</span
  ><span class="sr-only">{done(id) ? 'done:' : 'to do:'}</span>
{/snippet}

{#if steps.length}
  <section class="max-w-page py-5" aria-label="First steps">
    <h2 class="text-title">Welcome to {session.me?.practice_name}</h2>
    <p class="mt-1 text-soft">Four steps, in any order. They go from here once they are done.</p>
    <ol class="mt-4 grid gap-4">
      <li class="flex gap-4">
        {@render mark('ways')}
        <div>
          <h3 class="text-sub">How you work</h3>
          <p class="text-row">Your approach, the pace you count at, and how much a day may hold.</p>
          {#if !done('ways')}
            <p class="mt-1 flex gap-5">
              <a class={next === 'ways' ? 'act' : 'link'} href="/settings">Open the settings</a>
              <button class="link" onclick={() => settle('ways')}>They are right as they are</button>
            </p>
          {/if}
        </div>
      </li>
      <li class="flex gap-4">
        {@render mark('client')}
        <div>
          <h3 class="text-sub">Your first client</h3>
          <p class="text-row">
            One by name, or all of them from a table. The sample shows what columns are read.
          </p>
          {#if !done('client')}
            <p class="mt-1 flex flex-wrap items-center gap-5">
              <button class={next === 'client' ? 'act' : 'link'} onclick={addClient}>Add a client</button>
              <a class="link" href="/clients/import">Bring a table</a>
              <a class="link" href="/sample-clients.csv" download>Sample table</a>
            </p>
          {/if}
        </div>
      </li>
      <li class="flex gap-4">
        {@render mark('program')}
        <div>
          <h3 class="text-sub">A first program</h3>
          <p class="text-row">Drafted from the client’s intake, or from a template that you make your own.</p>
          {#if !done('program')}
            <p class="mt-1 flex gap-5">
              <a class={next === 'program' ? 'act' : 'link'} href="/clients">Choose the client</a>
              <a class="link" href="/templates">Look at the templates</a>
            </p>
          {/if}
        </div>
      </li>
      <li class="flex gap-4">
        {@render mark('colleague')}
        <div>
          <h3 class="text-sub">A colleague</h3>
          <p class="text-row">Another coach, or an assistant who does the day’s work.</p>
          {#if !done('colleague')}
            <p class="mt-1 flex gap-5">
              <a class={next === 'colleague' ? 'act' : 'link'} href="/settings/people">Invite somebody</a>
              <button class="link" onclick={() => settle('colleague')}>I work alone</button>
            </p>
          {/if}
        </div>
      </li>
    </ol>
  </section>
{/if}
