<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import Choice from '$lib/intake/Choice.svelte'
  import type { SelfIntake } from '$lib/intake/self.svelte'

  let { self, tables }: { self: SelfIntake; tables: Schemas['IntakeTablesView'] } = $props()
  const OWN = [
    { value: 'yes', label: 'I agree' },
    { value: 'no', label: 'I do not' }
  ]
  const word = (id: string) => self.draft.consents[id]
  const value = (id: string) => (word(id) ? (word(id)?.given ? 'yes' : 'no') : '')
</script>

<p class="mt-2">Each is a choice of its own, and you can take it back at any time.</p>
{#each tables.consents as text (text.id)}
  <article class="border-b border-rule py-4" aria-label={text.name}>
    <h2>{text.name}</h2>
    <p class="mt-1">{text.text}</p>
    <p class="my-2 text-[15px] text-soft">
      A yes lasts {text.months} months. If you take it back: {text.withdrawn}
    </p>
    <Choice
      options={OWN}
      value={value(text.id)}
      label={text.name}
      id="consent:{text.id}"
      big
      choose={(v) =>
        self.set('consents', text.id, {
          given: v === 'yes',
          version: text.version,
          person: word(text.id)?.person ?? ''
        })}
    />
    {#if text.names_person && word(text.id)?.given}
      <label class="mt-2 grid gap-1"
        >Name of your second coach<input
          class="field min-h-[48px] text-[18px]"
          value={word(text.id)?.person ?? ''}
          oninput={(e) =>
            self.set('consents', text.id, {
              given: true,
              version: text.version,
              person: e.currentTarget.value
            })}
        /></label
      >
    {/if}
  </article>
{/each}
