<script lang="ts">
  import type { Days } from '$lib/offline/db'
  import { handIn, put, queue } from '$lib/offline/queue.svelte'
  import type { Fills, Side } from '$lib/signature/face-map'
  import SignsLink from '$lib/safety/SignsLink.svelte'

  /** How sore after the last practice: one tap for the number, one for the place. What was said holds until said anew. */
  let { view }: { view: Days } = $props()
  let open = $state(false)
  let chosen = $state<number | null>(null)
  let places = $state<{ muscle: string; side: Side }[]>([])
  let behind = $state(false)

  const local = $derived(
    queue.waiting.findLast(
      ({ entry }) => entry.kind === 'check-in' && Date.now() - Date.parse(entry.said_at) < 20 * 3600_000
    )?.entry
  )
  const said = $derived(
    local?.kind === 'check-in' ? { soreness: local.soreness, places: local.places ?? [] } : view.checked_in
  )
  const names = $derived(new Map(view.muscles.map((m) => [m.id, m.name])))
  const tender = $derived.by((): Fills => {
    const out: Fills = {}
    for (const p of places) out[p.muscle] = { ...out[p.muscle], [p.side]: 0.7 }
    return out
  })

  /** What is said is kept at once; a place that is touched after says it anew with the place. */
  async function keep(soreness: number) {
    await put({
      kind: 'check-in',
      id: crypto.randomUUID(),
      soreness,
      places: [...places],
      said_at: new Date().toISOString()
    })
    void handIn()
  }

  function level(n: number) {
    places = []
    chosen = n || null
    open = n > 0
    void keep(n)
  }

  function touch(muscle: string, side: Side) {
    const has = places.some((p) => p.muscle === muscle && p.side === side)
    places = has
      ? places.filter((p) => p.muscle !== muscle || p.side !== side)
      : [...places, { muscle, side }]
    void keep(chosen ?? 0)
  }

  function close() {
    open = false
    chosen = null
    behind = false
  }
</script>

<section class="mt-7" aria-label="Check-in">
  {#if open || view.check_in_about}<p class="mb-1">
      <SignsLink {view} words="Not sore, but suddenly uneven, numb or weak?" />
    </p>{/if}
  {#if said && !open}
    <h2 class="text-big">Sore today: {said.soreness} of 10</h2>
    <p class="mt-1">
      {said.places.length
        ? `At ${said.places.map((p) => `${p.side} ${names.get(p.muscle) ?? p.muscle}`).join(', ')}. `
        : ''}{said.soreness > 5 ? 'That is much; your coach sees it. Go easy today.' : 'Thank you.'}
      <button class="min-h-touch link" onclick={() => (open = true)}>Change</button>
    </p>
  {:else if view.check_in_about || open}
    <h2 class="text-big">How sore after the last practice?</h2>
    {#if chosen === null}
      <p class="mt-1 text-lead text-soft">0 is not at all, 10 the worst.</p>
      <div class="mt-2 grid grid-cols-6 gap-2">
        {#each [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as n (n)}
          <button
            class="min-h-press rounded border-firm border-edge bg-sheet text-big font-bold"
            onclick={() => level(n)}>{n}</button
          >
        {/each}
      </div>
    {:else}
      <p class="mt-1">
        <b>{chosen} of 10, kept.</b> Touch where. {behind
          ? 'You see yourself from behind: right is right.'
          : 'The map is as in your mirror.'}
      </p>
      <div class="mx-auto mt-2 h-[330px]">
        {#await import('$lib/signature/FaceMap.svelte') then { default: FaceMap }}
          <FaceMap
            view={behind ? 'behind' : 'mirror'}
            {tender}
            names={Object.fromEntries(names)}
            pick={touch}
            label="where it is sore"
            fibres={false}
          />
        {/await}
      </div>
      <p class="min-h-chip" aria-live="polite">
        {places.map((p) => `${p.side} ${names.get(p.muscle) ?? p.muscle}`).join(', ')}
      </p>
      <div class="mt-2 grid grid-cols-2 gap-3">
        <button class="act min-h-hand text-sub act-quiet" onclick={() => (behind = !behind)}
          >{behind ? 'The face' : 'Back of head, nape'}</button
        >
        <button class="act min-h-hand text-head act-quiet" onclick={close}>Done</button>
      </div>
    {/if}
  {/if}
</section>
