<script lang="ts">
  import { isSenior } from '$lib/people/session.svelte'
  import NumberField from '$lib/parts/NumberField.svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { FAMILIES, idFor, type Entry } from './entry'

  let {
    concern,
    name,
    editedBy,
    editedAt,
    document,
    tables,
    load
  }: {
    concern: string
    name: string
    editedBy: string | null
    editedAt: string | null
    document: Entry
    tables: Schemas['IntakeTablesView']
    load: () => Promise<void>
  } = $props()

  // A copy to edit; the page makes this component anew for every entry.
  // svelte-ignore state_referenced_locally
  let entry = $state<Entry>($state.snapshot(document) as Entry)
  let problem = $state('')
  let saved = $state(false)
  const changed = $derived(JSON.stringify(entry) !== JSON.stringify(document))
  const weight = (cause: Entry['causes'][number], q: string, a: 'yes' | 'no') => cause.evidence[q]?.[a] ?? 0

  function weigh(cause: Entry['causes'][number], q: string, a: 'yes' | 'no', value: string) {
    cause.evidence[q] = { ...cause.evidence[q], [a]: Number.parseInt(value, 10) || 0 }
  }
  function drop(q: string) {
    entry.questions = entry.questions.filter((x) => x.id !== q)
    for (const c of entry.causes) delete c.evidence[q]
  }
  function addQuestion() {
    const id = idFor(
      `question ${entry.questions.length + 1}`,
      entry.questions.map((q) => q.id)
    )
    entry.questions.push({ id, ask: '', from: null })
  }
  function addCause() {
    const id = idFor(
      `cause ${entry.causes.length + 1}`,
      entry.causes.map((c) => c.id)
    )
    entry.causes.push({
      id,
      name: '',
      usual: 0,
      evidence: {},
      because: '',
      helps: '',
      families: [],
      muscles: [],
      avoid: '',
      habits: []
    })
  }
  function toggle(list: string[], value: string) {
    const at = list.indexOf(value)
    if (at >= 0) list.splice(at, 1)
    else list.push(value)
  }
  async function act(work: () => Promise<unknown>) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await work()
        saved = true
        await load()
      }
    )
  }
  const path = $derived({ params: { path: { concern } } })
  const keep = () =>
    act(() => ask(api.PUT('/api/reasoning/{concern}', { ...path, body: { document: entry as never } })))
  const restore = () => act(() => ask(api.DELETE('/api/reasoning/{concern}', path)))
</script>

