<script lang="ts">
  import { timeAt } from '$lib/format'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Mark from '$lib/parts/Mark.svelte'

  /** Notes with date and author, and everything that changed. */
  let { intake }: { intake: Intake } = $props()
  const place = $derived(`dimbo note ${intake.client}`)
  let text = $state('')
  let entries = $state<Schemas['TimelineEntry'][]>([])
  let more = $state(true)
  let only = $state('')
  let problem = $state('')

  async function load(before?: number) {
    await attempt(
      (why) => (problem = why),
      async () => {
        const found = await ask(
          api.GET('/api/clients/{client_id}/timeline', {
            params: { path: { client_id: intake.client }, query: before === undefined ? {} : { before } }
          })
        )
        entries = before === undefined ? found : [...entries, ...found]
        more = found.length === 200
      }
    )
  }
  onMount(() => {
    text = sessionStorage.getItem(place) ?? ''
    void load()
  })
  let last = ''
  $effect(() => {
    const waiting = intake.waiting.length
    const now = String(waiting)
    if (last && waiting === 0 && last !== now) void load()
    last = now
  })

  function keep(event: SubmitEvent) {
    event.preventDefault()
    if (!text.trim()) return
    intake.enter('note', '', { text })
    text = ''
    sessionStorage.removeItem(place)
  }
  const GROUPS: Record<string, string[]> = {
    '': [],
    notes: ['note'],
    'locks and clearances': ['lock', 'release', 'clearance', 'caution'],
    consent: ['consent', 'photographs']
  }
  const kinds = $derived(GROUPS[only] ?? [])
  const shown = $derived(entries.filter((e) => !kinds.length || kinds.includes(e.kind)))
  const day = (at: string) =>
    new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
</script>

<section aria-label="Notes">
  <h2 class="border-b border-ink pb-1">Notes</h2>
  <form class="mt-2 grid gap-2" onsubmit={keep}>
    <textarea
      class="h-[72px] field py-2"
      aria-label="New note"
      data-question="notes:"
      bind:value={text}
      oninput={() => sessionStorage.setItem(place, text)}></textarea>
    <div class="flex items-center gap-4">
      <button class="act" disabled={!text.trim()}>Keep the note</button>
      <span class="text-small text-soft"
        >With your name and the date; notes are never shown to the client.</span
      >
    </div>
  </form>
  <div class="mt-5 flex items-end gap-4 border-b border-ink pb-1">
    <h2>Everything that changed</h2>
    <label class="ml-auto flex items-center gap-2 text-small text-soft"
      >Show <select class="pick" bind:value={only}>
        <option value="">all</option>
        {#each Object.keys(GROUPS).filter(Boolean) as g (g)}<option>{g}</option>{/each}
      </select></label
    >
  </div>
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  <ol class="text-row">
    {#each shown as e, i (e.seq)}
      <li class="grid grid-cols-[96px_1fr_150px] gap-x-3 border-b border-rule py-[3px]">
        <span class="text-soft">{i === 0 || day(e.at) !== day(shown[i - 1]?.at ?? '') ? day(e.at) : ''}</span>
        <span class="flex gap-2"
          >{#if e.kind === 'lock'}<Mark weight="stop" />{:else if e.kind === 'release'}<Mark
              weight="fine"
            />{/if}<span class="whitespace-pre-line">{e.text}</span></span
        >
        <span class="text-right text-small text-soft"
          >{e.source === 'self-intake' ? `${e.author}, own intake` : e.author}, {timeAt(e.at)}</span
        >
      </li>
    {:else}<li class="py-2 text-soft">Nothing yet.</li>{/each}
  </ol>
  {#if more && entries.length}<button class="mt-2 link" onclick={() => load(entries.at(-1)?.seq)}
      >Earlier</button
    >{/if}
</section>
