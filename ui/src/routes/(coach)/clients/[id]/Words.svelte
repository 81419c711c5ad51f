<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt } from '$lib/api/client'
  import type { Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import Unread from '$lib/parts/Unread.svelte'

  /** Messages with the client; opening the page reads them. */
  let { course, names, week }: { course: Schemas['CourseView']; names: Map<string, string>; week: number } =
    $props()
  let all = $state<Schemas['MessageView'][]>([])
  let text = $state('')
  let problem = $state('')
  let more = $state(false)
  let about = $state('')
  const days = $derived(course.days.filter((d) => d.week === week && d.state !== 'future'))
  const exercises = $derived([...names].sort((a, b) => a[1].localeCompare(b[1])))
  const path = $derived({ client_id: course.id })
  const shown = $derived(more ? all : all.slice(-4))

  async function read() {
    await attempt(
      (why) => (problem = why),
      async () => {
        all = await ask(api.GET('/api/clients/{client_id}/messages', { params: { path } }))
        if (all.some((m) => !m.by_coach && !m.read_at))
          await ask(api.POST('/api/clients/{client_id}/messages/read', { params: { path } }))
      }
    )
  }
  onMount(read)

  async function send(event: SubmitEvent) {
    event.preventDefault()
    if (!text.trim()) return
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const day = /^\d{4}-\d\d-\d\d$/.test(about) ? about : null
        const body = {
          id: crypto.randomUUID(),
          text: text.trim(),
          about_day: day,
          exercise_id: about && !day ? about : null
        }
        await ask(api.POST('/api/clients/{client_id}/messages', { params: { path }, body }))
        text = about = ''
        await read()
      }
    )
  }
</script>

<section class="mt-7 max-w-page" aria-label="Messages with {course.name}">
  <div class="flex items-baseline gap-4">
    <h2>Messages with {course.name.split(' ')[0]}</h2>
    {#if all.length > 4}<button class="text-row link" onclick={() => (more = !more)}
        >{more ? 'the newest' : `all ${all.length}`}</button
      >{/if}
  </div>
  <ul class="mt-1 text-row">
    {#each shown as m (m.id)}
      <li class="grid grid-cols-[150px_1fr] gap-3 border-b border-rule py-1.5">
        <span class="text-soft"
          >{m.by_coach ? m.author : course.name.split(' ')[0]}, {shortDay(m.written_at.slice(0, 10))}</span
        >
        <span
          >{#if m.exercise_id}<b>{`${names.get(m.exercise_id) ?? m.exercise_id}: `}</b
            >{/if}{#if m.about_day}<b>{`${shortDay(m.about_day)}: `}</b
            >{/if}{m.text}{#if m.by_coach && !m.read_at}<span class="text-soft">
              (not read yet)</span
            >{/if}</span
        >
      </li>
    {:else}<li class="py-1.5 text-soft">Nothing was written yet.</li>{/each}
  </ul>
  <div class="mt-2"><Unread names={course.has_account ? [] : [course.name]} /></div>
  <form class="flex gap-2" onsubmit={send}>
    <input
      id="words"
      class="field"
      {@attach (field) => {
        if (location.hash === '#words') field.focus()
      }}
      placeholder="Write to {course.name.split(' ')[0]}; it stands on their day"
      aria-label="Write to {course.name}"
      maxlength="2000"
      bind:value={text}
    />
    <select class="field max-w-label" aria-label="What it is about" bind:value={about}>
      <option value="">in general</option>
      <optgroup label="a session of week {week}">
        {#each days as d (d.day)}<option value={d.day}>{shortDay(d.day)}</option>{/each}
      </optgroup>
      <optgroup label="an exercise">
        {#each exercises as [id, name] (id)}<option value={id}>{name}</option>{/each}
      </optgroup>
    </select><button class="act act-quiet" disabled={!text.trim()}>Send</button>
  </form>
  {#if problem}<p role="alert" class="mt-1 text-stop">{problem}</p>{/if}
</section>
