<script lang="ts">
  import { here } from '$lib/format'
  import type { Days } from '$lib/offline/db'
  import { keepHere, type Keep } from '$lib/offline/queue.svelte'
  import Signs from './Signs.svelte'

  /**
   * Something has changed in one's health: the sudden signs first, then everything else. A yes holds on this device at once,
   * whether there is a connection or not; the coach is told.
   */
  let {
    view,
    halted,
    told,
    night = false,
    keep = keepHere
  }: {
    view: Pick<Days, 'signs' | 'changes' | 'regions'>
    halted: () => void
    told: (causes: string[]) => void
    night?: boolean
    /** Where an answer goes: the outbox of this device, or a link's own address. */
    keep?: Keep
  } = $props()
  type Question = Days['changes'][number]
  const GROUPS: Record<string, string> = {
    clinician: 'An illness, an injury, an operation',
    treatment: 'A treatment of the face',
    skin: 'On the skin of face or neck',
    body: 'Something else'
  }
  let step = $state<'signs' | 'others' | 'one' | 'more'>('signs')
  let one = $state<Question | null>(null)
  let regions = $state<string[]>([])
  let on = $state('')
  const causes: string[] = []
  const edge = $derived(night ? 'border-night-soft' : 'border-edge')
  const chosen = $derived(
    night
      ? 'aria-pressed:bg-night-text aria-pressed:text-night'
      : 'aria-pressed:bg-action aria-pressed:text-sheet'
  )
  const groups = $derived(
    Object.entries(GROUPS).map(([id, name]) => ({
      name,
      questions: view.changes.filter((q) => q.group === id)
    }))
  )
  const quiet = $derived(night ? 'text-night-soft' : 'text-soft')

  function toTop(mark: HTMLElement) {
    mark.closest('[role="dialog"], .overflow-y-auto')?.scrollTo(0, 0)
  }

  function choose(q: Question) {
    one = q
    regions = []
    on = ''
    step = 'one'
  }

  async function yes() {
    if (!one) return
    causes.push(one.id)
    await keep({
      kind: 'answer',
      id: crypto.randomUUID(),
      caution: one.id,
      answer: 'yes',
      regions: [...regions],
      event_on: on || null,
      said_at: new Date().toISOString()
    })
    step = 'more'
  }

  const finish = () => told(causes)

  async function nothing() {
    await keep({ kind: 'asked', id: crypto.randomUUID(), said_at: new Date().toISOString() })
    finish()
  }
</script>

<!-- Every step is read from its top. -->
{#key step}<span class="block" {@attach toTop}></span>{/key}
{#if step === 'signs'}
  <Signs {view} {night} {keep} told={halted} none="None of these; ask on" back={() => (step = 'others')} />
{:else if step === 'others'}
  <h1 class="mt-3 text-title leading-tight">What has changed?</h1>
  <p class="mt-2 text-sub {quiet}">Touch what is new since you were last asked.</p>
  {#each groups as group (group.name)}
    <details class="mt-3" name="changed">
      <summary class="min-h-hand rounded border-2 {edge} px-3 py-3 text-big leading-tight font-bold"
        >{group.name}</summary
      >
      <ul class="mt-2 mb-4 grid gap-2">
        {#each group.questions as q (q.id)}<li>
            <button
              class="min-h-hand w-full rounded border-2 {edge} px-3 py-1 text-left text-head leading-tight font-semibold"
              onclick={() => choose(q)}>{q.name}</button
            >
          </li>{/each}
      </ul>
    </details>
  {/each}
  <button class="mt-5 min-h-wet w-full rounded border-2 {edge} text-big font-bold" onclick={nothing}
    >Nothing has changed</button
  >
{:else if step === 'one' && one}
  <h1 class="mt-3 text-title leading-tight">{one.ask}</h1>
  {#if one.noted_regions}
    <p class="mt-3 text-head">Where? Touch all that it is.</p>
    <div class="mt-2 flex flex-wrap gap-2">
      {#each view.regions as region (region)}<button
          class="min-h-press rounded border-2 {edge} px-3 text-sub {chosen}"
          aria-pressed={regions.includes(region)}
          onclick={() =>
            (regions = regions.includes(region) ? regions.filter((r) => r !== region) : [...regions, region])}
          >{region}</button
        >{/each}
    </div>
  {/if}
  {#if one.dated}<label class="mt-4 grid gap-1 text-head"
      >When was it?<input type="date" class="field min-h-press" max={here()} bind:value={on} /></label
    >{/if}
  <div class="mt-6 grid gap-3">
    <button class="min-h-thumb rounded bg-stop px-4 text-big font-bold text-white" onclick={yes}
      >Yes. Tell my coach</button
    >
    <button class="min-h-hand rounded border-2 {edge} text-big" onclick={() => (step = 'others')}
      >No, go back</button
    >
  </div>
  <p class="mt-4 text-sub {quiet}">
    {one.locks
      ? 'What it touches is left out from now on, until whoever treats you has said that it may go on.'
      : 'What it touches is done in its eased version, or with a reminder.'}
  </p>
{:else}
  <h1 class="mt-3 text-title leading-tight">It holds from now on</h1>
  <p class="mt-3 text-head">
    Your coach is told as soon as there is a connection. Has anything else changed?
  </p>
  <div class="mt-6 grid gap-3">
    <button class="min-h-wet rounded border-2 {edge} text-big" onclick={() => (step = 'others')}
      >Yes, something else</button
    >
    <button class="min-h-thumb rounded border-2 {edge} text-big font-bold" onclick={finish}
      >No, that is all</button
    >
  </div>
{/if}
