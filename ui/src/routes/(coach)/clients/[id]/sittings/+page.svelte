<script lang="ts">
  import { page } from '$app/state'
  import { onDestroy, onMount } from 'svelte'
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { addDays, shortDay } from '$lib/format'
  import Note from '$lib/parts/Note.svelte'
  import { deliver, drop, take, uploads } from '$lib/parts/uploads.svelte'
  import { session } from '$lib/session.svelte'
  import ClientHead from '../ClientHead.svelte'
  import Shot from './Shot.svelte'
  import Values from './Values.svelte'

  const id = page.params.id ?? ''
  const path = { client_id: id }
  let view = $state<Schemas['SittingsView'] | null>(null)
  let chosen = $state('')
  let problem = $state('')
  let shooting = $state(false)
  let files = $state<HTMLInputElement>()
  let timer: ReturnType<typeof setTimeout> | undefined

  const sitting = $derived(view?.sittings.find((s) => s.id === chosen) ?? view?.sittings.at(-1))
  const last = $derived(view?.sittings.at(-1))
  const baseline = $derived(view?.sittings.find((s) => s.readings.length))
  const busy = $derived(
    view?.sittings.some((s) => s.photographs.some((p) => p.state === 'waiting' || p.state === 'working')) ??
      false
  )

  async function load() {
    clearTimeout(timer)
    try {
      view = await ask(api.GET('/api/clients/{client_id}/sittings', { params: { path } }))
      if (busy) timer = setTimeout(load, 400)
    } catch (error) {
      problem = words(error)
    }
  }
  onMount(load)
  onDestroy(() => clearTimeout(timer))

  const today = () => new Date().toISOString().slice(0, 10)

  async function open(): Promise<string> {
    const made = await ask(
      api.POST('/api/clients/{client_id}/sittings', {
        params: { path },
        body: { taken_on: today(), note: '' }
      })
    )
    await load()
    chosen = made.id
    return made.id
  }

  async function send(list: File[]) {
    problem = ''
    try {
      const target = sitting?.taken_on === today() ? sitting.id : await open()
      chosen = target
      await take(target, list, load)
    } catch (error) {
      problem = words(error)
    }
  }

  async function shoot() {
    shooting = true
    try {
      const answer = await fetch(`/api/clients/${id}/stand-in-shot.jpg?seed=${Date.now() % 1_000_000}`)
      if (!answer.ok) throw new Error('The stand-in camera did not answer.')
      await send([
        new File(
          [await answer.blob()],
          `stand-in ${new Date().toTimeString().slice(0, 8).replaceAll(':', '-')}.jpg`
        )
      ])
    } catch (error) {
      problem = words(error)
    } finally {
      shooting = false
    }
  }
</script>

