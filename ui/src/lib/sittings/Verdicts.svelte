<script lang="ts">
  import Hint from '$lib/parts/Hint.svelte'
  import Explain from '$lib/parts/Explain.svelte'
  import { shortDay, signed } from '$lib/format'
  import type { Schemas } from '$lib/api/client'
  import type { Bench } from './bench.svelte'
  import Mark from '$lib/parts/Mark.svelte'
  import Rungs from '$lib/signature/Rungs.svelte'
  import Why from './Why.svelte'

  /** What two sittings can tell, with the numbers behind it. */
  let { bench }: { bench: Bench } = $props()
  type Change = Schemas['ChangeView']

  const before = $derived(bench.sitting('before'))
  const after = $derived(bench.sitting('after'))
  const HEADLINES = ['fissure_height', 'brow_height', 'commissure_height']
  const primary = $derived(bench.view?.primary.length ? bench.view.primary : HEADLINES)
  const changes = $derived(new Map(bench.changes.map((c) => [c.id, c])))
  const earlier = $derived(new Map(bench.earlier.map((r) => [r.id, r])))
  const main = $derived(bench.readings.filter((r) => primary.includes(r.id)))
  const beyond = $derived(bench.changes.filter((c) => primary.includes(c.id) && c.verdict === 'beyond noise'))
  const quiet = $derived(bench.changes.filter((c) => primary.includes(c.id) && c.verdict === 'within noise'))
  const not = $derived(bench.changes.filter((c) => primary.includes(c.id) && c.verdict === 'not comparable'))
  const list = (of: Change[]) =>
    of
      .map((c, i) => (i ? c.name.toLowerCase() : c.name))
      .join(', ')
      .replace(/, ([^,]*)$/, ' and $1')
  const REGIONS = ['brows', 'eyes', 'nose', 'mouth', 'jaw and chin']
  /** From the brow down, as they stand in the face. */
  const rest = $derived(
    bench.readings
      .filter((r) => !primary.includes(r.id))
      .toSorted((a, b) => REGIONS.indexOf(a.region) - REGIONS.indexOf(b.region))
  )
  const shown = $derived(
    bench.readings.find((r) => r.id === bench.reading) ??
      main.find((r) => changes.get(r.id)?.verdict === 'beyond noise') ??
      main[0]
  )
  const num = (v: number | null | undefined) =>
    v === null || v === undefined ? '–' : v.toFixed(1).replace('-', '−')
  const value = (r: Schemas['ReadingView']) => (r.paired ? signed(r.value) : num(r.value))
  const profiles = $derived(bench.view?.profile_changes ?? [])
  const byHand = $derived(
    (bench.view?.by_hand ?? []).filter((r) => !bench.readings.some((x) => x.id === r.id))
  )
  const trend = $derived(bench.view?.trends.filter((t) => primary.includes(t.id)) ?? [])
</script>

