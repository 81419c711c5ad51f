<script lang="ts">
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { YES_NO } from '$lib/intake/Choice.svelte'
  import Question from '$lib/intake/Question.svelte'
  import { SelfIntake } from '$lib/intake/self.svelte'
  import Logo from '$lib/parts/Logo.svelte'
  import About from './About.svelte'
  import Agreements from './Agreements.svelte'
  import Health from './Health.svelte'
  import Wishes from './Wishes.svelte'

  const self = new SelfIntake(page.params.token ?? '')
  onMount(() => self.load())
  let step = $state(0)
  const STEPS = ['First of all', 'About you', 'Your face', 'Habits', 'Health', 'Agreements', 'Send it']
  const tables = $derived(self.view?.tables)
  const urgent = $derived((tables?.cautions ?? []).filter((c) => c.group === 'urgent'))
  const habits = $derived((tables?.tests ?? []).filter((t) => t.group === 'habit'))
  const answer = (id: string) => String(self.draft.cautions[id]?.['answer'] ?? '')

  function go(to: number) {
    step = Math.max(0, Math.min(STEPS.length - 1, to))
    scrollTo(0, 0)
  }
  /** The step on which a refused field stands. */
  const PLACES: Record<string, number> = {
    profile: 1,
    ratings: 2,
    answers: 2,
    tests: 3,
    cautions: 4,
    consents: 5
  }
  const place = $derived.by(() => {
    const field = self.refused?.field ?? ''
    const [section = '', key = ''] = field.split('.')
    return urgent.some((c) => c.id === key) ? 0 : (PLACES[section] ?? -1)
  })
  const of = (keys: string[], given: object) => `${keys.filter((k) => k in given).length} of ${keys.length}`
  const told = $derived.by(() => {
    const d = self.draft
    const ids = (list: { id: string }[]) => list.map((x) => x.id)
    const health = ids((tables?.cautions ?? []).filter((c) => c.group !== 'urgent'))
    return [
      { name: STEPS[0], words: `${of(ids(urgent), d.cautions)} answered` },
      {
        name: STEPS[1],
        words: of(['name', 'email', 'phone', 'birth_year', 'minutes', 'days', 'goals'], d.profile)
      },
      { name: STEPS[2], words: `${Object.keys(d.ratings).length} chosen` },
      { name: STEPS[3], words: `${of(ids(habits), d.tests)} answered` },
      { name: STEPS[4], words: `${of(health, d.cautions)} answered` },
      { name: STEPS[5], words: `${of(ids(tables?.consents ?? []), d.consents)} decided` }
    ]
  })
  /** Health questions without an answer: they may be left open, but never without saying which. */
  const open = $derived(
    (tables?.cautions ?? []).filter((c) => c.group !== 'urgent' && !self.draft.cautions[c.id])
  )
</script>