<svelte:head><title>Sittings{view ? ` of ${view.client_name}` : ''} · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-[1280px] grid-cols-[minmax(0,1002px)_216px] gap-x-7 px-6 pb-12">
  <div class="pt-4">
    {#if view}
      <div class="flex items-end">
        <div class="grow"><ClientHead name={view.client_name} {id} place="sittings" /></div>
        <div class="flex gap-3">
          {#if session.me?.stand_in_camera}<button
              class="act act-quiet"
              disabled={shooting || !view.may_keep}
              onclick={shoot}>{shooting ? 'Taking it …' : 'Take with stand-in camera'}</button
            >{/if}
          <button class="act" disabled={!view.may_keep} onclick={() => files?.click()}
            >Upload photographs</button
          >
          <input
            bind:this={files}
            type="file"
            multiple
            accept="image/jpeg,image/png,image/webp,image/heic,.heic"
            class="hidden"
            aria-label="Photographs"
            onchange={(e) => void send([...(e.currentTarget.files ?? [])])}
          />
        </div>
      </div>
      <div class="mt-4 flex flex-wrap gap-3" role="tablist" aria-label="Sittings">
        {#each view.sittings as s, i (s.id)}
          {@const first = s.photographs.find((p) => p.state === 'measured') ?? s.photographs[0]}
          <button
            role="tab"
            aria-selected={s.id === sitting?.id}
            onclick={() => (chosen = s.id)}
            class="flex items-center gap-2 border-b-[3px] pr-3 pb-1 text-left {s.id === sitting?.id
              ? 'border-action'
              : 'border-transparent'}"
          >
            {#if first}<img
                src="/api/photographs/{first.id}/small.jpg"
                alt=""
                class="h-[46px] w-[35px] object-cover"
              />{/if}
            <span class="text-[13px] leading-[16px]"
              ><b class="block">{shortDay(s.taken_on)}</b>{i === 0
                ? 'baseline'
                : `${s.photographs.length} shots`}</span
            >
          </button>
        {/each}
      </div>
      {#each uploads.list as u (u.id)}
        <div class="mt-3 flex items-center gap-3" role="status">
          <span class="w-[240px] truncate">{u.name}</span>
          {#if u.problem}
            <span class="text-stop">{u.problem}</span>
            {#if sitting}<button class="link" onclick={() => deliver(sitting.id, u, load)}>Send again</button
              >{/if}
            <button class="link" onclick={() => drop(u)}>Leave it</button>
          {:else}<progress max="1" value={u.sent} aria-label="Sending {u.name}"></progress><span
              class="text-soft">sending {Math.round(u.sent * 100)} %</span
            >{/if}
        </div>
      {/each}
      {#if problem}<p role="alert" class="mt-3 text-stop">{problem}</p>{/if}
      {#if sitting}
        <div class="mt-4 grid grid-cols-[1fr_380px] gap-6">
          <div class="grid grid-cols-2 content-start gap-4">
            {#each sitting.photographs as photo (photo.id)}
              <Shot {photo} who={view.client_name} removed={load} />
            {:else}<p class="col-span-2 text-soft">
                No photograph in this sitting yet. Take the front neutral view, three shots.
              </p>{/each}
          </div>
          <Values {sitting} baseline={baseline && baseline.id !== sitting.id ? baseline : undefined} />
        </div>
      {:else}
        <p class="mt-6 max-w-[60ch]">
          No sitting yet. Upload a front view with a neutral face, light from the front, lens at eye height,
          at least 60 cm away. Three shots say more than one.
        </p>
      {/if}
    {:else if problem}<p role="alert" class="text-stop">{problem}</p>{:else}<p class="text-soft">
        Reading the sittings …
      </p>{/if}
  </div>
  <aside class="grid content-start gap-4 border-l border-[#b9a8bd] pt-6 pl-4" aria-label="Margin">
    {#if view && !view.may_keep}
      <Note weight="stop"
        >{view.client_name.split(' ')[0]} has not agreed that photographs are kept. {view.consent}
        <a class="link" href="/clients/{id}/intake#consent">Ask for it</a></Note
      >
    {/if}
    <Note weight="remark"
      >The client’s right is at your left. Photographs are shown unmirrored and never retouched.</Note
    >
    <Note weight="remark"
      >Front neutral: lips just touching, hair back, no make-up, same place, same light and the same time of
      day as the baseline.</Note
    >
    <Note weight="watch"
      >The detector reads left-right differences smaller than they are, about half to two thirds. Directions
      can be trusted; sizes are at least what is shown.</Note
    >
    {#if sitting && sitting.readings[0] && sitting.readings[0].shots < 3}
      <Note weight="remark">{sitting.readings[0].shots} of 3 shots. More shots narrow the noise.</Note>
    {/if}
    {#if last}<Note weight="remark"
        >Most coaches look for change after 2 to 4 weeks, and really look after 8 to 12. Next: {shortDay(
          addDays(last.taken_on, 28)
        )} or later.</Note
      >{/if}
  </aside>
</main>