<section aria-label={name}>
  <div class="flex items-end gap-4 border-b border-ink pb-1">
    <h2>{name}</h2>
    <span class="text-small text-soft"
      >{editedBy ? `your own text, ${editedBy}, ${editedAt?.slice(0, 10)}` : 'the shipped text'}</span
    >
    <div class="ml-auto flex gap-3">
      {#if isSenior() && editedBy}<button class="act !min-h-chip act-quiet" onclick={restore}
          >Back to the shipped text</button
        >{/if}
      {#if isSenior()}<button class="act !min-h-chip" disabled={!changed} onclick={keep}
          >Keep as our own</button
        >
      {:else}<span class="text-small text-soft">kept by a coach or the owner</span>{/if}
    </div>
  </div>
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
  {#if saved && !changed && !problem}<p role="status" class="mt-2 text-fine">
      Kept. It holds for every client from now.
    </p>{/if}
  <h3 class="mt-4">Questions</h3>
  {#each entry.questions as q (q.id)}
    <div class="mt-1 flex items-center gap-3">
      <input class="field !min-h-chip" aria-label="Question" bind:value={q.ask} />
      <label class="flex items-center gap-1 text-small whitespace-nowrap text-soft"
        >answered by <select class="pick" bind:value={q.from}>
          <option value={null}>asking</option>
          {#each tables.tests as t (t.id)}<option value={t.id}>{t.name}</option>{/each}
          {#each tables.cautions as c (c.id)}<option value={c.id}>{c.name}</option>{/each}
          {#if q.from && ![...tables.tests, ...tables.cautions].some((x) => x.id === q.from)}<option
              value={q.from}>all tests of {q.from.replace('-', ' ')}</option
            >{/if}
        </select></label
      >
      <button class="text-small link" onclick={() => drop(q.id)}>Remove</button>
    </div>
  {/each}
  <button class="mt-2 text-row link" onclick={addQuestion}>Add a question</button>
  {#each entry.causes as cause, i (cause.id)}
    <article class="mt-5 border-t border-rule pt-3">
      <div class="flex items-center gap-3">
        <input class="field !min-h-touch font-bold" aria-label="Cause" bind:value={cause.name} />
        <label class="flex items-center gap-2 text-small whitespace-nowrap text-soft"
          >usual weight <NumberField
            min="-3"
            max="3"
            class="!min-h-chip !w-[64px]"
            bind:value={cause.usual}
          /></label
        >
        {#if entry.causes.length > 1}<button
            class="text-small link"
            onclick={() => (entry.causes = entry.causes.filter((_, n) => n !== i))}>Remove</button
          >{/if}
      </div>
      <table class="mt-2 text-small">
        <thead class="text-left text-soft"
          ><tr
            ><th class="w-[420px] font-normal">What an answer says for it</th><th class="w-[76px] font-normal"
              >yes</th
            ><th class="w-[76px] font-normal">no</th></tr
          ></thead
        >
        <tbody>
          {#each entry.questions as q (q.id)}
            <tr>
              <td class="pr-4">{q.ask || 'new question'}</td>
              {#each ['yes', 'no'] as const as a (a)}
                <td
                  ><NumberField
                    min="-9"
                    max="9"
                    class="!min-h-chip !w-[60px]"
                    aria-label="{cause.name}: {q.ask} {a}"
                    value={weight(cause, q.id, a)}
                    oninput={(e) => weigh(cause, q.id, a, e.currentTarget.value)}
                  /></td
                >
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
      <div class="mt-2 grid grid-cols-3 gap-3 text-row">
        <label class="grid gap-1"
          ><span class="text-small text-soft">Because</span><textarea
            class="h-[64px] field py-1"
            bind:value={cause.because}></textarea></label
        >
        <label class="grid gap-1"
          ><span class="text-small text-soft">What helps</span><textarea
            class="h-[64px] field py-1"
            bind:value={cause.helps}></textarea></label
        >
        <label class="grid gap-1"
          ><span class="text-small text-soft">Avoid</span><textarea
            class="h-[64px] field py-1"
            bind:value={cause.avoid}></textarea></label
        >
      </div>
      <fieldset class="mt-2 flex flex-wrap gap-x-3 text-row">
        <legend class="text-small text-soft">Families that help</legend>
        {#each FAMILIES as f (f)}<label class="flex items-center gap-1"
            ><input
              type="checkbox"
              checked={cause.families.includes(f)}
              onchange={() => toggle(cause.families, f)}
            />{f}</label
          >{/each}
      </fieldset>
      <details class="mt-2 text-row">
        <summary class="text-small text-soft"
          >Muscles: {tables.muscles
            .filter((m) => cause.muscles.includes(m.id))
            .map((m) => m.name)
            .join(', ') || 'none'}</summary
        >
        <div class="columns-3">
          {#each tables.muscles as m (m.id)}<label class="flex items-center gap-1"
              ><input
                type="checkbox"
                checked={cause.muscles.includes(m.id)}
                onchange={() => toggle(cause.muscles, m.id)}
              />{m.name}</label
            >{/each}
        </div>
      </details>
      <label class="mt-2 grid gap-1 text-row"
        ><span class="text-small text-soft">Habit notes, one on each line</span><textarea
          class="h-[52px] field py-1"
          value={cause.habits.join('\n')}
          oninput={(e) => (cause.habits = e.currentTarget.value.split('\n').filter((l) => l.trim()))}
        ></textarea></label
      >
    </article>
  {/each}
  <button class="mt-4 text-row link" onclick={addCause}>Add a cause</button>
</section>
