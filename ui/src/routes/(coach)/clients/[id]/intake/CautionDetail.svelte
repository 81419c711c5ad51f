<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import type { Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Mark from '$lib/parts/Mark.svelte'
  import Clearance from './Clearance.svelte'

  /** What a yes needs: regions, the day, a note; where it stands; and the clearance that releases it. */
  let { intake, rule }: { intake: Intake; rule: Schemas['CautionRuleView'] } = $props()
  let clearing = $state(false)

  const given = $derived(intake.view?.cautions[rule.id])
  const held = $derived(intake.view?.conclusions.held.find((h) => h.caution === rule.id))
  const clearances = $derived((intake.view?.clearances ?? []).filter((c) => c.caution === rule.id))

  function change(part: Partial<Schemas['CautionAnswerView']>, typing = false) {
    if (given) intake.enter('caution', rule.id, { ...given, ...part }, typing)
  }
  function toggle(region: string) {
    const now = given?.regions ?? []
    change({ regions: now.includes(region) ? now.filter((r) => r !== region) : [...now, region] })
  }
</script>

<div class="border-b border-rule bg-sheet px-3 py-2 text-row">
  {#if rule.noted_regions}
    <fieldset class="mb-2">
      <legend class="text-small text-soft">Which regions?</legend>
      <div class="flex flex-wrap gap-x-3 gap-y-1">
        {#each intake.tables?.regions ?? [] as region (region)}
          <label class="flex items-center gap-1"
            ><input
              type="checkbox"
              checked={given?.regions.includes(region)}
              onchange={() => toggle(region)}
            />{region}</label
          >
        {/each}
      </div>
    </fieldset>
  {/if}
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
    {#if rule.dated}
      <label class="flex items-center gap-2"
        ><span class="text-small text-soft">When was it?</span><WhenField
          class="field !min-h-chip !w-[160px]"
          max={intake.view?.today}
          value={given?.event_on ?? ''}
          onchange={(e) => change({ event_on: e.currentTarget.value || null })}
        /></label
      >
    {/if}
    <label class="flex grow items-center gap-2"
      ><span class="text-small text-soft">Note</span><input
        class="field !min-h-chip"
        value={given?.note ?? ''}
        oninput={(e) => change({ note: e.currentTarget.value }, true)}
      /></label
    >
  </div>
  {#if held}
    <div class="mt-2 flex gap-2 text-small">
      <Mark
        weight={held.locked ? 'stop' : held.effect === 'ease' ? 'watch' : held.effect ? 'remark' : 'fine'}
      />
      <p>
        {held.reason}
        {#if held.remedy}<span class="block text-soft">{held.remedy}</span>{/if}
      </p>
    </div>
  {/if}
  {#each clearances as c (c.by_name + c.given_on + c.says)}
    <p class="mt-1 text-small text-soft">
      Clearance {shortDay(c.given_on)} by {c.by_name}, {c.role}{c.regions.length
        ? `, for ${c.regions.join(', ')}`
        : ''}{c.valid_from ? `, from ${shortDay(c.valid_from)}` : ''}{c.until
        ? `, until ${shortDay(c.until)}`
        : ''}: “{c.says}”
    </p>
  {/each}
  {#if rule.effect === 'lock'}
    <button class="mt-1 text-small link" onclick={() => (clearing = true)}>Record a clearance</button>
    <Clearance bind:open={clearing} {intake} {rule} />
  {/if}
</div>
