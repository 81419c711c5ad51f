<script lang="ts">
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import Mark from '$lib/parts/Mark.svelte'
  import Portrait from '$lib/signature/Portrait.svelte'

  let {
    photo,
    who,
    removed
  }: { photo: Schemas['PhotographView']; who: string; removed: () => Promise<void> } = $props()
  let problem = $state('')
  const waiting = $derived(photo.state === 'waiting' || photo.state === 'working')

  async function remove() {
    try {
      await ask(
        api.DELETE('/api/photographs/{photograph_id}', { params: { path: { photograph_id: photo.id } } })
      )
      await removed()
    } catch (error) {
      problem = words(error)
    }
  }
</script>

<figure>
  <Portrait {photo} {who} />
  <figcaption class="mt-1.5 text-[13px]">
    <span class="flex justify-between gap-2"
      ><span class="truncate">{photo.source_name}</span>{#if photo.taken_at}<span class="text-soft"
          >{photo.taken_at.slice(11, 16)}</span
        >{/if}</span
    >
    {#if waiting}<p role="status" class="mt-1 flex items-center gap-2">
        <progress class="w-[90px]" aria-label="Measuring"></progress>{photo.state === 'waiting'
          ? 'waiting for the worker'
          : photo.step}
      </p>{/if}
    {#if photo.refusal}
      <p class="mt-1 flex gap-2">
        <Mark weight="stop" /><span
          >{photo.refusal} <button class="link" onclick={remove}>Remove</button></span
        >
      </p>
    {/if}
    {#if photo.quality}
      <dl class="mt-1 grid grid-cols-[18px_56px_1fr] gap-x-1">
        {#each photo.quality as q (q.name)}
          <Mark weight={q.weight} />
          <dt class="text-soft">{q.name}</dt>
          <dd>
            {q.found}{#if q.change}. <b>{q.change}</b>{/if}
          </dd>
        {/each}
      </dl>
    {/if}
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  </figcaption>
</figure>
