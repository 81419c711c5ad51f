<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import Explain from '$lib/parts/Explain.svelte'
  import type { Bench, Photo } from './bench.svelte'
  import { here } from '$lib/format'
  import Mark from '$lib/parts/Mark.svelte'

  /** What was found of a shot, the one to act on first standing first, and the questions that only a person can answer. */
  let { bench, photo, narrow = false }: { bench: Bench; photo: Photo; narrow?: boolean } = $props()
  let changing = $state(false)
  /** When it was taken, as a person says it; a file without its time says nothing. */
  let day = $state<string | null>('')
  let hour = $state<string | null>('')
  const when = $derived(day && hour ? `${day}T${hour}` : '')
  const waiting = $derived(photo.state === 'waiting' || photo.state === 'working')
  const hint = $derived(bench.view?.sittings.find((s) => s.hint)?.hint)
  const angles = $derived(bench.profile(photo))
  const twice = $derived(Math.max(0, ...angles.map((r) => r.pictures)))
  const left = $derived(bench.inOrder(photo).filter((n) => !bench.points(photo)[n]).length)
  const cannot = $derived(Object.keys(photo.unmeasured).length)
</script>

<div class="mt-1.5 text-small leading-[18px]">
  {#if waiting}
    <p role="status" class="flex items-center gap-2">
      <progress class="w-[90px]" aria-label="Measuring"></progress>{photo.state === 'waiting'
        ? 'waiting for the worker'
        : photo.step}
    </p>
  {:else if photo.state === 'refused'}
    <p class="flex gap-2">
      <Mark weight="stop" /><span
        >{photo.refusal}
        <button class="link" onclick={() => bench.remove(photo.id)}>Remove it</button></span
      >
    </p>
  {/if}
  {#if photo.asks_person}
    <p class="mb-1 flex gap-2">
      <Mark weight="stop" /><span
        ><b>Is this the same person?</b>
        <button class="link" onclick={() => bench.answer(photo.id, { same_person: true })}
          >Yes, the same</button
        >
        ·
        <button class="link" onclick={() => bench.answer(photo.id, { same_person: false })}>No</button></span
      >
    </p>
  {/if}
  {#if photo.asks_way}
    <p class="mb-1 flex gap-2">
      <Mark weight="stop" /><span
        ><b>Is it the right way round?</b>
        {hint ? `Check: ${hint}` : 'Check a mole, a parting, or letters on clothes.'}
        <button class="link" onclick={() => bench.answer(photo.id, { flipped: false })}>Right as it is</button
        >
        ·
        <button class="link" onclick={() => bench.answer(photo.id, { flipped: true })}
          >Mirrored, turn this sitting</button
        ></span
      >
    </p>
  {:else if photo.asks_flip}
    <p class="mb-1 flex gap-2">
      <Mark weight="stop" /><span
        ><b>It may be mirrored.</b>&#32;{#if hint}Check: {hint}{/if}
        <button class="link" onclick={() => bench.answer(photo.id, { flipped: true })}
          >Mirrored, turn it</button
        >
        ·
        <button class="link" onclick={() => bench.answer(photo.id, { flipped: false })}>Right as it is</button
        ></span
      >
    </p>
  {:else if photo.flipped}
    <p class="mb-1 text-soft">
      Mirrored file, shown and measured the right way round.
      <button class="link" onclick={() => bench.answer(photo.id, { flipped: false })}>It was right</button>
    </p>
  {/if}
  {#if !photo.confirmed && !waiting}
    <p class="mb-1 flex gap-2">
      <Mark weight="watch" /><span
        ><b>{photo.view_name}?</b>
        <button class="link" onclick={() => bench.answer(photo.id, { view: photo.view })}>Yes</button> ·
        <button class="link" onclick={() => (changing = true)}>Another view</button></span
      >
    </p>
  {/if}
  <ul>
    {#each photo.quality.filter((q) => q.weight !== 'fine') as q (q.id)}
      <li class="grid grid-cols-[17px_64px_1fr] gap-x-1">
        <Mark weight={q.weight} />
        <Explain text={q.why} class="self-start text-soft">{q.name}</Explain>
        <span>
          {q.found}{#if q.change}. <b>{q.change}</b>{/if}
        </span>
      </li>
    {/each}
  </ul>
  <ul class="grid gap-x-2 {narrow ? '' : 'grid-cols-2 md:max-lg:grid-cols-1'}">
    {#each photo.quality.filter((q) => q.weight === 'fine') as q (q.id)}
      <li class="grid grid-cols-[17px_55px_1fr] gap-x-1">
        <Mark weight="fine" />
        <Explain text={q.why} class="self-start text-soft">{q.name}</Explain>
        <span class="truncate">{q.found}</span>
      </li>
    {/each}
  </ul>
  {#if photo.taken_told === 'nobody' && !waiting}
    <form
      class="mt-1 flex items-center gap-2"
      onsubmit={(e) => {
        e.preventDefault()
        if (when) void bench.answer(photo.id, { taken_at: when })
      }}
    >
      <WhenField
        bind:value={day}
        class="field !min-h-chip w-[150px]"
        max={here()}
        aria-label="Day on which it was taken"
      />
      <WhenField
        type="time"
        bind:value={hour}
        class="field !min-h-chip w-[112px]"
        aria-label="Time at which it was taken"
      />
      <button class="link" disabled={!when}>Keep</button>
    </form>
  {/if}
  {#if bench.again === photo.id}
    <p class="mb-1" role="status">
      <b>Set the points once more.</b> The first ones are hidden; {left} of {bench.inOrder(photo).length} are left.
      <button class="link" onclick={() => bench.endAgain()}>Leave it</button>
    </p>
  {:else}
    {#each angles as r (r.id)}
      {@const figures = r.unit ? 1 : 2}
      <div class="border-b border-rule py-0.5">
        <span class="flex justify-between gap-2"
          ><Explain text={r.definition}>{r.name}</Explain><span
            ><b>{r.value === null ? 'points missing' : `${r.value.toFixed(figures)}${r.unit}`}</b
            >{#if r.value !== null}<span class="pl-1">±{r.band.toFixed(figures)}</span>{/if}</span
          ></span
        >
        {#if r.value !== null && r.again !== null}<span class="block text-note text-soft"
            >set again: {r.again.toFixed(figures)}{r.unit}, {Math.abs(r.again - r.value).toFixed(figures)} apart</span
          >{/if}
      </div>
    {/each}
    {#if angles.some((r) => r.value !== null)}
      <p class="mt-1 text-note text-soft">
        ± is the noise of setting the points{twice
          ? `, from ${twice} picture${twice === 1 ? '' : 's'} set twice here and the shipped study`
          : ', from the shipped study'}. How the head was held is not in it.
        <button class="link" onclick={() => bench.beginAgain(photo)}>Set them again, unseen</button>
      </p>
    {/if}
  {/if}
  {#if cannot}<Explain text={Object.values(photo.unmeasured)[0] ?? ''} class="mt-1 text-soft"
      >{cannot} reading{cannot === 1 ? '' : 's'} cannot be measured on this shot.</Explain
    >{/if}
  {#if changing}
    <label class="mt-1 block"
      >View <select
        class="pick"
        value={photo.view}
        onchange={(e) => {
          changing = false
          void bench.answer(photo.id, { view: e.currentTarget.value })
        }}
        >{#each bench.view?.protocol ?? [] as v (v.id)}<option value={v.id}>{v.name}</option>{/each}</select
      ></label
    >
  {:else if photo.confirmed && !waiting}
    <p class="mt-1 text-soft">
      {photo.view_name}, {photo.standing ??
        (photo.profile.length ? 'points set by hand' : 'kept to be looked at')}.
      <button class="link" onclick={() => (changing = true)}>Another view</button> ·
      <button class="link" onclick={() => bench.remove(photo.id)}>Remove</button>
    </p>
  {/if}
</div>
