<script lang="ts">
  import { here } from '$lib/format'
  import type { Days } from '$lib/offline/db'
  import { handIn, put, queue } from '$lib/offline/queue.svelte'

  /**
   * Health comes before practice: the sudden signs one by one, the other conditions a few at a time, and agreeing to
   * practise. Each answer is kept on the phone as it is given.
   */
  let { view }: { view: Days } = $props()
  type Question = Days['questions'][number]
  /** So few at a time may be answered with one no, and their names are read before. */
  const AT_ONCE = 4
  /** For so long the next question takes no touch: a second tap was meant for the one before it. */
  const READ_MS = 350
  const GROUPS: Record<string, string> = {
    clinician: 'Have you ever had, or do you have',
    treatment: 'Have you had treatments of the face',
    skin: 'Is there on face or neck now',
    body: 'Does one of these hold for you'
  }
  let opened = $state<string | null>(null)
  let yes = $state<Question | null>(null)
  let regions = $state<string[]>([])
  let on = $state('')

  const answered = $derived(
    new Set(queue.waiting.flatMap(({ entry }) => (entry.kind === 'answer' ? [entry.caution] : [])))
  )
  const agreed = $derived(queue.waiting.some(({ entry }) => entry.kind === 'agree'))
  const left = $derived(view.questions.filter((q) => !answered.has(q.id)))
  const urgent = $derived(left.find((q) => q.group === 'urgent'))
  /** The next conditions of one kind, few enough to be read at a glance. */
  const block = $derived.by(() => {
    const first = left.find((q) => q.group !== 'urgent')
    return first ? left.filter((q) => q.group === first.group).slice(0, AT_ONCE) : []
  })
  const single = $derived(
    urgent ?? block.find((q) => q.id === opened) ?? (block.length === 1 ? block[0] : undefined)
  )
  const born = $derived(queue.waiting.some(({ entry }) => entry.kind === 'born'))
  let year = $state<number | null>(null)
  async function bornIn() {
    if (!year) return
    await put({ kind: 'born', id: crypto.randomUUID(), year, said_at: new Date().toISOString() })
    void handIn()
  }
  const total = $derived(view.questions.length)
  const asked = $derived(yes?.id ?? single?.id ?? block.map((q) => q.id).join(' '))
  let fresh = $state(true)
  $effect(() => {
    void asked
    fresh = true
    const timer = setTimeout(() => (fresh = false), READ_MS)
    return () => clearTimeout(timer)
  })

  async function say(q: Question, answer: 'yes' | 'no' | 'unsure') {
    await put({
      kind: 'answer',
      id: crypto.randomUUID(),
      caution: q.id,
      answer,
      regions: answer === 'no' ? [] : [...regions],
      event_on: answer !== 'no' && on ? on : null,
      said_at: new Date().toISOString()
    })
    yes = null
    opened = null
    regions = []
    on = ''
    // A sudden sign is told at once; the rest goes in one delivery, when all is answered.
    if ((q.group === 'urgent' && answer !== 'no') || left.length === 0) void handIn()
  }

  function tell(q: Question, answer: 'yes' | 'no' | 'unsure') {
    if (answer !== 'no' && (q.noted_regions || q.dated)) yes = q
    else void say(q, answer)
  }

  async function none() {
    for (const q of block) await say(q, 'no')
  }

  async function agree(given: boolean) {
    if (!view.to_agree) return
    await put({
      kind: 'agree',
      id: crypto.randomUUID(),
      given,
      version: view.to_agree.version,
      said_at: new Date().toISOString()
    })
    void handIn()
  }
  const big = 'act min-h-wet w-full text-big'
</script>

