<script lang="ts">
  import type { Bench } from '$lib/sittings/bench.svelte'
  import { valueLines } from './strip'
  import TimeStrip from './TimeStrip.svelte'

  /** All sittings of the view that is compared, with the chosen reading under each; choosing one holds it against the earlier one. */
  let { bench, who }: { bench: Bench; who: string } = $props()
  let wanted = $state('')
  const view = $derived(bench.photo('after')?.view ?? 'front-neutral')
  const choices = $derived([
    ...new Map(
      (bench.view?.sittings ?? [])
        .flatMap((s) => s.readings)
        .filter((r) => r.view === view)
        .map((r) => [r.id, r] as const)
    ).values()
  ])
  const primary = $derived(bench.view?.primary ?? [])
  const reading = $derived(
    choices.find((r) => r.id === wanted) ?? choices.find((r) => primary.includes(r.id)) ?? choices[0]
  )
  const sittings = $derived(
    (bench.view?.sittings ?? []).map((s) => {
      const shots = s.photographs.filter((p) => p.view === view && p.state === 'measured')
      const photo = shots.find((p) => p.standing !== 'to be retaken') ?? shots[0] ?? null
      const value = s.readings.find((r) => r.id === reading?.id)
      const lines = reading
        ? valueLines(value && { ...value, excluded: false }, reading.unit, reading.paired)
        : []
      return { id: s.id, day: s.taken_on, photo, lines: photo ? lines : ['no photograph'], faint: !value }
    })
  )
</script>

{#if sittings.length > 1}
  <section class="mt-4 border-t border-rule pt-2" aria-label="In the order of time">
    <div class="flex items-center justify-between gap-3 text-row">
      <h2 class="font-sans text-row font-bold">In time</h2>
      {#if choices.length > 1 && reading}
        <label class="text-soft"
          >Under each: <select
            class="pick"
            value={reading.id}
            onchange={(e) => (wanted = e.currentTarget.value)}
          >
            {#each choices as r (r.id)}<option value={r.id}>{r.name}</option>{/each}
          </select></label
        >
      {/if}
    </div>
    <div class="mt-1">
      <TimeStrip
        {sittings}
        chosen={bench.view?.comparison.after ?? undefined}
        {who}
        pick={(id) => id !== bench.view?.comparison.after && bench.choose('after', id)}
      />
    </div>
  </section>
{/if}
