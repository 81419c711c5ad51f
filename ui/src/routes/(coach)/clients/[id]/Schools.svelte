<script lang="ts">
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import { clock } from '$lib/format'

  /** The same client drafted in every approach, next to each other; what only one of them has stands out. */
  let {
    id,
    body,
    schools,
    take
  }: {
    id: string
    body: Schemas['NewProgram']
    schools: Schemas['WaysView']['approaches']
    take: (school: string) => void
  } = $props()
  let drafts = $state.raw<Record<string, Schemas['DraftView']>>({})
  let problem = $state('')

  $effect(() => {
    let gone = false
    drafts = {}
    for (const s of schools)
      ask(
        api.POST('/api/clients/{client_id}/programs/draft', {
          params: { path: { client_id: id } },
          body: { ...body, approach: s.id }
        })
      ).then(
        (d) => {
          if (!gone) drafts = { ...drafts, [s.id]: d }
        },
        (e) => {
          if (!gone) problem = words(e)
        }
      )
    return () => {
      gone = true
    }
  })
  let one = $state('')
  let other = $state('')
  let fell = $state('')
  async function throwCoin() {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const coin = await ask(
          api.POST('/api/clients/{client_id}/coin', {
            params: { path: { client_id: id } },
            body: { between: [one, other] }
          })
        )
        fell = coin.name
        setTimeout(() => take(coin.fell), 1500)
      }
    )
  }
  const lines = (d: Schemas['DraftView']) => d.sheet.lines
  const often = $derived.by(() => {
    const out: Record<string, number> = {}
    for (const d of Object.values(drafts))
      for (const l of lines(d)) out[l.exercise] = (out[l.exercise] ?? 0) + 1
    return out
  })
  const days = (d: Schemas['DraftView']) => {
    const [first, last] = [d.document.sessions[0], d.document.sessions.at(-1)]
    return first === last ? `${first} days a week` : `${first} to ${last} days`
  }
  const longest = (d: Schemas['DraftView']) => Math.max(0, ...d.sheet.weeks.map((w) => w.seconds))
</script>

{#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
<div class="grid grid-cols-4 gap-x-4">
  {#each schools as s (s.id)}
    {@const d = drafts[s.id]}
    <section class="min-w-0" aria-label={s.name}>
      <h3 class="text-row font-bold">{s.name}</h3>
      {#if d}
        <p class="text-small text-soft">
          {lines(d).length} exercises, {clock(longest(d))}, {days(d)}
        </p>
        <ol class="mt-1 text-row">
          {#each lines(d) as l (l.id)}<li
              class="border-b border-rule py-1 leading-snug"
              class:text-soft={(often[l.exercise] ?? 0) > 1}
              class:font-semibold={often[l.exercise] === 1}
            >
              {l.name}
            </li>{/each}
        </ol>
        <button type="button" class="mt-2 act act-quiet" onclick={() => take(s.id)}>Take this</button>
      {:else if !problem}<p class="text-small text-soft">Drafting …</p>{/if}
    </section>
  {/each}
</div>
<p class="mt-3 text-small text-soft">
  In bold: what only this approach has. In grey: what it shares with another.
</p>
<p class="mt-3 flex flex-wrap items-center gap-2 border-t border-rule pt-3 text-row">
  Undecided between
  {#each [0, 1] as which (which)}
    <select
      class="pick"
      aria-label={which ? 'the other approach' : 'one approach'}
      value={which ? other : one}
      onchange={(e) => (which ? (other = e.currentTarget.value) : (one = e.currentTarget.value))}
    >
      <option value="">choose</option>
      {#each schools as s (s.id)}<option value={s.id}>{s.name}</option>{/each}
    </select>
    {#if !which}and{/if}
  {/each}
  <button
    type="button"
    class="act act-quiet"
    disabled={!one || !other || one === other || !!fell}
    onclick={throwCoin}>Throw a coin</button
  >
  <span role="status"
    >{fell
      ? `${fell}. Noted.`
      : 'It is noted before practice, so that “What helped” may hold the two against each other.'}</span
  >
</p>
