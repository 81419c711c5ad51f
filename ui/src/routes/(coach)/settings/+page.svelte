<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Mark from '$lib/parts/Mark.svelte'
  import { Preview } from './preview.svelte'
  import WhatChanges from './WhatChanges.svelte'

  /** How the practice works: approach, count pace, change-overs, limits; what a change does is shown before it is kept. */
  let ways = $state.raw<Schemas['WaysView'] | null>(null)
  let approach = $state('balanced')
  const groups = $derived([...new Set((ways?.limits ?? []).map((l) => l.group))])
  let values = $state<Record<string, number>>({})
  let problem = $state('')
  let kept = $state('')

  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        ways = await ask(api.GET('/api/settings/ways'))
        approach = ways.approach
        values = Object.fromEntries(ways.limits.map((l) => [l.key, l.value]))
      }
    )
  }
  onMount(load)
  const changed = $derived(
    ways !== null && (approach !== ways.approach || ways.limits.some((l) => values[l.key] !== l.value))
  )
  /** A value that was not touched goes back exactly as it came. */
  const body = $derived({ approach, values: $state.snapshot(values) })

  const preview = new Preview(
    () => (changed ? body : null),
    (sent) => ask(api.POST('/api/settings/ways/preview', { body: sent }))
  )
  async function save(event?: SubmitEvent) {
    event?.preventDefault()
    await attempt(
      (why) => (preview.problem = why),
      async () => {
        await ask(api.PUT('/api/settings/ways', { body }))
        await load()
        kept = 'Kept. Programs that run go on as they were assigned.'
      }
    )
  }
  /** A setting whose whole range is smaller than this goes in small steps. */
  const NARROW = 5
  const now = $derived(ways?.approaches.find((a) => a.id === approach))
</script>

<svelte:head><title>How you work · Dimbo</title></svelte:head>
{#if ways}
  <main
    class="mx-auto grid max-w-frame grid-cols-[minmax(0,1fr)_300px] gap-x-8 px-6 pt-5 pb-16 max-lg:grid-cols-1 max-sm:px-3"
  >
    <form onsubmit={save}>
      <h1>How you work</h1>
      <fieldset class="mt-4">
        <legend class="font-head text-head font-bold">Approach</legend>
        <div class="mt-2 grid grid-cols-4 border-t border-ink">
          {#each ways.approaches as a (a.id)}
            <label
              class="cursor-pointer border-r border-b border-rule p-3 last:border-r-0 {approach === a.id
                ? 'bg-sheet shadow-[inset_0_3px_0_var(--color-action)]'
                : ''}"
            >
              <span class="flex items-center gap-2"
                ><input type="radio" name="approach" value={a.id} bind:group={approach} /><b>{a.name}</b
                ></span
              >
              <span class="mt-1 block text-small">{a.why}</span>
              <dl class="mt-2 space-y-0.5 text-small text-soft">
                <div>
                  <dt class="inline font-bold">First:</dt>
                  <dd class="inline">{a.first.join(', ')}</dd>
                </div>
                <div>
                  <dt class="inline font-bold">Days a week:</dt>
                  <dd class="inline">{a.days}</dd>
                </div>
                <div>
                  <dt class="inline font-bold">Uneven sides:</dt>
                  <dd class="inline">{a.asymmetry}</dd>
                </div>
                <div>
                  <dt class="inline font-bold">Load:</dt>
                  <dd class="inline">{a.raising}</dd>
                </div>
                <div>
                  <dt class="inline font-bold">Lip by hand:</dt>
                  <dd class="inline">{a.lip_stretch ? 'allowed, gentle' : 'forbidden'}</dd>
                </div>
              </dl>
            </label>
          {/each}
        </div>
        {#if now?.silent.length}<p class="mt-2 text-small text-soft">
            Under “{now.name}” these checks are silent: {now.silent.join('; ').toLowerCase()}.
          </p>{/if}
      </fieldset>
      {#each groups as group (group)}<fieldset class="mt-6">
          <legend class="font-head text-head font-bold">{group}</legend>
          <table class="mt-2 w-full text-row">
            <thead class="border-b border-ink text-left text-note"
              ><tr><th class="py-1">Setting</th><th>Value</th><th>Allowed</th><th>Shipped</th></tr></thead
            >
            <tbody>
              {#each ways.limits.filter((l) => l.group === group) as l (l.key)}
                <tr class="border-b border-rule align-top">
                  <td class="py-2 pr-4"
                    ><label for={l.key} class="font-bold">{l.name}</label><span
                      class="block text-small text-soft">{l.about}</span
                    ></td
                  >
                  <td class="py-2 pr-4 whitespace-nowrap"
                    ><NumberField
                      id={l.key}
                      class="w-[124px] {preview.field === l.key ? 'border-stop' : ''}"
                      step="any"
                      by={l.most - l.least > NARROW ? 1 : 0.05}
                      min={l.least}
                      max={l.most}
                      bind:value={values[l.key]}
                    />
                    <span class="pl-2 text-small text-soft">{l.unit}</span></td
                  >
                  <td class="py-3 pr-4 text-small whitespace-nowrap text-soft">{l.least} to {l.most}</td>
                  <td class="py-3 text-small text-soft"
                    >{#if values[l.key] === l.shipped}{l.shipped}{:else}<button
                        type="button"
                        class="link"
                        onclick={() => (values[l.key] = l.shipped)}>back to {l.shipped}</button
                      >{/if}</td
                  >
                </tr>
              {/each}
            </tbody>
          </table>
        </fieldset>{/each}
      <details class="mt-6">
        <summary class="font-head text-head font-bold">The checks in the margin</summary>
        <ul class="mt-2">
          {#each ways.checks as c (c.id)}<li
              class="grid grid-cols-[22px_200px_1fr] border-b border-rule py-1 text-row"
            >
              <Mark weight={c.weight as 'stop' | 'watch' | 'remark'} /><b>{c.title}</b><span>{c.why}</span>
            </li>{/each}
        </ul>
      </details>
    </form>
    <WhatChanges
      {preview}
      {changed}
      {kept}
      idle="Nothing is changed yet. Change a value, and see here what it does to your programs before you keep it."
      keep={() => save()}
      leave={load}
    >
      {#snippet told(found)}
        <p class="mt-2 text-row">
          {found.effects.length} of {found.looked_at} newest programs would read otherwise. Running ones go on as
          they were assigned.
        </p>
        <ul class="mt-2 max-h-[48vh] space-y-2 overflow-y-auto text-small">
          {#each found.effects as e (e.program_id)}
            <li class="border-b border-rule pb-2">
              <a class="link" href="/programs/{e.program_id}">{e.sentence.split(':')[0]}</a>:{e.sentence
                .split(':')
                .slice(1)
                .join(':')}
              {#if e.speaks[0]}<span class="block text-watch">{e.speaks[0]}</span>{/if}
            </li>
          {/each}
        </ul>
      {/snippet}
    </WhatChanges>
  </main>
{:else}<p class="p-6 {problem ? 'text-stop' : 'text-soft'}">{problem || 'Reading the settings …'}</p>{/if}
