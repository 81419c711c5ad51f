<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { OF_WEEK, type Verdict } from './review.svelte'
  import Row from './Row.svelte'
  import Verdicts from './Verdicts.svelte'

  /** The verdict on the week itself: its days, what works no muscle, and what would begin. */
  let {
    week,
    verdict,
    days,
    chosen,
    open,
    choose,
    pick
  }: {
    week: Schemas['WeekLineView']
    verdict: Verdict
    /** Days of the next week as they come; empty while that is worked out. */
    days: string
    chosen: boolean
    open: boolean
    choose: (v: Verdict) => void
    pick: () => void
  } = $props()
  const next = $derived(days || week.next[verdict] || week.now)
</script>

<Row name="The week" about="its days, what works no muscle, what is new" {chosen} {pick}>
  <td class="py-1.5 pr-3 text-soft">{week.now}</td>
  <td class="py-1.5 pr-3"
    ><Verdicts about="the week" {verdict} suggested={week.suggested} {open} of={OF_WEEK} {choose} /></td
  >
  <td class="py-1.5"
    ><span class={next === week.now ? 'text-soft' : 'font-bold'}>{next}</span>{#if week.entering.length}<span
        class="block text-small text-soft"
        >{week.entering.join(', ')}
        {verdict === 'advance'
          ? `${week.entering.length === 1 ? 'begins' : 'begin'}`
          : `${week.entering.length === 1 ? 'waits' : 'wait'}`}</span
      >{/if}</td
  >
</Row>
