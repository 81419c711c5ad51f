<script lang="ts">
  import { catalogue } from './catalogue.svelte'
  import { places } from '$lib/signature/figure'
  import Figure from '$lib/signature/Figure.svelte'
  import {
    drawing,
    FEATURES,
    seenFrom,
    states,
    written,
    type Feature,
    type FigureEntry
  } from './figure-entry'

  /** A figure made by touch: hands and what they do, their places on the face, what the face itself does. It moves as it will for the
   * client while it is made. */
  let { figure = $bindable(), hands, fault }: { figure: FigureEntry; hands: string; fault: string } = $props()

  const terms = $derived(catalogue.view?.figure)
  const known = $derived(terms?.places[figure.view] ?? {})
  /** The path that places are chosen for: a hand, or a movement of the face; none. */
  let placing = $state<{ of: 'hands' | 'moves'; n: number } | null>(null)
  /** Whether neck and shoulders are in the picture, too, while places are chosen. */
  let wide = $state(false)
  const path = $derived(
    placing ? (placing.of === 'hands' ? figure.hands[placing.n]?.path : figure.moves[placing.n]) : undefined
  )
  const VIEWS = [
    ['front', 'from the front'],
    ['side', 'from the side'],
    ['behind', 'from behind']
  ] as const
  const NAMES: Record<Feature, string> = { mouth: 'Mouth', eyes: 'Eyes', brows: 'Brows', head: 'Head' }
  const list = (words: Record<string, string> | undefined) => Object.entries(words ?? {})

  function put(place: string) {
    if (!placing || !path) return
    const next = path.at(-1) === place ? path.slice(0, -1) : [...path, place]
    set(placing, next)
  }
  function set(at: { of: 'hands' | 'moves'; n: number }, next: string[]) {
    if (at.of === 'hands') figure.hands[at.n]!.path = next
    else figure.moves[at.n] = next
  }
  function add(of: 'hands' | 'moves') {
    if (of === 'hands') figure.hands.push({ with: 'fingers', path: [], do: 'press', other: false })
    else figure.moves.push([])
    placing = { of, n: figure[of].length - 1 }
  }
  function takeOff(of: 'hands' | 'moves', n: number) {
    figure[of].splice(n, 1)
    placing = null
  }
  function look(view: FigureEntry['view']) {
    figure = seenFrom(figure, view, terms?.places[view] ?? {})
    placing = null
  }
  const chosen = (of: 'hands' | 'moves', n: number) => placing?.of === of && placing.n === n
  const travels = (does: string) => ['stroke', 'walk', 'pull'].includes(does)
</script>

