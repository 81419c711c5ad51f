<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import Choice from '$lib/intake/Choice.svelte'
  import type { SelfIntake } from '$lib/intake/self.svelte'

  let {
    self,
    tables,
    coaches
  }: { self: SelfIntake; tables: Schemas['IntakeTablesView']; coaches: Schemas['CoachName'][] } = $props()
  const OWN = [
    { value: 'yes', label: 'I agree' },
    { value: 'no', label: 'I do not' }
  ]
  const word = (id: string) => self.draft.consents[id]
  /** As young as the year of birth allows; a guardian is only asked for under 18. */
  const years = $derived(new Date().getFullYear() - Number(self.draft.profile['birth_year'] ?? 0) - 1)
  const texts = $derived(
    tables.consents.filter(
      (t) => (t.names !== 'guardian' || years < 18) && (!t.names_colleague || coaches.length)
    )
  )
  /** Keep a word with whom it names. */
  const say = (
    text: Schemas['ConsentTextView'],
    changed: { given?: boolean; person?: string; account?: string }
  ) =>
    self.set('consents', text.id, {
      given: word(text.id)?.given ?? true,
      version: text.version,
      person: word(text.id)?.person ?? '',
      account: word(text.id)?.account ?? null,
      ...changed
    })
  const value = (id: string) => (word(id) ? (word(id)?.given ? 'yes' : 'no') : '')
</script>

<p class="mt-2">Each is a choice of its own, and you can take it back at any time.</p>
{#each texts as text (text.id)}
  <article class="border-b border-rule py-4" aria-label={text.name}>
    <h2>{text.name}</h2>
    <p class="mt-1">{text.text}</p>
    <p class="my-2 text-base text-soft">
      A yes lasts {text.months} months. If you take it back: {text.withdrawn}
    </p>
    <Choice
      options={OWN}
      value={value(text.id)}
      label={text.name}
      id="consent:{text.id}"
      big
      choose={(v) => say(text, { given: v === 'yes' })}
    />
    {#if text.names_colleague && word(text.id)?.given}
      <label class="mt-2 grid gap-1"
        >Your {text.names}<select
          class="field min-h-press text-sub"
          value={word(text.id)?.account ?? ''}
          onchange={(e) => say(text, { account: e.currentTarget.value })}
        >
          <option value="" disabled>choose</option>
          {#each coaches as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </select></label
      >
    {:else if text.names && word(text.id)?.given}
      <label class="mt-2 grid gap-1"
        >Name of the {text.names}<input
          class="field min-h-press text-sub"
          value={word(text.id)?.person ?? ''}
          oninput={(e) => say(text, { person: e.currentTarget.value })}
        /></label
      >
    {/if}
  </article>
{/each}
