<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, words } from '$lib/api/client'
  import type { Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'

  /** Words with the client; opening the page reads them. */
  let { course, names }: { course: Schemas['CourseView']; names: Map<string, string> } = $props()
  let all = $state<Schemas['MessageView'][]>([])
  let text = $state('')
  let problem = $state('')
  let more = $state(false)
  const path = $derived({ client_id: course.id })
  const shown = $derived(more ? all : all.slice(-4))

  async function read() {
    try {
      all = await ask(api.GET('/api/clients/{client_id}/messages', { params: { path } }))
    } catch (error) {
      problem = words(error)
    }
  }
  onMount(read)

  async function send(event: SubmitEvent) {
    event.preventDefault()
    if (!text.trim()) return
    problem = ''
    try {
      const body = { id: crypto.randomUUID(), text: text.trim() }
      await ask(api.POST('/api/clients/{client_id}/messages', { params: { path }, body }))
      text = ''
      await read()
    } catch (error) {
      problem = words(error)
    }
  }
</script>

<section class="mt-7 max-w-[760px]" aria-label="Words with {course.name}">
  <div class="flex items-baseline gap-4">
    <h2>Words with {course.name.split(' ')[0]}</h2>
    {#if all.length > 4}<button class="text-[14px] link" onclick={() => (more = !more)}
        >{more ? 'the newest' : `all ${all.length}`}</button
      >{/if}
  </div>
  <ul class="mt-1 text-[14px]">
    {#each shown as m (m.id)}
      <li class="grid grid-cols-[150px_1fr] gap-3 border-b border-rule py-1.5">
        <span class="text-soft"
          >{m.by_coach ? m.author : course.name.split(' ')[0]}, {shortDay(m.written_at.slice(0, 10))}</span
        >
        <span
          >{#if m.exercise_id}<b>{names.get(m.exercise_id) ?? m.exercise_id}:</b>
          {/if}{#if m.about_day}<b>{shortDay(m.about_day)}:</b>
          {/if}{m.text}{#if m.by_coach && !m.read_at}<span class="text-soft"> (not read yet)</span>{/if}</span
        >
      </li>
    {:else}<li class="py-1.5 text-soft">Nothing was written yet.</li>{/each}
  </ul>
  <form class="mt-2 flex gap-2" onsubmit={send}>
    <input
      class="field"
      placeholder="Write to {course.name.split(' ')[0]}; it stands on their day"
      aria-label="Write to {course.name}"
      maxlength="2000"
      bind:value={text}
    /><button class="act act-quiet" disabled={!text.trim()}>Send</button>
  </form>
  {#if problem}<p role="alert" class="mt-1 text-stop">{problem}</p>{/if}
</section>