<section aria-label="What the sittings tell" aria-live="polite">
  <p class="text-small text-soft">
    {before
      ? `What ${shortDay(before.taken_on)} and ${shortDay(after?.taken_on ?? before.taken_on)} can tell`
      : 'What this sitting can tell'}
  </p>
  {#if bench.view?.sittings.some((s) => s.photographs.some((p) => p.asks_way))}
    <p class="my-1 flex gap-2 text-small">
      <Mark weight="watch" /><span
        >If the first photograph is the right way round, which nobody has said yet; else every side is the
        other one:</span
      >
    </p>
  {/if}
  {#if before && after}
    {#each beyond as c, i (c.id)}<h2 class={i ? 'mt-1 text-sub' : 'text-big'}>{c.sentence}</h2>{/each}
    {#if quiet.length}<h2 class="mt-1 text-head {beyond.length ? 'text-soft' : ''}">
        {list(quiet)}: no change beyond the noise.
      </h2>{/if}
    {#if not.length}<h2 class="mt-1 text-head text-watch">
        {list(not)}: not comparable.
      </h2>{/if}
    {#if !beyond.length && !quiet.length && !not.length}<h2 class="text-head text-soft">
        Nothing to compare yet.
      </h2>{/if}
  {:else}
    {#each main as r (r.id)}{#if r.real}<h2 class="text-head">{r.sentence}</h2>{/if}{/each}
    {#if main.length && !main.some((r) => r.real)}<h2 class="text-head text-soft">
        No left-right difference beyond the noise.
      </h2>{/if}
    {#if !main.length}<p class="mt-2 text-soft">
        No reading yet. It appears here as soon as a confirmed front view has been measured.
      </p>{/if}
  {/if}
  {#if main.length}
    <p class="mt-2 text-note text-soft">
      Left minus right, tilt drawn large; soft band: noise of one reading{before
        ? `; outline: ${shortDay(before.taken_on)}`
        : ''}
    </p>
    <Rungs
      readings={main.filter((r) => r.paired)}
      baseline={bench.earlier}
      changes={bench.changes}
      chosen={shown?.id}
      choose={(id) => (bench.reading = id)}
    />
  {/if}
  {#each trend as t (t.id)}
    <p class="text-small">
      {t.name}: {signed(t.per_four_weeks)}
      {t.unit} in four weeks, 95 % {signed(t.low)} to {signed(t.high)}.
      {t.verdict === 'beyond noise' ? '' : 'The interval covers zero, so no verdict.'}
    </p>
  {/each}
  {#if shown}<Why {bench} reading={shown} was={earlier.get(shown.id)} change={changes.get(shown.id)} />{/if}
  {#if rest.length}
    <details class="mt-3 border-t border-ink pt-2" open={!before}>
      <summary class="text-small link"
        >Also looked at, {rest.length} readings{before ? ', with Holm’s correction' : ''}</summary
      >
      <table class="mt-1 w-full text-small" aria-label="Also looked at">
        <tbody>
          {#each rest as r, i (r.id)}
            {@const c = changes.get(r.id)}
            {#if r.region !== rest[i - 1]?.region}<tr
                ><th colspan="3" scope="colgroup" class="pt-1.5 text-left text-note font-bold text-soft"
                  >{r.region}</th
                ></tr
              >{/if}
            <tr class="border-b border-rule {shown?.id === r.id ? 'bg-band' : ''}">
              <td class="py-0.5"
                ><Hint text={r.definition}
                  >{#snippet child({ props })}<button
                      {...props}
                      class="text-left hover:underline"
                      onclick={() => (bench.reading = r.id)}>{r.name}</button
                    >{/snippet}</Hint
                ></td
              >
              <td class="text-right whitespace-nowrap"
                >{earlier.get(r.id) ? `${value(earlier.get(r.id) as typeof r)} → ` : ''}{value(r)}
                {r.unit}</td
              >
              <td
                class="pl-2 text-right whitespace-nowrap {c?.verdict === 'beyond noise' || (!c && r.real)
                  ? 'font-bold'
                  : 'text-soft'}"
                >{c ? c.verdict : r.paired ? (r.real ? 'real' : 'within noise') : `±${num(r.band)}`}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      {#if after?.asymmetry}<p class="mt-1 text-note text-soft">
          Landmark asymmetry {after.asymmetry.percent.toFixed(2)} % of the face’s size; most of it in the
          {Object.entries(after.asymmetry.shares).sort((a, b) => b[1] - a[1])[0]?.[0]}.
        </p>{/if}
    </details>
  {/if}
  {#if profiles.length}
    <div class="mt-3 border-t border-ink pt-2 text-small">
      <h3 class="text-base">In profile</h3>
      {#each profiles.filter((c) => c.beyond) as c (c.view + c.id)}<p><b>{c.sentence}</b></p>{/each}
      {#if !profiles.some((c) => c.beyond)}<p>No change beyond the noise of setting the points.</p>{/if}
      <table class="mt-1 w-full">
        <tbody>
          {#each profiles as c, i (c.view + c.id)}
            {@const figures = c.unit ? 1 : 2}
            {#if c.view !== profiles[i - 1]?.view}<tr
                ><th colspan="3" class="pt-1 text-left text-note font-normal text-soft">{c.view_name}</th></tr
              >{/if}
            <tr class="border-b border-rule">
              <td class="py-0.5">{c.name}</td>
              <td class="text-right whitespace-nowrap"
                >{c.before.toFixed(figures)} → {c.after.toFixed(figures)}{c.unit}</td
              >
              <td class="pl-2 text-right whitespace-nowrap text-soft">±{c.mdc.toFixed(figures)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
  {#if after && byHand.length}
    <details class="mt-3 border-t border-ink pt-2">
      <summary class="text-small link">Only between points set by hand, {byHand.length} readings</summary>
      <p class="mt-1 text-small">
        Here the automatic points stand where an average face has them, so nothing is said from them. Drag
        each point to its place, or press H where it is right already.
      </p>
      <ul class="mt-1 text-small">
        {#each byHand as r (r.id)}
          {@const shot = after.photographs.find((p) => p.view === r.view)}
          {@const left = shot ? r.needs.filter((n) => !bench.byHand(shot, n)).length : 0}
          <li class="flex justify-between gap-2 border-b border-rule py-0.5">
            <Explain text={r.definition}>{r.name}</Explain>
            {#if shot}<button class="link" onclick={() => bench.setByHand(r)}
                >Set {left} point{left === 1 ? '' : 's'}<span class="sr-only"> of {r.name}</span></button
              >{:else}<span class="text-soft">no picture of it</span>{/if}
          </li>
        {/each}
      </ul>
    </details>
  {/if}
</section>
