<script lang="ts">
  import { shortDay, signed } from '$lib/format'
  import type { Schemas } from '$lib/api/client'
  import type { Bench } from './bench.svelte'

  /** The rule behind one verdict: every shot, both bands, and the sum in words. */
  let {
    bench,
    reading,
    was,
    change
  }: {
    bench: Bench
    reading: Schemas['ReadingView']
    was?: Schemas['ReadingView']
    change?: Schemas['ChangeView']
  } = $props()
  const unit = $derived(reading.unit)
  /** What the newer value is held against: the sitting before, or both baselines as one. */
  const from = $derived(was && (change?.start ?? was))
  const n = (v: number | null | undefined, d = 1) =>
    v === null || v === undefined ? '' : v.toFixed(d).replace('-', '−')
  const show = (v: number) => (reading.paired ? signed(v) : n(v))
  const bar = $derived(change?.holm_mdc ?? change?.mdc ?? 0)
  /** What one sitting alone is held against: no difference for a pair, its own value otherwise. */
  const centre = $derived(reading.paired ? 0 : reading.value)
  const all = $derived([
    ...reading.shots,
    ...(from?.shots ?? []),
    reading.value,
    ...(from ? [from.value - bar, from.value + bar] : [centre - reading.band, centre + reading.band])
  ])
  const low = $derived(Math.min(...all) - 0.15 * (Math.max(...all) - Math.min(...all) || 1))
  const high = $derived(Math.max(...all) + 0.15 * (Math.max(...all) - Math.min(...all) || 1))
  const W = 338
  const x = (v: number) => 10 + ((v - low) / (high - low)) * (W - 20)
  const ticks = $derived.by(() => {
    const step = [0.1, 0.2, 0.5, 1, 2, 5, 10].find((s) => (high - low) / s <= 7) ?? 20
    const out = []
    for (let v = Math.ceil(low / step) * step; v <= high; v += step) out.push(Math.round(v * 10) / 10)
    return out
  })
  const day = (where: 'before' | 'after') => shortDay(bench.sitting(where)?.taken_on ?? '')
  const shots = (k: number) => `${k} shot${k === 1 ? '' : 's'}`
</script>

<div class="mt-3 border-t border-ink pt-2">
  <h3 class="text-base">
    {reading.name}: why {change ? `this is called ${change.verdict}` : 'this is said'}
  </h3>
  <table class="mt-1 w-full text-small" aria-label="{reading.name}, numbers">
    <thead
      ><tr class="border-b border-ink"
        ><td></td>{#if reading.paired}<th class="text-right text-side-right">right</th><th
            class="text-right text-side-left">left</th
          >{/if}<th class="text-right font-normal">{reading.paired ? 'left − right' : unit}</th></tr
      ></thead
    >
    <tbody>
      {#if from}<tr
          ><td>{change?.start?.both ? 'both baselines' : day('before')}, {shots(from.shots.length)}</td
          >{#if reading.paired}<td class="text-right">{n(from.right)}</td><td class="text-right"
              >{n(from.left)}</td
            >{/if}<td class="text-right">{show(from.value)} ±{n(from.band)}</td></tr
        >{/if}
      <tr
        ><td>{day('after')}, {shots(reading.shots.length)}</td>{#if reading.paired}<td class="text-right"
            >{n(reading.right)}</td
          ><td class="text-right">{n(reading.left)}</td>{/if}<td class="text-right"
          >{show(reading.value)} ±{n(reading.band)}</td
        ></tr
      >
      {#if change && from}<tr class="border-t border-rule font-bold"
          ><td>change</td>{#if reading.paired}<td class="text-right"
              >{change.sides[0] ? signed(change.sides[0].amount) : ''}</td
            ><td class="text-right">{change.sides[1] ? signed(change.sides[1].amount) : ''}</td>{/if}<td
            class="text-right">{signed(change.amount)} {unit}</td
          ></tr
        >{/if}
    </tbody>
  </table>
  <svg
    viewBox="0 0 {W} 74"
    class="mt-1 w-full"
    role="img"
    aria-label="Every shot on one axis, with the noise"
  >
    {#if from}
      <rect
        x={x(from.value - bar)}
        y="6"
        width={x(from.value + bar) - x(from.value - bar)}
        height="40"
        fill="var(--color-band)"
      />
      <path d="M{x(from.value)} 6V46" stroke="var(--color-ink)" stroke-dasharray="3 3" />
      {#each from.shots as v, i (i)}<circle
          cx={x(v)}
          cy="17"
          r="3.6"
          fill="var(--color-sheet)"
          stroke="var(--color-ink)"
          stroke-width="1.6"
        />{/each}
    {:else}
      <rect
        x={x(reading.paired ? -reading.band : reading.value - reading.band)}
        y="6"
        width={x((reading.paired ? 0 : reading.value) + reading.band) -
          x((reading.paired ? 0 : reading.value) - reading.band)}
        height="40"
        fill="var(--color-band)"
      />
    {/if}
    {#each reading.shots as v, i (i)}<circle cx={x(v)} cy="35" r="3.6" fill="var(--color-ink)" />{/each}
    <path d="M{x(reading.value)} 26V46" stroke="var(--color-ink)" stroke-width="2" />
    <path d="M0 50H{W}" stroke="var(--color-ink)" />
    {#each ticks as t (t)}<path d="M{x(t)} 50v4" stroke="var(--color-ink)" /><text
        x={x(t)}
        y="66"
        text-anchor="middle"
        class="text-note"
        fill="var(--color-soft)">{n(t)}</text
      >{/each}
    <text x={W} y="73" text-anchor="end" class="text-note" fill="var(--color-soft)">{unit}</text>
  </svg>
  <p class="text-small leading-[18px]">
    {#if change?.verdict === 'not comparable'}
      {change.reason}
    {:else if change && was}
      Noise of a change ±{n(change.mdc, 2)}
      {unit}: of re-posing (SD {n(reading.sitting_sd, 2)}) and of single shots (SD {n(reading.shot_sd, 2)}),
      on both days{change.holm_mdc && change.holm_mdc > change.mdc + 0.005
        ? `; as one of many also looked at, the bar is ±${n(change.holm_mdc, 2)}`
        : ''}.
      <b
        >{n(Math.abs(change.amount), 2)} is {change.verdict === 'beyond noise' ? 'more' : 'not more'} than {n(
          bar,
          2
        )}. {change.verdict === 'beyond noise'
          ? 'Not a promise of more.'
          : 'Within noise is a real answer.'}</b
      >
    {:else}
      Band of one sitting ±{n(reading.band, 2)}
      {unit}: re-posing (SD {n(reading.sitting_sd, 2)}), {shots(reading.shots.length)} (SD {n(
        reading.shot_sd,
        2
      )} each){reading.method_sd
        ? `, and what the method itself is off by from face to face (SD ${n(reading.method_sd, 2)}), which is the same on both days of a comparison`
        : ''}.
    {/if}
    {reading.provisional
      ? 'Provisional: shipped noise is blended in until this client has enough shots of their own.'
      : ''}
  </p>
  {#if reading.care}<p class="text-small"><b>With care:</b> {reading.care}</p>{/if}
  <p class="text-note text-soft">{reading.definition}</p>
</div>
