<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'
  import type { Verdict } from './review.svelte'
  import Row from './Row.svelte'
  import Verdicts from './Verdicts.svelte'

  /** An exercise at a review: this week's dose, the verdict, and what the dose becomes. */
  let {
    line,
    verdict,
    played,
    chosen,
    open,
    choose,
    pick
  }: {
    line: Schemas['ReviewLineView']
    verdict: Verdict
    /** What next week plays under all verdicts together, once that is known. */
    played: Schemas['DoseAt'] | undefined
    chosen: boolean
    /** The decision can be changed. */
    open: boolean
    choose: (v: Verdict) => void
    pick: () => void
  } = $props()
  const next = $derived(played ?? line.next[verdict])
  const longest = $derived(Math.max(line.now.train?.total_s ?? 1, next?.train?.total_s ?? 1))
</script>

<Row
  name={line.name}
  about={line.sessions
    ? `${Math.round(100 * line.share)} % done in ${line.sessions} session${line.sessions === 1 ? '' : 's'}`
    : 'not practised this week'}
  {chosen}
  {pick}
>
  <td class="py-1.5 pr-3"
    ><span class="dose text-row text-soft">{line.now.line}</span>{#if line.now.train}<PulseTrain
        train={line.now.train}
        width={150}
        height={16}
        seconds={longest}
        faded
        label="this week"
      />{/if}</td
  >
  <td class="py-1.5 pr-3">
    <Verdicts about={line.name} {verdict} suggested={line.suggested} {open} {choose} />
    <p class="mt-0.5 max-w-[36ch] text-small leading-tight text-soft">
      {verdict === line.suggested ? line.because : `Suggested is ${line.suggested}: ${line.because}`}
    </p>
  </td>
  <td class="py-1.5"
    ><span class="dose text-row {next?.line === line.now.line ? 'text-soft' : 'font-bold'}"
      >{next?.line || 'left out'}</span
    >{#if next?.train}<PulseTrain
        train={next.train}
        width={150}
        height={16}
        seconds={longest}
        faded={next.line === line.now.line}
        label="next week"
      />{/if}{#if verdict === 'ease back' && next?.line === line.now.line}<span
        class="block text-small text-soft">on its first rung already</span
      >{:else if verdict === 'advance' && next?.line === line.now.line}<span
        class="block text-small text-soft">the program stays here</span
      >{/if}</td
  >
</Row>