<svelte:head><title>Your intake · Dimbo</title></svelte:head>
<main class="mx-auto max-w-column px-5 pt-4 pb-28 text-sub">
  <div class="flex items-center justify-between">
    <Logo />
    {#if self.view && !self.sent}<span class="text-row text-soft" aria-live="polite"
        >{self.saved === 'offline'
          ? 'No connection: kept on this phone'
          : self.saved === 'saving'
            ? 'Saving …'
            : 'Saved'}</span
      >{/if}
  </div>
  {#if self.failure}
    <h1 class="mt-8">This does not go on here</h1>
    <p role="alert" class="mt-3">{self.failure}</p>
    {#if self.view}<button class="mt-4 act min-h-press" onclick={() => location.reload()}>Reload</button>{/if}
  {:else if self.sent}
    <h1 class="mt-8">Thank you, {self.draft.profile['name']}</h1>
    <p class="mt-3">
      {self.view?.practice_name} has your intake and reads it before you meet. This link is closed now. If something
      changes, above all in your health, tell your coach.
    </p>
  {:else if !self.view}
    <p class="mt-8 text-soft">Opening …</p>
  {:else if tables}
    {#if self.urgent}
      <div
        role="alert"
        class="sticky top-0 z-30 mt-4 border-[4px] border-stop bg-sheet p-4 text-big leading-[1.25] font-bold text-stop"
      >
        {self.urgent}
      </div>
    {/if}
    <p class="mt-4 text-base text-soft">{step + 1} of {STEPS.length}</p>
    <div class="mt-1 flex gap-1" aria-hidden="true">
      {#each STEPS as name, i (name)}<span class="h-[4px] grow {i <= step ? 'bg-action' : 'bg-rule'}"
        ></span>{/each}
    </div>
    <h1 class="mt-4">{STEPS[step]}</h1>
    {#if step === 0}
      <p class="mt-2">
        {self.view.client_name}, {self.view.practice_name} would like to know you before you begin. It takes about
        ten minutes and is saved as you go. Dimbo does not diagnose. These {urgent.length} signs come first:
      </p>
      <div class="mt-2">
        {#each urgent as c (c.id)}
          <Question
            ask={c.ask}
            options={YES_NO}
            value={answer(c.id)}
            id={c.id}
            choose={(v) => self.set('cautions', c.id, { answer: v })}
            big
          />
        {/each}
        {#if urgent.some((c) => !answer(c.id))}<p class="mt-3 text-lead text-soft">
            Each of the {urgent.length} is answered by itself.
          </p>{/if}
      </div>
    {:else if step === 1}<About {self} />
    {:else if step === 2}<Wishes {self} {tables} />
    {:else if step === 3}
      <p class="mt-2">Everybody has a favourite side. Answer what you know.</p>
      {#each habits as t (t.id)}
        <Question
          ask={t.ask}
          options={t.answers.map((a) => ({ value: a, label: a }))}
          value={String(self.draft.tests[t.id]?.['answer'] ?? '')}
          id={t.id}
          choose={(v) => self.set('tests', t.id, v ? { answer: v } : undefined)}
          big
          takeBack
        />
      {/each}
    {:else if step === 4}<Health {self} {tables} />
    {:else if step === 5}<Agreements {self} {tables} coaches={self.view?.coaches ?? []} />
    {:else}
      <p class="mt-2">
        Your coach reads this beside you before anything is planned. After sending it in, this link is closed.
      </p>
      <ul class="mt-3">
        {#each told as line, i (line.name)}
          <li class="flex items-center justify-between border-b border-rule">
            <span>{line.name}<span class="ml-2 text-base text-soft">{line.words}</span></span>
            <button class="min-h-touch link" aria-label="Look at {line.name}" onclick={() => go(i)}
              >Look</button
            >
          </li>
        {/each}
      </ul>
      {#if open.length}
        <div class="mt-4 border-l-[4px] border-mark-watch pl-3">
          <b
            >{open.length === 1
              ? 'One health question is not answered'
              : `${open.length} health questions are not answered`}:</b
          >
          {open.map((c) => c.name.toLowerCase()).join('; ')}.
          <button class="block min-h-touch link" onclick={() => go(4)}>Answer them now</button>
        </div>
      {/if}
      {#if self.refused}
        <div
          role="alert"
          {@attach (alert: HTMLElement) => alert.scrollIntoView({ block: 'center' })}
          class="mt-4 border-l-[4px] border-stop pl-3 text-stop"
        >
          {self.refused.message}
          {#if place >= 0}<button class="mt-1 block min-h-touch link" onclick={() => go(place)}
              >Go to “{STEPS[place]}”</button
            >{/if}
        </div>
      {/if}
      <button
        class="mt-4 act min-h-hand w-full text-head {open.length ? 'act-quiet' : ''}"
        onclick={() => self.submit(open.map((c) => c.id))}
        >{open.length
          ? `Send it in and leave ${open.length === 1 ? 'this one' : `these ${open.length}`} open`
          : 'Send it in'}</button
      >
      {#if open.length}<p class="mt-2 text-lead text-soft">
          Your coach asks you what is open before you begin.
        </p>{/if}
    {/if}
    <div class="fixed inset-x-0 bottom-0 z-20 border-t border-rule bg-paper">
      <div class="mx-auto flex max-w-column gap-3 px-5 py-3">
        <button class="act min-h-press act-quiet" disabled={step === 0} onclick={() => go(step - 1)}
          >Back</button
        >
        {#if step < STEPS.length - 1}<button class="act min-h-press grow" onclick={() => go(step + 1)}
            >Next: {STEPS[step + 1]}</button
          >{/if}
      </div>
    </div>
  {/if}
</main>
