<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { shortDay, signed } from '$lib/format'
  import Rungs from '$lib/signature/Rungs.svelte'

  let { sitting, baseline }: { sitting: Schemas['SittingRow']; baseline?: Schemas['SittingRow'] } = $props()
  const changed = $derived(new Map(sitting.changes.map((c) => [c.id, c])))
  const real = $derived(sitting.readings.filter((r) => r.judgement === 'beyond noise'))
  const within = $derived(sitting.readings.filter((r) => r.judgement !== 'beyond noise'))
  const plain = (mm: number) => mm.toFixed(1).replace('-', '−')
  const moved = $derived(sitting.changes.filter((c) => c.judgement === 'beyond noise'))
</script>

<section aria-label="Readings">
  {#if sitting.readings.length}
    <p class="text-[13px] text-soft">What this sitting can tell</p>
    {#each real as r (r.id)}<h2 class="text-[22px]">
        {r.sentence}
      </h2>{/each}
    {#if within.length}<h2 class="text-[20px] text-soft">
        {within.map((r) => r.name).join(' and ')}: within the noise.
      </h2>{/if}
    {#if baseline}
      <p class="mt-2">
        {moved.length
          ? moved
              .map(
                (c) =>
                  `${sitting.readings.find((r) => r.id === c.id)?.name} changed ${c.toward_symmetry ? 'toward' : 'away from'} symmetry since ${shortDay(baseline.taken_on)}.`
              )
              .join(' ')
          : `No change beyond the noise since ${shortDay(baseline.taken_on)}.`}
      </p>
    {/if}
    <p class="mt-3 text-[13px] text-soft">
      left minus right in mm; tilt drawn large, the soft band is the noise{baseline
        ? `; outline: ${shortDay(baseline.taken_on)}`
        : ''}
    </p>
    <Rungs readings={sitting.readings} baseline={baseline?.readings ?? []} />
    <table class="mt-2 w-full text-[14px]" aria-label="Readings in millimetres">
      <thead class="text-[13px]"
        ><tr class="border-b border-ink"
          ><th class="text-left font-normal">mm</th><th class="text-right font-bold"
            ><span class="text-side-right">right</span></th
          ><th class="font-bold"><span class="text-side-left">left</span></th><th
            class="text-right font-normal">left − right</th
          ></tr
        ></thead
      >
      <tbody>
        {#each sitting.readings as r (r.id)}
          <tr class="border-b border-rule">
            <td class="py-1" title={r.definition}
              ><b>{r.name}</b><span class="block text-[12px] text-soft"
                >{r.shots} shot{r.shots === 1 ? '' : 's'}{r.provisional ? ', noise provisional' : ''}</span
              ></td
            >
            <td class="text-right">{plain(r.right)}</td>
            <td class="text-center">{plain(r.left)}</td>
            <td class="text-right"
              ><b>{signed(r.difference)}</b> ±{r.band.toFixed(1)}<span
                class="block text-[12px] {r.judgement === 'beyond noise' ? 'text-watch' : 'text-soft'}"
                >{r.judgement}</span
              ></td
            >
          </tr>
          {#if changed.get(r.id)}
            {@const c = changed.get(r.id)}
            {#if c}<tr class="border-b border-rule text-[13px]"
                ><td class="pb-1 pl-3">since baseline</td><td colspan="3" class="text-right"
                  >{signed(c.before)} → {signed(c.after)}, change {signed(c.after - c.before)}, noise of a
                  change ±{c.mdc.toFixed(1)}: <b>{c.judgement}</b></td
                ></tr
              >{/if}
          {/if}
        {/each}
      </tbody>
    </table>
    <details class="mt-3 text-[13px]">
      <summary class="link">Why: how these numbers come about</summary>
      <ul class="mt-2 list-disc space-y-1 pl-5">
        {#each sitting.readings as r (r.id)}<li>{r.name}. {r.definition}</li>{/each}
        <li>
          The picture is brought level on the four eye corners. The visible iris, 11.7 mm across in adults,
          gives the scale; lengths carry about 4 % of it, differences between the sides do not.
        </li>
        <li>
          Noise of one reading: 1.96 × √(sitting² + shot² ÷ shots), at 95 %. Noise of a change: both sittings’
          bands together.
        </li>
        <li>Provisional: shipped values, until this client has enough repeated shots.</li>
      </ul>
    </details>
  {:else}
    <p class="text-soft">No reading yet. It appears here as soon as a photograph has been measured.</p>
  {/if}
</section>
