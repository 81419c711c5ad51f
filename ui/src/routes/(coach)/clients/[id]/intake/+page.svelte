<script lang="ts">
  import { page } from '$app/state'
  import { onDestroy, onMount, tick } from 'svelte'
  import { api, ask, type Schemas } from '$lib/api/client'
  import { Intake } from '$lib/intake/intake.svelte'
  import { severityFills } from '$lib/intake/regions'
  import FacePicker from '$lib/signature/FacePicker.svelte'
  import type { View } from '$lib/signature/face-map'
  import ClientHead from '../ClientHead.svelte'
  import Cautions from './Cautions.svelte'
  import Concerns from './Concerns.svelte'
  import Conclusions from './Conclusions.svelte'
  import Consents from './Consents.svelte'
  import Notes from './Notes.svelte'
  import SelfIntake from './SelfIntake.svelte'
  import SideTests from './SideTests.svelte'
  import Time from './Time.svelte'

  const id = page.params.id ?? ''
  const intake = new Intake(id)
  let section = $state('urgent')
  let picked = $state<{ muscle: string; side: 'right' | 'left' } | null>(null)
  let view = $state<View>('facing')
  let problem = $state('')
  onMount(async () => {
    await intake.load()
    await fromAddress()
  })
  onDestroy(() => intake.stop())

  const v = $derived(intake.view)
  const t = $derived(intake.tables)
  const count = (groups: string[]) => {
    const rules = (t?.cautions ?? []).filter((r) => groups.includes(r.group))
    return `${rules.filter((r) => v?.cautions[r.id]).length} of ${rules.length}`
  }
  const HEALTH = ['clinician', 'treatment', 'skin', 'body']
  const asked = $derived((t?.tests ?? []).filter((x) => !x.measured))
  const sections = $derived([
    { key: 'urgent', name: 'Sudden signs', count: count(['urgent']) },
    { key: 'cautions', name: 'Cautions', count: count(HEALTH) },
    {
      key: 'concerns',
      name: 'Concerns',
      count: String(Object.values(v?.ratings ?? {}).filter((r) => r.right || r.left).length)
    },
    {
      key: 'tests',
      name: 'Side tests, habits',
      count: `${asked.filter((x) => v?.results[x.id]).length} of ${asked.length}`
    },
    { key: 'time', name: 'Time, goals', count: v?.profile.minutes ? `${v.profile.minutes} min` : '' },
    {
      key: 'consent',
      name: 'Consent',
      count: `${(v?.consents ?? []).filter((c) => c.settled).length} of ${v?.consents.length ?? 0}`
    },
    { key: 'notes', name: 'Notes, changes', count: '' }
  ])

  /** Where the next health answer is missing: the signs, the other cautions, or consent. */
  function firstOpen(): string {
    const missing = (groups: string[]) =>
      (t?.cautions ?? []).some((r) => groups.includes(r.group) && !v?.cautions[r.id])
    return missing(['urgent']) ? 'urgent' : missing(HEALTH) ? 'cautions' : 'consent'
  }

  /** The address may name a section, as links from other pages do. */
  async function fromAddress() {
    const asked = location.hash === '#health' ? firstOpen() : location.hash.slice(1)
    if (sections.some((s) => s.key === asked)) await open(asked)
  }

  async function open(key: string) {
    section = key
    await tick()
    document.querySelector<HTMLElement>('main [data-question]')?.focus()
  }
  function onward() {
    const next = sections[sections.findIndex((s) => s.key === section) + 1]
    if (next) void open(next.key)
  }

  /** Go to what should be asked next, wherever it stands. */
  async function go(next: Schemas['AskView']) {
    const urgent = t?.cautions.find((c) => c.id === next.key)?.group === 'urgent'
    section = next.place === 'cautions' && urgent ? 'urgent' : next.place
    await tick()
    const wanted = next.key ? `${next.place}:${next.key}` : 'add-concern'
    const found =
      document.querySelector<HTMLElement>(`[data-question="${wanted}"]`) ??
      document.querySelector<HTMLElement>('main [data-question]')
    found?.focus()
    found?.scrollIntoView({ block: 'center' })
  }

  function keys(event: KeyboardEvent) {
    if (!event.altKey) return
    const first = v?.conclusions.ask_next[0]
    if (event.key === 'Enter' && first) {
      event.preventDefault()
      void go(first)
    } else if (event.key === 'PageDown' || event.key === 'PageUp') {
      event.preventDefault()
      const place = sections.findIndex((s) => s.key === section) + (event.key === 'PageDown' ? 1 : -1)
      const next = sections[place]
      if (next) void open(next.key)
    }
  }

  const path = { params: { path: { client_id: id } } }
  const begin = async () =>
    (problem = await intake.run(ask(api.POST('/api/clients/{client_id}/intake', path))))
  const finish = async () =>
    (problem = await intake.run(ask(api.POST('/api/clients/{client_id}/intake/finish', path))))
  const day = (at: string) =>
    new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
  const isOpen = $derived(!!v?.opened_at && !v.finished_at)
  const severity = $derived(severityFills(t?.concerns ?? [], v?.ratings ?? {}))
  const said = (muscle: string, side: 'right' | 'left') =>
    (t?.concerns ?? [])
      .filter((c) => c.muscles.includes(muscle) && (v?.ratings[c.id]?.[side] ?? 0) > 0)
      .map((c) => `${c.name.toLowerCase()} ${v?.ratings[c.id]?.[side]} of 4`)
      .join(', ')