{#snippet dots()}
  {#if placing}
    {#each list(known) as [id, words] (id)}
      {@const [x, y] = places(figure.view, [id])[0]!}
      {@const n = path?.indexOf(id) ?? -1}
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
      <g class="cursor-pointer" onclick={() => put(id)} data-place={id}>
        <title>{words}</title>
        <circle cx={x} cy={y} r="9" fill="transparent" />
        <circle
          cx={x}
          cy={y}
          r={n < 0 ? 3.6 : 6}
          fill={n < 0 ? 'var(--color-sheet)' : 'var(--color-action)'}
          stroke="var(--color-action)"
          stroke-width="1.6"
        />
      </g>
    {/each}
  {/if}
{/snippet}

{#snippet route(of: 'hands' | 'moves', n: number, at: string[])}
  <div class="mt-1.5 flex flex-wrap items-center gap-1.5 text-row">
    {#each at as place, i (i)}
      {#if i}<span aria-hidden="true">→</span>{/if}
      <span class="flex items-center gap-1 border border-rule bg-paper px-1.5"
        >{known[place] ?? place}<button
          type="button"
          class="px-1 text-soft hover:text-stop"
          aria-label="Take {known[place]} out"
          onclick={() =>
            set(
              { of, n },
              at.filter((_, k) => k !== i)
            )}>×</button
        ></span
      >
    {/each}
    <select
      class="field w-auto min-w-0 text-small"
      aria-label={at.length ? 'And then to' : 'Where'}
      value=""
      onchange={(e) => {
        set({ of, n }, [...at, e.currentTarget.value])
        e.currentTarget.value = ''
      }}
    >
      <option value="" disabled>{at.length ? 'and then to …' : 'where …'}</option>
      {#each list(known) as [id, words] (id)}<option value={id}>{words}</option>{/each}
    </select>
    <button
      type="button"
      class="text-small link"
      aria-pressed={chosen(of, n)}
      onclick={() => (placing = chosen(of, n) ? null : { of, n })}
      >{chosen(of, n) ? 'done' : 'touch it on the face'}</button
    >
  </div>
{/snippet}

<div class="grid grid-cols-[minmax(300px,380px)_1fr] gap-6">
  <div>
    <div class="h-[400px] border border-rule bg-sheet p-2 {placing ? 'outline-2 outline-action' : ''}">
      <Figure
        figure={drawing(figure)}
        label="The exercise as it is drawn"
        whole={!!placing && wide}
        over={dots}
      />
    </div>
    <p class="mt-1 text-small text-soft">
      {#if placing}Touch the places in their order, on the client’s right; the left is its mirror. Touch the
        last one again to take it back.
        <button type="button" class="link" onclick={() => (wide = !wide)}
          >{wide ? 'The face alone' : 'Neck and shoulders, too'}</button
        >{:else}{hands || 'No hand is on the face.'}{/if}
    </p>
    {#if fault}<p class="mt-1 text-small text-stop" role="alert">{fault}</p>{/if}
  </div>
  <div class="grid content-start gap-4">
    <div class="flex flex-wrap gap-x-5 gap-y-1">
      <span class="font-bold">Seen</span>
      {#each VIEWS as [view, words] (view)}<label class="flex items-center gap-1.5"
          ><input
            type="radio"
            name="view"
            checked={figure.view === view}
            onchange={() => look(view)}
          />{words}</label
        >{/each}
    </div>
    {#if figure.view === 'front'}<label class="flex items-center gap-2"
        ><input
          type="checkbox"
          checked={figure.sides === 'one'}
          onchange={(e) => (figure.sides = e.currentTarget.checked ? 'one' : 'both')}
        />One side at a time</label
      >{/if}
    <section aria-label="Hands">
      <h4 class="font-bold">Hands</h4>
      {#each figure.hands as hand, n (n)}
        <div class="mt-2 border-l-2 pl-3 {chosen('hands', n) ? 'border-action' : 'border-rule'}">
          <div class="flex flex-wrap items-center gap-2">
            <select class="field w-auto" aria-label="Hand {n + 1}: what touches" bind:value={hand.with}>
              {#each list(terms?.tools) as [id, words] (id)}<option value={id}>{words}</option>{/each}
            </select>
            <select class="field w-auto" aria-label="Hand {n + 1}: what it does" bind:value={hand.do}>
              {#each list(terms?.does) as [id, words] (id)}<option value={id}>{words}</option>{/each}
            </select>
            {#if figure.sides === 'one'}<label class="flex items-center gap-1.5 text-small"
                ><input type="checkbox" bind:checked={hand.other} />on the side that does not work</label
              >{/if}
            <button type="button" class="text-small link" onclick={() => takeOff('hands', n)}
              >take this hand off</button
            >
          </div>
          {@render route('hands', n, hand.path)}
          {#if travels(hand.do) && hand.path.length === 1}<p class="text-small text-soft">
              A hand that {terms?.does[hand.do]} needs a second place.
            </p>{/if}
        </div>
      {/each}
      {#if figure.hands.length < 4}<button type="button" class="mt-2 link" onclick={() => add('hands')}
          >{figure.hands.length ? 'Another hand' : 'Lay a hand on the face'}</button
        >{/if}
    </section>
    <section aria-label="What the face does">
      <h4 class="font-bold">What the face does</h4>
      {#if figure.view === 'behind'}<p class="text-small text-soft">
          From behind only the head is seen.
        </p>{/if}
      <div class="mt-1 grid grid-cols-[60px_1fr_1fr] items-center gap-2">
        {#each FEATURES as feature (feature)}
          {@const [first = '', then = ''] = states(figure[feature])}
          <span>{NAMES[feature]}</span>
          <select
            class="field"
            aria-label="{NAMES[feature]} begins with"
            value={first}
            onchange={(e) => (figure[feature] = written(e.currentTarget.value, then))}
          >
            {#each list(terms?.[feature]) as [id, words] (id)}<option value={id}>{words}</option>{/each}
          </select>
          <select
            class="field"
            aria-label="{NAMES[feature]} goes to"
            value={then}
            onchange={(e) => (figure[feature] = written(first, e.currentTarget.value))}
          >
            <option value="">and stays so</option>
            {#each list(terms?.[feature]).filter(([id]) => id !== first) as [id, words] (id)}<option
                value={id}>→ {words}</option
              >{/each}
          </select>
        {/each}
      </div>
      {#if figure.view === 'front'}<label class="mt-2 flex items-center gap-2"
          ><input type="checkbox" bind:checked={figure.breath} />The breath is shown</label
        >{/if}
    </section>
    <section aria-label="Ways of the movement">
      <h4 class="font-bold">Ways shown by an arrow</h4>
      {#each figure.moves as move, n (n)}
        <div class="mt-1 border-l-2 pl-3 {chosen('moves', n) ? 'border-action' : 'border-rule'}">
          {@render route('moves', n, move)}
          <button type="button" class="text-small link" onclick={() => takeOff('moves', n)}
            >take it off</button
          >
        </div>
      {/each}
      {#if figure.moves.length < 4}<button type="button" class="mt-1 link" onclick={() => add('moves')}
          >{figure.moves.length ? 'Another way' : 'Show where the face moves to'}</button
        >{/if}
    </section>
  </div>
</div>
