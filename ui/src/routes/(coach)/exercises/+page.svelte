<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/format'
  import { onNeck, type Fills } from '$lib/signature/face-map'
  import FaceMap from '$lib/signature/FaceMap.svelte'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'
  import Note from '$lib/parts/Note.svelte'

  let catalogue = $state<Schemas['CatalogueView'] | null>(null)
  let wanted = $state('')
  let chosen = $state('')
  let problem = $state('')
  onMount(async () => {
    try {
      catalogue = await ask(api.GET('/api/catalogue'))
    } catch (error) {
      problem = words(error)
    }
  })
  const hits = $derived(
    (catalogue?.cards ?? []).filter((c) =>
      [c.name, c.family, ...c.concerns.map((x) => x.name), ...c.prime_movers.map((x) => x.name)]
        .join(' ')
        .toLowerCase()
        .includes(wanted.toLowerCase())
    )
  )
  const card = $derived(hits.find((c) => c.id === chosen) ?? hits[0])
  let view = $state<'facing' | 'mirror'>('facing')
  const fills = $derived.by((): Fills => {
    const both = (share: number) => ({ right: share, left: share })
    return Object.fromEntries([
      ...(card?.helpers ?? []).map((m) => [m.id, both(0.35)]),
      ...(card?.prime_movers ?? []).map((m) => [m.id, both(1)])
    ])
  })
  const longest = $derived(Math.max(10, ...(card?.rungs.map((r) => r.train.total_s) ?? [])))
</script>

<svelte:head><title>Exercises · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-[1280px] grid-cols-[270px_minmax(0,1fr)_216px] gap-x-7 px-6 pb-12">
  <section class="pt-5" aria-label="Exercises">
    <h1>Exercises</h1>
    <input
      class="mt-3 field"
      placeholder="name, muscle, family, concern"
      aria-label="Find an exercise"
      bind:value={wanted}
    />
    {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
    {#each catalogue?.stages ?? [] as stage (stage)}
      {@const list = hits.filter((c) => c.stage === stage)}
      {#if list.length}
        <h2 class="mt-4 border-b border-ink text-[13px] font-bold">
          {stage[0]?.toUpperCase()}{stage.slice(1)}
        </h2>
        {#each list as c (c.id)}
          <button
            class="block w-full border-b border-rule py-1.5 text-left {c.id === card?.id
              ? 'bg-sheet font-bold'
              : ''}"
            aria-pressed={c.id === card?.id}
            onclick={() => (chosen = c.id)}
          >
            {c.name}<span class="block text-[12px] font-normal text-soft"
              >{c.family}{c.foundation ? ', foundation' : ''}</span
            >
          </button>
        {/each}
      {/if}
    {/each}
  </section>
  {#if card}
    <article class="pt-5">
      <h2 class="text-[29px]">{card.name}</h2>
      <p class="text-[14px] text-soft">
        {card.family}, {card.stage}; {card.sides === 'together'
          ? 'both sides together'
          : 'each side apart'}{card.pressure === 'none' ? '' : `; ${card.pressure} pressure`}
      </p>
      <p class="mt-3 max-w-[62ch]">{card.purpose}</p>
      <div class="mt-5 grid grid-cols-2 gap-8">
        <div>
          <h3 class="border-b border-ink">Said in this order</h3>
          <ol class="mt-2 space-y-1.5">
            {#each card.cues as cue, i (i)}<li class="grid grid-cols-[20px_1fr]">
                <span class="text-soft">{i + 1}</span>{cue}
              </li>{/each}
          </ol>
          <h3 class="mt-4 border-b border-ink">Felt at</h3>
          <p class="mt-2">{card.felt_at}</p>
          <h3 class="mt-4 border-b border-ink">Watch for</h3>
          <dl class="mt-2 space-y-1.5">
            {#each card.faults as f (f.fault)}<div>
                <dt class="font-bold">{f.fault}</dt>
                <dd>{f.remedy}</dd>
              </div>{/each}
          </dl>
          <h3 class="mt-4 border-b border-ink">Eased</h3>
          <p class="mt-2">{card.eased}</p>
        </div>
        <div>
          <h3 class="border-b border-ink">Rungs, start to target</h3>
          <ol class="mt-2">
            {#each card.rungs as rung, i (i)}
              <li class="grid grid-cols-[20px_126px_1fr] items-center border-b border-rule py-1">
                <span class="text-[13px] text-soft">{i + 1}</span><span class="dose text-[15px]"
                  >{rung.line}</span
                >
                <PulseTrain train={rung.train} width={176} height={16} seconds={longest} label={rung.line} />
              </li>
            {/each}
          </ol>
          <p class="mt-2 text-[13px] text-soft">
            Most a day: {clock(card.ceiling_s)} of {card.ceiling_basis === 'contraction'
              ? 'contraction'
              : 'hands-on time'}. Raised by {card.axes.join(', then ')}.
          </p>
          <h3 class="mt-4 border-b border-ink">Muscles</h3>
          <div class="mt-2 grid grid-cols-[150px_1fr] gap-4">
            <div class="h-[196px]">
              <FaceMap
                {view}
                {fills}
                fibres={false}
                headOnly={!onNeck(Object.keys(fills))}
                label="muscles of {card.name}"
              />
            </div>
            <div>
              <p>
                {card.prime_movers.map((m) => m.name).join(', ') || 'none trained'}{card.helpers.length
                  ? `; helped by ${card.helpers.map((m) => m.name).join(', ')}`
                  : ''}
              </p>
              <button
                class="mt-3 text-[13px] link"
                onclick={() => (view = view === 'facing' ? 'mirror' : 'facing')}
                >{view === 'facing'
                  ? 'facing you; turn to a mirror'
                  : 'as in a mirror; turn to facing you'}</button
              >
            </div>
          </div>
          <h3 class="mt-4 border-b border-ink">Needs</h3>
          <p class="mt-2">{card.position}{card.needs.length ? ` With: ${card.needs.join(', ')}.` : ''}</p>
          {#if card.after.length}<p class="mt-2">First: {card.after.map((a) => a.name).join(', ')}</p>{/if}
        </div>
      </div>
    </article>
    <aside class="grid content-start gap-4 border-l border-[#b9a8bd] pt-6 pl-4" aria-label="Margin">
      <Note weight="stop">{card.stop_rule}</Note>
      {#each card.cautions as c (c.about)}
        <Note weight={c.effect === 'lock' ? 'stop' : c.effect === 'ease' ? 'watch' : 'remark'}
          ><b>{c.about[0]?.toUpperCase()}{c.about.slice(1)}.</b> {c.text}</Note
        >
      {/each}
      <Note weight="remark">Helps with: {card.concerns.map((c) => c.name.toLowerCase()).join('; ')}.</Note>
    </aside>
  {/if}
</main>