</script>

<svelte:head><title>Intake · {v?.profile.name ?? 'Client'} · Dimbo</title></svelte:head>
<svelte:window onkeydown={keys} onhashchange={fromAddress} />
<main class="mx-auto max-w-frame px-6 pt-3">
  {#if intake.failure}<p role="alert" class="text-stop">{intake.failure}</p>{/if}
  {#if !v && !intake.failure}<p class="mt-8 text-soft">Reading the intake …</p>{/if}
  {#if v && t}
    <div class="flex items-start gap-6">
      <div>
        <ClientHead name={v.profile.name} {id} place="intake">
          {isOpen && v.opened_at
            ? `Intake begun ${day(v.opened_at)} by ${v.opened_by}.`
            : v.finished_at
              ? `Intake finished ${day(v.finished_at)}.`
              : 'No intake yet.'}
          <span
            class="ml-2 text-small {intake.held ? 'font-bold text-watch' : 'text-soft'}"
            aria-live="polite"
          >
            {intake.state}
          </span>
        </ClientHead>
      </div>
      <div class="ml-auto flex items-center gap-3 pt-1">
        <SelfIntake {intake} />
        {#if isOpen}<button class="act !min-h-chip act-quiet" onclick={finish}>Finish the intake</button>
        {:else}<button class="act !min-h-chip" onclick={begin}
            >{v.finished_at ? 'Begin a new intake' : 'Begin the intake'}</button
          >{/if}
      </div>
    </div>
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
    {#if v.conclusions.urgent}
      <p
        role="alert"
        class="sticky top-0 z-30 mt-3 border-[3px] border-stop bg-sheet px-4 py-3 text-head font-bold text-stop"
      >
        {v.conclusions.urgent}
        <span class="block text-row font-normal text-ink"
          >Dimbo does not diagnose. Nothing can be assigned until a clearance with a name, a role and a date
          is recorded.</span
        >
      </p>
    {/if}
    <div
      class="mt-3 grid grid-cols-[204px_1fr_216px] gap-x-6 max-lg:grid-cols-[204px_1fr] max-sm:grid-cols-1"
    >
      <div class="sticky top-3 self-start">
        <nav aria-label="Sections of the intake" class="mb-3">
          {#each sections as s (s.key)}
            <button
              class="flex w-full items-baseline border-l-[3px] px-2 py-[3px] text-left {section === s.key
                ? 'border-action bg-sheet font-bold'
                : 'border-transparent'}"
              aria-current={section === s.key ? 'step' : undefined}
              onclick={() => open(s.key)}
              >{s.name}<span class="ml-auto text-note font-normal text-soft">{s.count}</span></button
            >
          {/each}
        </nav>
        <FacePicker
          muscles={t.muscles}
          fills={severity}
          holds={v.conclusions.holds}
          words={said}
          label="severity of concerns, locked and eased regions"
          bind:view
          hint="Pick a muscle to see its concerns."
          pick={(muscle, side) => {
            picked = { muscle, side }
            section = 'concerns'
          }}
        />
        <p class="text-note text-soft">
          Hatched: severity. Crossed red: locked. Dashed: eased, or locked in part.
        </p>
      </div>
      <section class="min-w-0 pb-24" aria-label="Questions">
        {#if section === 'urgent'}<Cautions {intake} groups={['urgent']} end={onward} />
        {:else if section === 'cautions'}<Cautions {intake} groups={HEALTH} end={onward} />
        {:else if section === 'concerns'}<Concerns {intake} bind:picked />
        {:else if section === 'tests'}<SideTests {intake} end={onward} />
        {:else if section === 'time'}<Time {intake} />
        {:else if section === 'consent'}<Consents {intake} />
        {:else}<Notes {intake} />{/if}
        <p class="mt-4 text-note text-soft">
          <kbd>Y</kbd> <kbd>N</kbd> <kbd>U</kbd> answer and go on, <kbd>0</kbd>–<kbd>4</kbd> rate,
          <kbd>↑</kbd> <kbd>↓</kbd> walk, <kbd>Alt</kbd> <kbd>PgDn</kbd> next section.
        </p>
      </section>
      <aside
        class="sticky top-3 max-h-[calc(100vh-24px)] self-start overflow-y-auto border-l border-ink pl-3"
        aria-label="Margin"
      >
        <Conclusions {intake} {go} />
      </aside>
    </div>
  {/if}
</main>
