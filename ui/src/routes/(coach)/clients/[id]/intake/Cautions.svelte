<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { YES_NO } from '$lib/intake/Choice.svelte'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Question from '$lib/intake/Question.svelte'
  import CautionDetail from './CautionDetail.svelte'

  /** Questions about health. One key answers and goes on; a yes opens what it needs. */
  let { intake, groups, end }: { intake: Intake; groups: string[]; end: () => void } = $props()

  const NAMES: Record<string, string> = {
    urgent: 'Sudden signs',
    clinician: 'The treating clinician’s word comes first',
    treatment: 'After a treatment',
    skin: 'Skin now',
    body: 'To be eased, or remembered'
  }
  type Rule = Schemas['CautionRuleView']
  const rules = $derived(intake.tables?.cautions ?? [])
  const answer = (r: Rule) => intake.view?.cautions[r.id]?.answer ?? ''
  const open = (list: Rule[]) => list.filter((r) => !answer(r))

  function set(rule: Rule, value: string) {
    const before = intake.view?.cautions[rule.id]
    const keep = value === 'no' ? {} : { regions: before?.regions ?? [], event_on: before?.event_on ?? null }
    intake.enter('caution', rule.id, { answer: value, ...keep, note: before?.note ?? '' })
  }
</script>

{#each groups as group (group)}
  {@const list = rules.filter((r) => r.group === group)}
  <section class="mb-5" aria-label={NAMES[group]}>
    <div class="flex items-end gap-4 border-b border-ink pb-1">
      <h2>{NAMES[group]}</h2>
      {#if open(list).length && group !== 'urgent'}
        <button class="ml-auto text-small link" onclick={() => open(list).forEach((r) => set(r, 'no'))}
          >No to {open(list).length === list.length ? 'all' : 'the other'} {open(list).length}</button
        >
      {:else if open(list).length}<span class="ml-auto text-small text-soft"
          >{list.length - open(list).length} of {list.length} answered, each by itself</span
        >{:else}<span class="ml-auto text-small text-soft">all {list.length} answered</span>{/if}
    </div>
    {#if group === 'urgent'}
      <p class="mt-1 text-small text-soft">
        Ask these first. Dimbo does not diagnose: any yes means urgent medical care before anything else, and
        nothing can be assigned until a clearance is recorded.
      </p>
    {/if}
    {#each list as rule (rule.id)}
      <Question
        ask={rule.ask}
        options={YES_NO}
        value={answer(rule)}
        id="cautions:{rule.id}"
        choose={(v) => set(rule, v)}
        problem={intake.problem('caution', rule.id)}
        {end}
      />
      {#if answer(rule) === 'yes' || answer(rule) === 'unsure'}<CautionDetail {intake} {rule} />{/if}
    {/each}
  </section>
{/each}
