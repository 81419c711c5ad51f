<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { onMount } from 'svelte'
  import { READERS, tables, type Reader } from '$lib/parts/tables.svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { Preview } from '../preview.svelte'
  import WhatChanges from '../WhatChanges.svelte'

  /** Thresholds of the weekly review, every rule in words, and the tables that can be carried out. */
  let view = $state<Schemas['ThresholdsView'] | null>(null)
  let values = $state<Record<string, number>>({})
  let problem = $state('')
  let kept = $state('')
  const share = (key: string) => key.endsWith('_share')

  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        view = await ask(api.GET('/api/settings/review'))
        values = Object.fromEntries(
          view.thresholds.map((t) => [t.key, share(t.key) ? Math.round(100 * t.value) : t.value])
        )
      }
    )
  }
  onMount(load)

  const body = $derived({
    values: Object.fromEntries(
      Object.entries(values).map(([k, n]) => [k, share(k) ? Number(n) / 100 : Number(n)])
    )
  })
  const changed = $derived(
    !!view?.thresholds.some((t) => Math.abs((body.values[t.key] ?? t.value) - t.value) > 0.004)
  )
  const preview = new Preview(
    () => (changed ? body : null),
    (sent) => ask(api.POST('/api/settings/review/preview', { body: sent }))
  )
  const keep = (event?: SubmitEvent) => {
    event?.preventDefault()
    return attempt(
      (why) => (preview.problem = why),
      async () => {
        await ask(api.PUT('/api/settings/review', { body }))
        await load()
        kept = 'Kept. They hold from the next look at a week; what was decided stays as it is.'
      }
    )
  }
  const singles = [
    { path: '/api/export/logs.csv', name: 'Logs', what: 'every exercise and side, planned and done' },
    { path: '/api/export/adherence.csv', name: 'Adherence', what: 'every planned day and what became of it' },
    { path: '/api/export/reviews.csv', name: 'Reviews', what: 'what was suggested and what was decided' },
    { path: '/api/export/dictionary.csv', name: 'Dictionary', what: 'what every column means' }
  ]
</script>

<svelte:head><title>Review rules · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <h1 class="mt-1">Weekly review</h1>
  <p class="mt-1 max-w-[70ch] text-soft">
    The rules advise, you decide. A program may have thresholds of its own; these hold for the rest.
  </p>
  {#if view}
    <div class="mt-4 grid grid-cols-[minmax(0,1fr)_300px] gap-x-8 max-lg:grid-cols-1">
      <form onsubmit={keep}>
        <div class="grid grid-cols-2 gap-x-8 max-md:grid-cols-1">
          {#each view.thresholds as t (t.key)}
            <label class="grid grid-cols-[1fr_92px_84px] items-center gap-3 border-b border-rule py-2"
              ><span><b>{t.name}</b><span class="block text-small text-soft">{t.about}</span></span
              ><NumberField
                class={preview.field === t.key ? 'border-stop' : ''}
                step={share(t.key) ? 1 : 0.5}
                min={share(t.key) ? 100 * t.least : t.least}
                max={share(t.key) ? 100 * t.most : t.most}
                bind:value={values[t.key]}
              /><span class="text-small text-soft"
                >{share(t.key) ? `% ${t.unit}` : t.unit}{t.value !== t.shipped
                  ? `, ships as ${share(t.key) ? `${Math.round(100 * t.shipped)} %` : t.shipped}`
                  : ''}</span
              ></label
            >
          {/each}
        </div>
      </form>
      <WhatChanges
        {preview}
        {changed}
        {kept}
        idle="Nothing is changed yet. Change a threshold, and see here which weeks it would judge otherwise before you keep it."
        keep={() => keep()}
        leave={load}
      >
        {#snippet told(found)}
          <p class="mt-2 text-row">
            Of {found.looked_at} running programs the last whole week of {found.effects.length || 'none'} would
            be judged otherwise. What was decided stays.
          </p>
          <ul class="mt-2 max-h-[48vh] space-y-2 overflow-y-auto text-small">
            {#each found.effects as e (`${e.client_id}${e.title}`)}
              <li class="border-b border-rule pb-2">
                <a class="link" href="/clients/{e.client_id}">{e.client}</a>, {e.title}:
                <b>{e.before} → {e.after}</b>. {e.because}
              </li>
            {/each}
          </ul>
        {/snippet}
      </WhatChanges>
    </div>
    <section class="mt-8">
      <h2>Export tables</h2>
      <p class="mt-1 max-w-[70ch] text-row">
        <a class="link font-bold" href="/api/export/tables.xlsx" download>All tables as one workbook</a>
        <span class="text-soft"
          >(.xlsx) for spreadsheets in any language: numbers and days are typed, one sheet a table, the
          dictionary beside them.</span
        >
      </p>
      <label class="mt-3 flex flex-wrap items-center gap-2 text-row"
        >Single tables as CSV, for <select
          class="field w-auto"
          value={tables.reader}
          onchange={(e) => tables.choose(e.currentTarget.value as Reader)}
          >{#each Object.entries(READERS) as [key, r] (key)}<option value={key}>{r.name}</option
            >{/each}</select
        ></label
      >
      <ul class="mt-1 grid grid-cols-2 gap-x-10 text-row">
        {#each singles as t (t.path)}<li class="border-b border-rule py-1.5">
            <a class="link" href={tables.csv(t.path)} download>{t.name}</a>
            <span class="text-soft">{t.what}</span>
          </li>{/each}
      </ul>
    </section>
    <section class="mt-8">
      <h2>Every rule</h2>
      {#each Object.entries(view.rules) as [where, rules] (where)}
        <details class="mt-2 border-b border-rule pb-2" open={where === 'Weekly review'}>
          <summary class="font-bold">{where}</summary>
          <dl class="mt-1 grid grid-cols-[190px_1fr] gap-x-5 gap-y-1 text-row">
            {#each rules as r (r.id)}<dt>{r.name}</dt>
              <dd class="max-w-[86ch] text-soft">{r.says}</dd>{/each}
          </dl>
        </details>
      {/each}
    </section>
  {:else if problem}<p role="alert" class="mt-4 text-stop">{problem}</p>
  {:else}<p class="mt-6 text-soft" role="status">Reading the rules …</p>{/if}
</main>
