<script lang="ts">
  import type { Schemas } from '../api/client'
  import Mark from '../parts/Mark.svelte'
  import { actionOf, whereabouts } from './actions'
  import Evidence from './Evidence.svelte'

  /** One client on the desk: the most urgent reason in one line, its evidence, what can be done; and on request all of it. */
  let {
    row,
    at,
    picked,
    rules,
    said = '',
    whose = '',
    act,
    settle,
    choose,
    pick
  }: {
    row: Schemas['DeskRow']
    /** Whether the keys are at this line. */
    at: boolean
    /** Whether it is one of several chosen together. */
    picked: boolean
    /** What the rule of each kind says. */
    rules: Record<string, string>
    /** What was just done for this client. */
    said?: string
    /** The colleague who took the client on. */
    whose?: string
    act: () => void
    settle: (untilTomorrow: boolean) => void
    choose: () => void
    pick: () => void
  } = $props()
  let why = $state(false)
  const alarm = $derived(row.alarms[0])
  const also = $derived([whereabouts(row), whose, ...row.alarms.slice(1).map((a) => a.also)].filter(Boolean))
  const weight = $derived(
    alarm?.urgency === 'before anything else' ? 'stop' : alarm?.urgency === 'today' ? 'watch' : 'remark'
  )
</script>

{#if alarm}
  {@const action = actionOf(row, alarm)}
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
  <li
    id="row-{row.id}"
    class="border-b border-rule py-[3px] pr-1 {at || picked ? 'bg-sheet' : ''}"
    class:edge={at}
    aria-current={at ? 'true' : undefined}
    onclick={choose}
  >
    <div
      class="grid min-h-touch grid-cols-[26px_16px_minmax(0,1fr)_108px_84px_134px] items-center gap-x-2.5 max-md:grid-cols-[26px_16px_minmax(0,1fr)_134px] max-md:*:nth-4:hidden max-md:*:nth-5:hidden"
    >
      <label class="flex h-full items-center justify-center"
        ><input
          type="checkbox"
          class="size-4"
          checked={picked}
          onchange={pick}
          aria-label="Choose {row.name}"
        /></label
      >
      <Mark {weight} />
      <div class="min-w-0">
        <p class="flex items-baseline gap-x-2 text-small text-soft">
          <a
            class="shrink-0 font-head text-lead leading-tight font-semibold text-ink hover:underline"
            href="/clients/{row.id}">{row.name}</a
          ><span class="min-w-0 truncate">{also.join(', ')}</span>
        </p>
        <p class="text-row leading-[1.25]">
          {alarm.short}
          {#if row.phone}<a class="link font-bold" href="tel:{row.phone.replaceAll(' ', '')}">{row.phone}</a
            >{/if}
          <button class="text-small link" aria-expanded={why} onclick={() => (why = !why)}>why</button>
        </p>
      </div>
      <Evidence {row} {alarm} />
      {#if said}<span class="col-span-2 text-right text-row font-bold text-fine" role="status">{said}</span>
      {:else}
        <div class="flex flex-col items-end text-small leading-[1.2]">
          {#if alarm.may_settle}<button class="min-h-6 link" onclick={() => settle(false)}
              >Mark as seen</button
            >{/if}
          {#if alarm.may_wait}<button class="min-h-6 link" onclick={() => settle(true)}>Tomorrow</button>{/if}
        </div>
        {#if action.does === 'open'}<a
            class="act min-h-chip px-2 text-row leading-tight {weight === 'stop' ? '' : 'act-quiet'}"
            href={action.href}>{action.label}</a
          >
        {:else}<button
            class="act min-h-chip px-2 text-row leading-tight {weight === 'watch' ? '' : 'act-quiet'}"
            onclick={act}>{action.label}</button
          >{/if}
      {/if}
    </div>
    {#if why}
      <dl class="mt-1 ml-[68px] max-w-[86ch] pb-1 text-small">
        {#each row.alarms as a (a.kind)}<dt class="font-bold">
            {a.name}{#if a.marks.length}: {a.marks.join(', ')}{/if}
          </dt>
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
