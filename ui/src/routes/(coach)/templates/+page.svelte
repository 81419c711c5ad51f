<script lang="ts">
  import { goto, invalidate } from '$app/navigation'
  import { api, ask, attempt } from '$lib/api/client'
  import Removed from '$lib/parts/Removed.svelte'
  import { offer } from '$lib/parts/undo.svelte'

  /** Programs to begin from: the practice's own, and those that ship. */
  let { data } = $props()
  let wanted = $state('')
  let problem = $state('')

  const hits = $derived(
    data.rows.filter((t) =>
      `${t.title} ${t.about} ${t.approach} ${t.concerns.map((c) => c.name).join(' ')}`
        .toLowerCase()
        .includes(wanted.toLowerCase())
    )
  )
  async function copy(id: string) {
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(
          api.POST('/api/templates/{template_id}/copy', { params: { path: { template_id: id } } })
        )
        await goto(`/templates/${made.id}`)
      }
    )
  }
  async function remove(id: string) {
    await attempt(
      (why) => (problem = why),
      async () => {
        const path = { kind: 'templates', row_id: id } as const
        await ask(api.DELETE('/api/{kind}/{row_id}', { params: { path } }))
        await invalidate('dimbo:templates')
        offer('The template is removed, and kept for 30 days.', async () => {
          await ask(api.POST('/api/{kind}/{row_id}/bring-back', { params: { path } }))
          await invalidate('dimbo:templates')
        })
      }
    )
  }
</script>

<svelte:head><title>Templates · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <div class="flex items-end gap-6">
    <div class="grow">
      <h1>Templates</h1>
      <p class="mt-1 max-w-page text-soft">
        Programs to begin from. Doses are kept by rungs, so that they fit each client’s count pace. For a
        client, what a caution locks is left out and named. Any program can be kept as a template from its
        sheet.
      </p>
    </div>
    <input
      class="field max-w-aside"
      placeholder="concern, approach, name"
      aria-label="Find a template"
      bind:value={wanted}
    />
  </div>
  {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
  <ul class="mt-5">
    {#each hits as t (t.id)}
      <li
        class="grid grid-cols-[250px_minmax(0,1fr)_220px_60px] gap-x-6 border-t border-rule py-3 last:border-b"
      >
        <div>
          <a class="font-head text-sub font-bold hover:underline" href="/templates/{t.id}">{t.title}</a>
          <p class="text-small text-soft">
            {t.own ? `own, by ${t.saved_by}` : 'ships with Dimbo'}
          </p>
        </div>
        <p class="text-row">{t.about || 'No words yet on what it is for.'}</p>
        <p class="text-small">
          {t.weeks} weeks, {t.lines} exercises{t.minutes ? `, up to ${t.minutes} min` : ''}<br />
          {t.approach}<br /><span class="text-soft"
            >{t.concerns.map((c) => c.name.toLowerCase()).join('; ')}</span
          >
        </p>
        <div class="flex flex-col items-start gap-1 text-row">
          <a class="link" href="/templates/{t.id}">Open</a>
          <button class="link" onclick={() => copy(t.id)}>Copy</button>
          {#if t.own}
            <button class="link" onclick={() => remove(t.id)}>Remove</button>
          {/if}
        </div>
      </li>
    {:else}<li class="border-t border-rule py-4 text-soft">No template is like that.</li>{/each}
  </ul>
  <Removed
    kind="templates"
    name={['template', 'templates']}
    changed={() => invalidate('dimbo:templates')}
    of={data.rows}
  />
</main>
