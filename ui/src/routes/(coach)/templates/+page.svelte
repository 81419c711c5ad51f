<script lang="ts">
  import { goto, invalidate } from '$app/navigation'
  import { onMount } from 'svelte'
  import { api, ask, attempt } from '$lib/api/client'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import { fromAddress, keepInAddress } from '$lib/parts/address.svelte'
  import Removed from '$lib/parts/Removed.svelte'
  import Miniature from '$lib/programs/Miniature.svelte'
  import FaceMap from '$lib/signature/FaceMap.svelte'
  import FacePicker from '$lib/signature/FacePicker.svelte'
  import type { Fills, View } from '$lib/signature/face-map'
  import { offer } from '$lib/parts/undo.svelte'

  /** Programs to begin from: the practice's own, and those that ship. */
  let { data } = $props()
  let wanted = $state(fromAddress('find'))
  let problem = $state('')

  type Row = (typeof data.rows)[number]
  let muscle = $state(fromAddress('muscle'))
  let view = $state<View>('facing')
  $effect(() => keepInAddress({ find: wanted, muscle }))
  onMount(() => void catalogue.load().catch(() => undefined))
  const muscles = $derived(catalogue.view?.muscles ?? [])
  const name = $derived(muscles.find((m) => m.id === muscle)?.name ?? '')
  /** How much a template works what was touched, the side that works more. */
  const works = (t: Row) => {
    const at = t.miniature?.regions[muscle]
    return at ? Math.max(at.right, at.left) : 0
  }
  const hits = $derived(
    data.rows
      .filter((t) =>
        `${t.title} ${t.about} ${t.approach} ${t.concerns.map((c) => c.name).join(' ')}`
          .toLowerCase()
          .includes(wanted.trim().toLowerCase())
      )
      .filter((t) => !muscle || works(t) > 0)
      .toSorted((a, b) => (muscle ? works(b) - works(a) : 0))
  )
  /** On the picker: how many templates work each muscle. */
  const reach = $derived.by((): Fills => {
    const out: Fills = {}
    for (const t of data.rows)
      for (const [m, at] of Object.entries(t.miniature?.regions ?? {})) {
        const fill = (out[m] ??= { right: 0, left: 0 })
        fill.right = (fill.right ?? 0) + (at.right > 0 ? 1 / data.rows.length : 0)
        fill.left = (fill.left ?? 0) + (at.left > 0 ? 1 / data.rows.length : 0)
      }
    return muscle ? { [muscle]: { right: 1, left: 1 } } : out
  })
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
<main
  class="mx-auto grid max-w-frame grid-cols-[220px_minmax(0,1fr)] gap-x-7 px-6 pt-3 pb-16 max-lg:grid-cols-1 max-sm:px-3"
>
  <aside aria-label="Find a template" class="pt-1">
    <input
      class="field min-h-chip"
      placeholder="concern, approach, name"
      aria-label="Find a template"
      bind:value={wanted}
    />
    <h2 class="mt-4 text-base">What works</h2>
    <FacePicker
      {muscles}
      fills={reach}
      bind:view
      height={260}
      label="muscles that templates work"
      hint={muscle ? '' : 'Touch a muscle to see the templates that work it.'}
      pick={(m) => (muscle = muscle === m ? '' : m)}
    />
    {#if muscle}<p class="text-small">
        Only those that work <b>{name}</b>, most first.
        <button class="link" onclick={() => (muscle = '')}>Show all</button>
      </p>{/if}
  </aside>
  <div>
    <h1 class="text-huge">Templates</h1>
    <p class="mt-1 max-w-page text-soft">
      Programs to begin from. Doses are kept by rungs, so that they fit each client’s count pace; what a
      caution locks is left out for a client, and named.
    </p>
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    <ul class="mt-3">
      {#each hits as t (t.id)}
        <li
          class="relative grid grid-cols-[minmax(0,1fr)_300px_74px_56px] items-start gap-x-5 border-t border-rule py-2.5 last:border-b hover:bg-sheet max-md:grid-cols-1"
        >
          <div>
            <a
              class="font-head text-sub font-bold after:absolute after:inset-0 hover:underline"
              href="/templates/{t.id}">{t.title}</a
            >
            <p class="text-small text-soft">
              {t.weeks} weeks, {t.lines} exercises{t.minutes ? `, up to ${t.minutes} min` : ''}, {t.approach}; {t.own
                ? `own, by ${t.saved_by}`
                : 'ships with Dimbo'}
            </p>
            <p class="mt-1 text-row">{t.about || 'No words yet on what it is for.'}</p>
            <p class="mt-0.5 text-small text-soft">
              {t.concerns.map((c) => c.name.toLowerCase()).join('; ')}
            </p>
          </div>
          {#if t.miniature}
            <Miniature small={t.miniature} />
            <span class="block h-[92px]"
              ><FaceMap
                view="facing"
                fills={t.miniature.regions}
                small
                labels={false}
                label="where {t.title} works"
              /></span
            >
          {:else}<p class="col-span-2 text-small text-soft">
              An exercise of it is gone. Open it to put another in its place.
            </p>{/if}
          <div class="relative flex flex-col items-start gap-1 text-row">
            <button class="link" onclick={() => copy(t.id)} aria-label="Copy {t.title}">Copy</button>
            {#if t.own}<button class="link" onclick={() => remove(t.id)} aria-label="Remove {t.title}"
                >Remove</button
              >{/if}
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
  </div>
</main>
