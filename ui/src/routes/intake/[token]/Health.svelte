<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { here } from '$lib/format'
  import { YES_NO } from '$lib/intake/Choice.svelte'
  import Question from '$lib/intake/Question.svelte'
  import type { SelfIntake } from '$lib/intake/self.svelte'

  let { self, tables }: { self: SelfIntake; tables: Schemas['IntakeTablesView'] } = $props()
  type Given = { answer: string; regions?: string[]; event_on?: string | null }
  const rules = $derived(tables.cautions.filter((c) => c.group !== 'urgent'))
  const given = (id: string) => self.draft.cautions[id] as unknown as Given | undefined
  /** Few enough at a time that each is read before all are answered with no. */
  const AT_ONCE = 5
  const blocks = $derived(
    rules.reduce<(typeof rules)[]>((out, rule) => {
      const last = out.at(-1)
      if (last && last.length < AT_ONCE && last[0]?.group === rule.group) last.push(rule)
      else out.push([rule])
      return out
    }, [])
  )
  const change = (id: string, part: Partial<Given>) => self.set('cautions', id, { ...given(id), ...part })

  function toggle(id: string, region: string) {
    const now = given(id)?.regions ?? []
    change(id, { regions: now.includes(region) ? now.filter((r) => r !== region) : [...now, region] })
  }
</script>

<p class="mt-2">
  Some things need a word from your own clinician first. A yes is no reason to worry; it tells your coach what
  to leave out until then.
</p>
{#each blocks as block (block[0]?.id)}
  {#each block as rule (rule.id)}
    {@const now = given(rule.id)}
    <Question
      ask={rule.ask}
      options={YES_NO}
      value={now?.answer ?? ''}
      id={rule.id}
      choose={(v) => self.set('cautions', rule.id, v === 'no' ? { answer: v } : { ...now, answer: v })}
      big
    />
    {#if now && now.answer !== 'no'}
      <div class="border-b border-rule bg-sheet px-3 py-3">
        {#if rule.noted_regions}
          <p class="text-lead">Where?</p>
          <div class="mt-1 flex flex-wrap gap-2">
            {#each tables.regions as region (region)}
              <button
                type="button"
                aria-pressed={now.regions?.includes(region) ?? false}
                class="min-h-touch rounded-[4px] border px-3 text-lead {now.regions?.includes(region)
                  ? 'border-action bg-action font-bold text-sheet'
                  : 'border-edge'}"
                onclick={() => toggle(rule.id, region)}>{region}</button
              >
            {/each}
          </div>
        {/if}
        {#if rule.dated}
          <label class="mt-2 grid gap-1 text-lead"
            >When?<input
              type="date"
              class="field min-h-press"
              max={here()}
              value={now.event_on ?? ''}
              onchange={(e) => change(rule.id, { event_on: e.currentTarget.value || null })}
            /></label
          >
        {/if}
        <p class="text-base text-soft {rule.dated || rule.noted_regions ? 'mt-2' : ''}">{rule.text}</p>
      </div>
    {/if}
  {/each}
  {@const left = block.filter((r) => !given(r.id))}
  {#if left.length > 1}
    <button
      class="mt-3 mb-6 act min-h-press w-full act-quiet"
      onclick={() => left.forEach((r) => self.set('cautions', r.id, { answer: 'no' }))}
      >No to these {left.length}: {left.map((r) => r.name.toLowerCase()).join('; ')}</button
    >
  {/if}
{/each}
