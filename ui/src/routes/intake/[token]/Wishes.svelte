<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import AddConcern from '$lib/intake/AddConcern.svelte'
  import { YES_NO } from '$lib/intake/Choice.svelte'
  import Question from '$lib/intake/Question.svelte'
  import { severityFills } from '$lib/intake/regions'
  import type { SelfIntake } from '$lib/intake/self.svelte'
  import Severity from '$lib/intake/Severity.svelte'
  import FacePicker from '$lib/signature/FacePicker.svelte'
  import type { View } from '$lib/signature/face-map'

  let { self, tables }: { self: SelfIntake; tables: Schemas['IntakeTablesView'] } = $props()
  let view = $state<View>('mirror')
  let picked = $state<{ muscle: string; side: 'right' | 'left' } | null>(null)
  const ratings = $derived(self.draft.ratings as unknown as Record<string, { right: number; left: number }>)
  const chosen = $derived(tables.concerns.filter((c) => c.id in ratings))
  const here = $derived(
    tables.concerns.filter((c) => c.muscles.includes(picked?.muscle ?? '') && !(c.id in ratings))
  )

  function add(id: string) {
    const paired = tables.concerns.find((c) => c.id === id)?.paired
    const side = picked?.side
    const only = paired && side
    self.set('ratings', id, { right: only === 'left' ? 0 : 1, left: only === 'right' ? 0 : 1 })
    picked = null
  }
  const asked = (id: string) =>
    (tables.reasoning.find((r) => r.concern === id)?.questions ?? []).filter((q) => !q.source)
</script>

<p class="mt-2">What would you like to change? Touch the place, or type what you call it.</p>
<div class="mx-auto mt-3 max-w-card">
  <FacePicker
    muscles={tables.muscles}
    fills={severityFills(tables.concerns, ratings)}
    label="your face"
    bind:view
    height={320}
    hint="As in a mirror: your right is at the right."
    pick={(muscle, side) => (picked = { muscle, side })}
  />
</div>
{#if picked}
  <div class="grid gap-2" role="group" aria-label="What is it here?">
    <p>What is it here, on your <strong>{picked.side}</strong>?</p>
    {#each here as c (c.id)}<button class="act min-h-press act-quiet" onclick={() => add(c.id)}
        >{c.name}</button
      >
    {:else}<p class="text-soft">Nothing more to add here. Type it below.</p>{/each}
  </div>
{/if}
<div class="mt-3">
  <AddConcern concerns={tables.concerns.filter((c) => !(c.id in ratings))} {add} big />
</div>
{#each chosen as concern (concern.id)}
  <article class="mt-6 border-t border-ink pt-3" aria-label={concern.name}>
    <div class="flex items-baseline justify-between gap-3">
      <h2>{concern.name}</h2>
      <button class="min-h-touch text-base link" onclick={() => self.set('ratings', concern.id, undefined)}
        >Take out</button
      >
    </div>
    <p class="text-base text-soft">0 is none, 4 is marked.</p>
    <Severity
      {concern}
      right={ratings[concern.id]?.right ?? null}
      left={ratings[concern.id]?.left ?? null}
      rate={(right, left) => self.set('ratings', concern.id, { right, left })}
      big
    />
    {#each asked(concern.id) as q (q.id)}
      {@const key = `${concern.id}.${q.id}`}
      <Question
        ask={q.ask}
        options={YES_NO}
        value={String(self.draft.answers[key]?.['answer'] ?? '')}
        id={key}
        choose={(v) => self.set('answers', key, v ? { answer: v } : undefined)}
        big
        takeBack
      />
    {/each}
  </article>
{/each}
