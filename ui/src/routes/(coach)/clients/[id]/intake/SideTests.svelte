<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Question from '$lib/intake/Question.svelte'

  /** Small tests with what to do and what to say, and one-sided habits that can become a task. */
  let { intake, end }: { intake: Intake; end: () => void } = $props()

  const GROUPS = [
    { key: 'eye', name: 'Eyes' },
    { key: 'brow', name: 'Brows' },
    { key: 'mouth', name: 'Mouth' },
    { key: 'jaw', name: 'Jaw' },
    { key: 'habit', name: 'Habits' },
    { key: 'trait', name: 'Traits' }
  ]
  type Test = Schemas['SideTestView']
  let open = $state('')
  const tests = $derived(intake.tables?.tests ?? [])
  const result = (t: Test) => intake.view?.results[t.id]
  const habit = (t: Test) => intake.view?.conclusions.habits.find((h) => h.test === t.id)
  const options = (t: Test) =>
    t.answers.map((a) => ({
      value: a,
      label: a,
      key: t.answers.length < 5 && /^[a-z]/.test(a) ? a[0] : undefined
    }))
</script>

{#each GROUPS as group (group.key)}
  {@const list = tests.filter((t) => t.group === group.key)}
  <section class="mb-4" aria-label={group.name}>
    <h2 class="border-b border-ink pb-1">{group.name}</h2>
    {#each list as test (test.id)}
      {#if test.measured}
        <p class="flex justify-between border-b border-rule py-[7px] text-row">
          <span>{test.ask}</span>
          <span class="text-soft"
            >{result(test)
              ? `${result(test)?.answer}, sitting of ${shortDay(result(test)?.noted_on ?? '')}`
              : 'no sitting measured yet'}</span
          >
        </p>
      {:else}
        <Question
          ask={test.ask}
          options={options(test)}
          value={result(test)?.answer ?? ''}
          id="tests:{test.id}"
          choose={(v) => intake.enter('test', test.id, { answer: v })}
          takeBack
          problem={intake.problem('test', test.id)}
          {end}
        >
          {#snippet more()}
            <button
              class="link"
              aria-expanded={open === test.id}
              aria-label="How to do it, and what to say: {test.name}"
              tabindex="-1"
              onclick={() => (open = open === test.id ? '' : test.id)}
              >{open === test.id ? 'close' : 'how'}</button
            >{#if result(test)}<span class="ml-2">{shortDay(result(test)?.noted_on ?? '')}</span>{/if}
          {/snippet}
        </Question>
        {#if habit(test)}
          <label class="flex items-center gap-2 bg-sheet px-3 py-1 text-small"
            ><input
              type="checkbox"
              checked={habit(test)?.agreed}
              onchange={(e) => intake.enter('habit', test.id, { agreed: e.currentTarget.checked })}
            />Make it a habit task: {habit(test)?.text}, {habit(test)?.times} a day</label
          >
        {/if}
        {#if open === test.id}
          <div class="mb-2 bg-sheet px-3 py-2 text-row">
            <ol class="list-decimal pl-5">
              {#each test.steps as step (step)}<li>{step}</li>{/each}
            </ol>
            <p class="mt-1 font-head text-lead">{test.say}</p>
          </div>
        {/if}
      {/if}
    {/each}
  </section>
{/each}
