<script lang="ts">
  import { Command } from 'bits-ui'
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'
  import Figure from '$lib/signature/Figure.svelte'
  import type { FigureData } from '$lib/signature/figure'

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
  /** The exercise that is pointed at; the first one that fits until another is. */
  let pointed = $state('')
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
  const chosen = $derived(hits.find((c) => c.id === pointed) ?? hits[0])
  $effect(() => {
    if (early && catalogue.view) {
      early = false
      void take(chosen)
    }
  })
  $effect(() => {
    const id = chosen?.id
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
    const { view } = catalogue
    if (!brief || !view) return
    await attempt(
      (why) => (problem = why),
      async () => {
        await add(brief.id, view.stages)
        open = false
        wanted = ''
        pointed = ''
      }
    )
  }
</script>

<Dialog bind:open title="Add an exercise" width={760}>
  <Command.Root
    shouldFilter={false}
    label="Find an exercise"
    bind:value={() => chosen?.id ?? '', (id) => (pointed = id)}
  >
    <Command.Input
      class="field"
      data-first
      placeholder="name, muscle, family, concern or need"
      aria-label="Find an exercise"
      bind:value={wanted}
      oninput={() => (pointed = '')}
      onkeydown={(e) => {
        if (e.key !== 'Enter') return
        // What is lit is taken here and not by the list, whose own mark comes a moment after the last letter.
        e.preventDefault()
        e.stopPropagation()
        if (catalogue.view) void take(chosen)
        else early = true
      }}
    />
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
    <div class="mt-3 grid grid-cols-[1fr_250px] gap-5">
      <Command.List aria-label="Exercises" class="max-h-[54vh] overflow-y-auto">
        {#each hits as c (c.id)}
          <Command.Item
            value={c.id}
            onSelect={() => take(c)}
            class="cursor-pointer border-b border-rule px-2 py-1.5 data-selected:bg-paper"
          >
            <b>{c.name}</b>{#if c.own}
              <span class="text-note text-soft">own</span>{/if}
            <span class="block text-small text-soft"
              >{c.stage}, {c.family}{c.foundation ? ', foundation' : ''}{c.forbidden_by.includes(approach)
                ? '; forbidden by this approach'
                : ''}</span
            >
          </Command.Item>
        {:else}
          <p class="py-3 text-soft">
            {catalogue.view ? 'No exercise is like that.' : 'Reading the exercises …'}
          </p>
        {/each}
      </Command.List>
      <div class="text-small" aria-live="polite">
        {#if card}
          <Figure figure={card.figure as FigureData} label="How {card.name} is done" />
          <p class="mt-2 font-bold">{card.name}</p>
          <p class="mt-1">{card.purpose}</p>
          <p class="mt-2"><span class="dose text-base">{card.start_line} → {card.target_line}</span></p>
          <p class="mt-2 text-soft">
            {card.prime_movers.map((m) => m.name).join(', ') || 'no muscle trained'}{card.needs.length
              ? `. With: ${card.needs.join(', ')}`
              : ''}{card.after.length ? `. First: ${card.after.map((a) => a.name).join(', ')}` : ''}
          </p>
        {/if}
      </div>
    </div>
  </Command.Root>
</Dialog>
