<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { YES_NO } from '$lib/intake/Choice.svelte'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Question from '$lib/intake/Question.svelte'
  import Severity from '$lib/intake/Severity.svelte'

  let { intake, concern }: { intake: Intake; concern: Schemas['ConcernTableView'] } = $props()

  const rating = $derived(intake.view?.ratings[concern.id])
  const entry = $derived(intake.tables?.reasoning.find((r) => r.concern === concern.id))
  const found = $derived(intake.view?.conclusions.concerns.find((c) => c.concern === concern.id))
  const chosen = $derived(intake.view?.causes[concern.id] ?? '')
  const rate = (right: number, left: number) => intake.enter('rating', concern.id, { right, left })
  const answer = (q: string) => intake.view?.answers[`${concern.id}.${q}`] ?? ''
  const hint = (q: Schemas['QuestionView']) => {
    const told = found?.derived[q.id]
    return told ? `Answered elsewhere in the intake: ${told}. Answer here to overrule.` : ''
  }
</script>

<article class="mt-4 border-b border-rule pb-3" aria-label={concern.name}>
  <div class="grid grid-cols-[200px_1fr] items-start gap-x-4">
    <h3 class="pt-1 text-lead">{concern.name}</h3>
    <div class="grid gap-1">
      <Severity {concern} right={rating?.right ?? null} left={rating?.left ?? null} {rate} />
    </div>
  </div>
  {#if intake.problem('rating', concern.id)}<p role="alert" class="text-small text-stop">
      {intake.problem('rating', concern.id)}
    </p>{/if}
  {#if rating && Math.max(rating.right, rating.left) > 0 && entry}
    <div class="mt-2 border-l-[3px] border-rule pl-3">
      {#each entry.questions as q (q.id)}
        <Question
          ask={q.ask}
          options={YES_NO}
          value={answer(q.id)}
          id="concerns:{concern.id}.{q.id}"
          choose={(v) => intake.enter('answer', `${concern.id}.${q.id}`, { answer: v })}
          hint={hint(q)}
          takeBack
        />
      {/each}
      {#if found}
        <fieldset class="mt-2">
          <legend class="font-bold">
            {found.summary}{#if found.differs}<span class="font-normal">
                You chose {found.cause.name}.</span
              >{/if}
          </legend>
          {#each found.ranked as w (w.cause)}
            {@const cause = entry.causes.find((c) => c.id === w.cause)}
            <div class="flex items-baseline gap-2 text-row">
              <label class="flex grow items-baseline gap-2">
                <input
                  type="radio"
                  name="cause-{concern.id}"
                  checked={found.cause.id === w.cause}
                  onchange={() => intake.enter('cause', concern.id, { cause: w.cause })}
                />
                <span
                  >{w.name}{#if found.cause.id === w.cause && cause}<span class="block text-small text-soft"
                      >{cause.because}
                      {cause.helps}
                      {cause.few} Avoid: {cause.avoid.charAt(0).toLowerCase()}{cause.avoid.slice(1)}</span
                    >{/if}</span
                >
              </label>
              <details class="text-small">
                <summary class="link">why {w.score > 0 ? '+' : ''}{String(w.score).replace('-', '−')}</summary
                >
                <ul class="max-w-aside text-soft">
                  {#each w.steps as step (step)}<li>{step}</li>{/each}
                </ul>
              </details>
            </div>
          {/each}
          {#if chosen}
            <button class="text-small link" onclick={() => intake.enter('cause', concern.id, { cause: '' })}
              >Leave it to the answers</button
            >
          {/if}
        </fieldset>
      {/if}
    </div>
  {/if}
</article>
