<script lang="ts">
  import { api, ask, words, type Schemas } from '../api/client'
  import Sheet from '../parts/Sheet.svelte'

  let {
    open = $bindable(false),
    concern,
    add
  }: {
    open?: boolean
    concern: string | null
    add: (card: Schemas['CardView'], stages: string[]) => Promise<void>
  } = $props()
  let catalogue = $state<Schemas['CatalogueView'] | null>(null)
  let wanted = $state('')
  let problem = $state('')
  /** Enter was pressed before the exercises had arrived. */
  let early = $state(false)

  $effect(() => {
    if (open && !catalogue)
      void ask(api.GET('/api/catalogue')).then(
        (c) => (catalogue = c),
        (e) => (problem = words(e))
      )
  })
  const hits = $derived(
    (catalogue?.cards ?? [])
      .filter((c) =>
        `${c.name} ${c.family} ${c.concerns.map((x) => x.name).join(' ')} ${c.prime_movers.map((x) => x.name).join(' ')}`
          .toLowerCase()
          .includes(wanted.toLowerCase())
      )
      .sort(
        (a, b) =>
          Number(b.concerns.some((c) => c.id === concern)) - Number(a.concerns.some((c) => c.id === concern))
      )
  )
  $effect(() => {
    if (early && catalogue) {
      early = false
      void take(hits[0])
    }
  })
  async function take(card: Schemas['CardView'] | undefined) {
    if (!card || !catalogue) return
    try {
      await add(card, catalogue.stages)
      open = false
      wanted = ''
    } catch (error) {
      problem = words(error)
    }
  }
</script>

<Sheet bind:open title="Add an exercise" width={620}>
  <input
    class="field"
    placeholder="name, muscle, family or concern"
    aria-label="Find an exercise"
    bind:value={wanted}
    onkeydown={(e) => {
      if (e.key !== 'Enter') return
      if (catalogue) void take(hits[0])
      else early = true
    }}
  />
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
  <ul class="mt-3">
    {#each hits as card (card.id)}
      <li class="border-b border-rule">
        <button
          class="grid w-full grid-cols-[1fr_auto] gap-x-3 py-1.5 text-left hover:bg-paper"
          onclick={() => take(card)}
        >
          <b>{card.name}</b><span class="dose text-[14px]">{card.start_line} → {card.target_line}</span>
          <span class="col-span-2 text-[13px] text-soft"
            >{card.stage}, {card.family}{card.concerns.some((c) => c.id === concern)
              ? '; helps this concern'
              : ''}</span
          >
        </button>
      </li>
    {/each}
  </ul>
</Sheet>
