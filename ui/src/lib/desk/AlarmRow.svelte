<script lang="ts">
  import type { Schemas } from '../api/client'
  import Mark from '../parts/Mark.svelte'
  import { actionOf, whereabouts } from './actions'
  import Evidence from './Evidence.svelte'

  /** One client on the desk: the most urgent reason with its evidence and action, what else there is, and why. */
  let {
    row,
    chosen,
    rules,
    said = '',
    act,
    settle,
    choose
  }: {
    row: Schemas['DeskRow']
    chosen: boolean
    /** What the rule of each kind says. */
    rules: Record<string, string>
    /** What was just done for this client. */
    said?: string
    act: () => void
    settle: () => void
    choose: () => void
  } = $props()
  let why = $state(false)
  const alarm = $derived(row.alarms[0])
  const others = $derived(row.alarms.slice(1))
  const weight = $derived(
    alarm?.urgency === 'before anything else' ? 'stop' : alarm?.urgency === 'today' ? 'watch' : 'remark'
  )
</script>

{#if alarm}
  {@const action = actionOf(row, alarm)}
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
  <li
    id="row-{row.id}"
    class="border-b border-rule px-2 py-[5px] {chosen ? 'bg-sheet' : ''}"
    class:edge={chosen}
    aria-current={chosen ? 'true' : undefined}
    onclick={choose}
  >
    <div class="grid grid-cols-[20px_minmax(0,1fr)_124px_126px_146px] items-center gap-x-3">
      <Mark {weight} />
      <div class="min-w-0">
        <p class="flex flex-wrap items-baseline gap-x-2 text-small text-soft">
          <a
            class="font-head text-sub leading-tight font-semibold text-ink hover:underline"
            href="/clients/{row.id}">{row.name}</a
          ><span>{whereabouts(row)}</span>
          {#if others.length}<span>and {others.map((o) => o.name.toLowerCase()).join(', ')}</span>{/if}
        </p>
        <p class="text-row leading-[1.3]">
          {alarm.text}
          <button class="text-small link" aria-expanded={why} onclick={() => (why = !why)}>why</button>
        </p>
      </div>
      <Evidence {row} {alarm} />
      <div class="text-small leading-[1.35]">
        {#each alarm.marks as mark, i (i)}<p class={i ? 'text-soft' : 'font-bold'}>{mark}</p>{/each}
      </div>
      <div class="flex flex-col items-end">
        {#if said}<span class="text-row font-bold text-fine" role="status">{said}</span>
        {:else if action.does === 'open'}<a
            class="act min-h-chip text-row {weight === 'stop' ? '' : 'act-quiet'}"
            href={action.href}>{action.label}</a
          >
        {:else}<button class="act min-h-chip text-row {weight === 'watch' ? '' : 'act-quiet'}" onclick={act}
            >{action.label}</button
          >{/if}
        {#if alarm.may_settle && !said}<button class="mt-0.5 min-h-6 text-small link" onclick={settle}
            >seen, put aside</button
          >{/if}
      </div>
    </div>
    {#if why}
      <dl class="mt-1 ml-8 max-w-[86ch] text-small">
        {#each row.alarms as a (a.kind)}<dt class="font-bold">{a.name}</dt>
          <dd class="mb-1">{a.text} <span class="text-soft">The rule: {rules[a.kind]}</span></dd>{/each}
      </dl>
    {/if}
  </li>
{/if}

<style>
  .edge {
    box-shadow: inset 3px 0 0 var(--color-action);
  }
</style>
