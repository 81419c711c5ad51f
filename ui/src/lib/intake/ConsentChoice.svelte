<script lang="ts">
  import type { Schemas } from '../api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import Choice from './Choice.svelte'

  /** One consent: its text, where it stands, and the choice. Deleting photographs asks for their number. */
  let {
    text,
    now,
    photographs,
    coaches,
    choose,
    big = false,
    mine = false
  }: {
    text: Schemas['ConsentTextView']
    now: Schemas['ConsentView']
    photographs: number
    /** Whom the client can name as second coach. */
    coaches: Schemas['CoachName'][]
    /** Resolves to why it was refused, or an empty text. */
    choose: (choice: string, body: Schemas['ConsentChoice']) => Promise<string>
    big?: boolean
    /** Said to the client themselves. */
    mine?: boolean
  } = $props()

  let person = $state('')
  // svelte-ignore state_referenced_locally
  let account = $state(now.account ?? '')
  let how = $state<Schemas['ConsentChoice']['how']>('')
  let problem = $state('')
  let confirming = $state(false)
  let typed = $state('')
  const options = [
    { value: 'yes', label: 'agrees', key: 'y' },
    { value: 'no', label: 'does not', key: 'n' }
  ]
  const own = [
    { value: 'yes', label: 'I agree', key: 'y' },
    { value: 'no', label: 'I do not', key: 'n' }
  ]
  const value = $derived(
    now.in_force ? 'yes' : now.state === 'not given' || now.state === 'withdrawn' ? 'no' : ''
  )
  const deletes = $derived(text.id === 'photographs' && photographs > 0)

  async function decide(given: boolean, confirmed: number | null = null) {
    if (!given && deletes && confirmed === null) {
      typed = ''
      problem = ''
      confirming = true
      return
    }
    problem = await choose(text.id, {
      given,
      version: text.version,
      person: person || now.person,
      account: account || null,
      how,
      deletes: confirmed
    })
    if (!problem) confirming = false
  }
</script>

<article class="border-b border-rule py-3" aria-label={text.name}>
  <div class={big ? 'grid gap-2' : 'grid grid-cols-[1fr_auto] items-start gap-x-5'}>
    <div>
      <h2 class={big ? 'text-head' : 'text-lead'}>{text.name}</h2>
      <p class={big ? 'text-sub' : 'text-row'}>{text.text}</p>
      <p class="mt-1 text-soft {big ? 'text-base' : 'text-small'}">
        {now.sentence} Text {text.version}; a yes lasts {text.months} months.
        {#if now.in_force}If {mine ? 'you take' : 'taken'} back: {text.withdrawn}{/if}
      </p>
    </div>
    <div class="grid gap-2">
      <Choice
        options={mine ? own : options}
        {value}
        label={text.name}
        id="consent:{text.id}"
        {big}
        stay
        choose={(v) => decide(v === 'yes')}
      />
      {#if text.names_colleague}
        {#if coaches.length}
          <label class="grid gap-1 text-small"
            >{mine ? 'Your' : 'Their'}
            {text.names}<select
              class="field {big ? 'min-h-press text-sub' : '!min-h-chip'}"
              bind:value={account}
            >
              <option value="" disabled>choose</option>
              {#each coaches as { id, name } (id)}<option value={id}>{name}</option>{/each}
            </select></label
          >
          {#if !mine}
            <label class="grid gap-1 text-small"
              >They told me<select class="field !min-h-chip" bind:value={how}>
                <option value="" disabled>how?</option>
                {#each ['in person', 'in writing', 'by telephone'] as way (way)}<option>{way}</option>{/each}
              </select></label
            >
          {/if}
        {:else}<p class="text-small text-soft">There is no other coach here yet.</p>{/if}
      {:else if text.names}
        <label class="grid gap-1 text-small"
          >Name of the {text.names}<input
            class="field {big ? 'min-h-press text-sub' : '!min-h-chip'}"
            placeholder={now.person || 'name'}
            bind:value={person}
          /></label
        >
      {/if}
    </div>
  </div>
  {#if problem && !confirming}<p role="alert" class="text-stop">{problem}</p>{/if}
</article>
{#if deletes}
  <Dialog
    bind:open={confirming}
    title="Delete {photographs === 1 ? 'the photograph' : `all ${photographs} photographs`}?"
  >
    <p>
      {text.withdrawn} To confirm, type how many there are: <strong>{photographs}</strong>.
    </p>
    <form
      class="mt-3 grid gap-3"
      onsubmit={(e) => {
        e.preventDefault()
        void decide(false, Number(typed))
      }}
    >
      <input class="field" inputmode="numeric" aria-label="Number of photographs" bind:value={typed} />
      {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
      <button class="act" disabled={typed.trim() !== String(photographs)}
        >Take back, and delete {photographs}</button
      >
    </form>
  </Dialog>
{/if}
