<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'
  import { KEYS, VERDICTS, type Verdict } from './review.svelte'

  /** An exercise at a review: this week's dose, the verdict, and what the dose becomes. */
  let {
    line,
    verdict,
    chosen,
    open,
    choose,
    pick
  }: {
    line: Schemas['ReviewLineView']
    verdict: Verdict
    chosen: boolean
    /** The decision can be changed. */
    open: boolean
    choose: (v: Verdict) => void
    pick: () => void
  } = $props()
  const next = $derived(line.next[verdict])
  const longest = $derived(Math.max(line.now.train?.total_s ?? 1, next?.train?.total_s ?? 1))
</script>

<tr
  class="border-t border-rule align-top {chosen ? 'bg-sheet' : ''}"
  class:edge={chosen}
  aria-current={chosen ? 'true' : undefined}
  onclick={pick}
>
  <td class="py-1.5 pr-2 pl-2"
    ><span class="block font-semibold">{line.name}</span><span class="block text-[13px] text-soft"
      >{line.sessions
        ? `${Math.round(100 * line.share)} % done in ${line.sessions} session${line.sessions === 1 ? '' : 's'}`
        : 'not practised this week'}</span
    ></td
  >
  <td class="py-1.5 pr-3"
    ><span class="dose text-[14px] text-soft">{line.now.line}</span>{#if line.now.train}<PulseTrain
        train={line.now.train}
        width={150}
        height={16}
        seconds={longest}
        faded
        label="this week"
      />{/if}</td
  >
  <td class="py-1.5 pr-3">
    <div class="flex" role="radiogroup" aria-label="Verdict on {line.name}">
      {#each VERDICTS as v (v)}
        <button
          role="radio"
          aria-checked={verdict === v}
          disabled={!open}
          tabindex={verdict === v ? 0 : -1}
          title="{v} ({KEYS[v]})"
          class="min-h-[30px] border border-[#8b7f90] px-2 text-[13px] not-first:border-l-0 {verdict === v
            ? v === 'stop'
              ? 'bg-stop text-white'
              : 'bg-action text-sheet'
            : 'bg-sheet'} {line.suggested === v ? 'font-bold underline' : ''}"
          onclick={() => choose(v)}>{v}</button
        >
      {/each}
    </div>
    <p class="mt-0.5 max-w-[36ch] text-[13px] leading-tight text-soft">
      {verdict === line.suggested ? line.because : `Suggested is ${line.suggested}: ${line.because}`}
    </p>
  </td>
  <td class="py-1.5"
    ><span class="dose text-[14px] {next?.line === line.now.line ? 'text-soft' : 'font-bold'}"
      >{next?.line || 'left out'}</span
    >{#if next?.train}<PulseTrain
        train={next.train}
        width={150}
        height={16}
        seconds={longest}
        faded={next.line === line.now.line}
        label="next week"
      />{/if}{#if verdict === 'ease back' && next?.line === line.now.line}<span
        class="block text-[13px] text-soft">on its first rung already</span
      >{:else if verdict === 'advance' && next?.line === line.now.line}<span
        class="block text-[13px] text-soft">the program stays here</span
      >{/if}</td
  >
</tr>

<style>
  .edge > td:first-child {
    box-shadow: inset 3px 0 0 var(--color-action);
  }
</style>