<section aria-label="Before you practise" aria-live="polite">
  <p class="mt-5 text-soft">
    Before you practise{total > 1 && left.length ? `, ${total - left.length + 1} of ${total}` : ''}
  </p>
  {#if yes}
    <h1 class="mt-1 text-title leading-tight">{yes.name}</h1>
    {#if yes.noted_regions}
      <p class="mt-3">Where? Touch all that it is.</p>
      <div class="mt-2 flex flex-wrap gap-2">
        {#each view.regions as region (region)}<button
            class="min-h-press rounded border-firm border-edge px-3 text-sub aria-pressed:border-action aria-pressed:bg-action aria-pressed:font-bold aria-pressed:text-sheet"
            aria-pressed={regions.includes(region)}
            onclick={() =>
              (regions = regions.includes(region)
                ? regions.filter((r) => r !== region)
                : [...regions, region])}>{region}</button
          >{/each}
      </div>
    {/if}
    {#if yes.dated}<label class="mt-4 grid gap-1"
        >When was it?<input type="date" class="field min-h-press" max={here()} bind:value={on} /></label
      >{/if}
    <div class="mt-5 grid gap-3">
      <button class={big} disabled={fresh} onclick={() => yes && say(yes, 'yes')}>Keep it</button>
      <button class="{big} act-quiet" onclick={() => (yes = null)}>Back</button>
    </div>
  {:else if single}
    <h1 class="mt-1 text-title leading-tight">{single.ask}</h1>
    {#if single.group === 'urgent'}<p class="mt-3 text-sub text-soft">
        New and sudden. What has always been so is no sign.
      </p>{/if}
    <div class="mt-5 grid gap-3">
      <button class={big} disabled={fresh} onclick={() => single && tell(single, 'no')}>No</button>
      <button class="{big} act-quiet" disabled={fresh} onclick={() => single && tell(single, 'yes')}
        >Yes</button
      >
      <button class="{big} act-quiet" disabled={fresh} onclick={() => single && tell(single, 'unsure')}
        >Not sure</button
      >
    </div>
    <p class="mt-3 text-lead text-soft">
      Not sure counts as yes until somebody who knows has said otherwise. A yes tells your coach what to leave
      out.
    </p>
  {:else if block.length}
    <h1 class="mt-1 text-title leading-tight">
      {GROUPS[block[0]?.group ?? ''] ?? 'Does one of these hold for you'}:
    </h1>
    <ul class="mt-3 grid gap-2">
      {#each block as q (q.id)}<li>
          <button
            class="min-h-hand w-full rounded border-firm border-edge bg-sheet px-3 text-left text-head font-semibold"
            onclick={() => (opened = q.id)}>{q.name}</button
          >
        </li>{/each}
    </ul>
    <button class="mt-4 {big}" disabled={fresh} onclick={none}>No to all {block.length} of these</button>
    <p class="mt-3 text-lead text-soft">If one holds, or you are not sure, touch it.</p>
  {:else if view.no_age && !born}
    <h1 class="mt-1 text-title leading-tight">In which year were you born?</h1>
    <p class="mt-3">Practice begins at 16, and under 18 a parent or guardian agrees as well.</p>
    <form
      class="mt-5 grid gap-3"
      onsubmit={(e) => {
        e.preventDefault()
        void bornIn()
      }}
    >
      <input
        class="field min-h-hand text-huge"
        inputmode="numeric"
        aria-label="Year of birth"
        required
        min="1900"
        max={new Date().getFullYear()}
        type="number"
        bind:value={year}
      />
      <button class={big} disabled={fresh}>Keep it</button>
    </form>
  {:else if view.to_agree && !agreed}
    <h1 class="mt-1 text-title leading-tight">{view.to_agree.name}</h1>
    <p class="mt-3">{view.to_agree.text}</p>
    <div class="mt-5 grid gap-3">
      <button class={big} disabled={fresh} onclick={() => agree(true)}>I agree</button>
      <button class="{big} act-quiet" onclick={() => agree(false)}>I do not agree</button>
    </div>
  {:else}
    <h1 class="mt-1 text-title leading-tight">Thank you</h1>
    <p class="mt-3">
      {queue.held === 'offline' || queue.held === 'server'
        ? 'Your answers are kept on this phone. Your session appears as soon as there is a connection.'
        : 'Your answers are on their way, and your session appears here.'}
    </p>
  {/if}
</section>
