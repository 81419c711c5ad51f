<script lang="ts">
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'

  let {
    open = $bindable(false),
    approach,
    add
  }: {
    open?: boolean
    approach: string
    add: (id: string, stages: string[]) => Promise<void>
  } = $props()
  let wanted = $state('')
  let problem = $state('')
  /** Enter was pressed before the exercises had arrived. */
  let early = $state(false)
  let at = $state(0)
  let card = $state<Schemas['CardView'] | null>(null)
  type Brief = Schemas['CardBrief']

  $effect(() => {
    if (open)
      void catalogue.load().catch((error: unknown) => {
        problem = words(error)
      })
  })
  const text = (c: Brief) =>
    `${c.name} ${c.family} ${c.stage} ${c.concerns.map((x) => x.name).join(' ')} ${[...c.prime_movers, ...c.helpers].map((x) => x.name).join(' ')} ${c.needs.join(' ')}`.toLowerCase()
  const hits = $derived(
    (catalogue.view?.cards ?? [])
      .filter(
        (c) =>
          !c.retired &&
          wanted
            .toLowerCase()
            .split(/\s+/)
            .every((w) => text(c).includes(w))
      )
      .sort(
        (a, b) =>
          Number(b.name.toLowerCase().startsWith(wanted.toLowerCase())) -
            Number(a.name.toLowerCase().startsWith(wanted.toLowerCase())) ||
          Number(b.name.toLowerCase().includes(wanted.toLowerCase())) -
            Number(a.name.toLowerCase().includes(wanted.toLowerCase()))
      )
  )
  $effect(() => {
    if (early && catalogue.view) {
      early = false
      void take(hits[at])
    }
  })
  $effect(() => {
    const id = hits[at]?.id
    card = null
    if (!open || !id) return
    let gone = false
    const timer = setTimeout(() => {
      ask(api.GET('/api/exercises/{exercise_id}', { params: { path: { exercise_id: id } } })).then(
        (c) => {
          if (!gone) card = c
        },
        () => undefined
      )
    }, 120)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  })
  async function take(brief: Brief | undefined) {
    if (!brief || !catalogue.view) return
    try {
      await add(brief.id, catalogue.view.stages)
      open = false
      wanted = ''
      at = 0
    } catch (error) {
      problem = words(error)
    }
  }
  function keys(event: KeyboardEvent) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      at = Math.max(0, Math.min(hits.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))
      document.getElementById(`hit-${at}`)?.scrollIntoView({ block: 'nearest' })
    } else if (event.key === 'Enter') {
      if (catalogue.view) void take(hits[at])
      else early = true
    }
  }
</script>

<Dialog bind:open title="Add an exercise" width={760}>
  <input
    class="field"
    placeholder="name, muscle, family, concern or need"
    aria-label="Find an exercise"
    aria-controls="hits"
    aria-activedescendant="hit-{at}"
    role="combobox"
    aria-expanded="true"
    bind:value={wanted}
    oninput={() => (at = 0)}
    onkeydown={keys}
  />
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
  <div class="mt-3 grid grid-cols-[1fr_250px] gap-5">
    <ul id="hits" role="listbox" aria-label="Exercises" class="max-h-[54vh] overflow-y-auto">
      {#each hits as c, i (c.id)}
        <li
          id="hit-{i}"
          role="option"
          aria-selected={i === at}
          class="border-b border-rule {i === at ? 'bg-paper' : ''}"
        >
          <button
            class="block w-full px-2 py-1.5 text-left"
            tabindex="-1"
            onpointerenter={() => (at = i)}
            onclick={() => take(c)}
          >
            <b>{c.name}</b>{#if c.own}
              <span class="text-[12px] text-soft">own</span>{/if}
            <span class="block text-[13px] text-soft"
              >{c.stage}, {c.family}{c.foundation ? ', foundation' : ''}{c.forbidden_by.includes(approach)
                ? '; forbidden by this approach'
                : ''}</span
            >
          </button>
        </li>
      {:else}
        <li class="py-3 text-soft">
          {catalogue.view ? 'No exercise is like that.' : 'Reading the exercises …'}
        </li>
      {/each}
    </ul>
    <div class="text-[13px]" aria-live="polite">
      {#if card}
        <p class="font-bold">{card.name}</p>
        <p class="mt-1">{card.purpose}</p>
        <p class="mt-2"><span class="dose text-[15px]">{card.start_line} → {card.target_line}</span></p>
        <p class="mt-2 text-soft">
          {card.prime_movers.map((m) => m.name).join(', ') || 'no muscle trained'}{card.needs.length
            ? `. With: ${card.needs.join(', ')}`
            : ''}{card.after.length ? `. First: ${card.after.map((a) => a.name).join(', ')}` : ''}
        </p>
      {/if}
    </div>
  </div>
</Dialog>
