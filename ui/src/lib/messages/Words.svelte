<script lang="ts">
  import { api, ask } from '$lib/api/client'
  import { onMount } from 'svelte'
  import { longDay, shortDay } from '$lib/format'
  import type { Days } from '$lib/offline/db'
  import { days } from '$lib/offline/days.svelte'
  import { handIn, put, queue } from '$lib/offline/queue.svelte'
  import SignsLink from '$lib/safety/SignsLink.svelte'

  /** Messages between client and coach, beside the day's session or one of its exercises. */
  let { view, exercises, day }: { view: Days; exercises: [string, string][]; day: string | null } = $props()
  let text = $state('')
  let about = $state('')
  const names = $derived(new Map(exercises))
  const all = $derived([
    ...view.messages,
    ...queue.waiting.flatMap(({ entry }) =>
      entry.kind === 'message'
        ? [
            {
              ...entry,
              by_coach: false,
              author: view.name,
              read_at: null,
              about_day: null,
              exercise_id: entry.exercise_id ?? null
            }
          ]
        : []
    )
  ])
  let every = $state(false)
  const FEW = 12
  const shown = $derived(every ? all : all.slice(-FEW))

  onMount(() => {
    // What the coach wrote has been seen now; it does not matter when this does not get through.
    if (view.messages.some((m) => m.by_coach && !m.read_at))
      ask(api.POST('/api/my-messages/read')).then(
        () => {
          const now = new Date().toISOString()
          for (const m of days.view?.messages ?? []) if (m.by_coach) m.read_at ??= now
        },
        () => undefined
      )
  })

  async function send(event: SubmitEvent) {
    event.preventDefault()
    if (!text.trim()) return
    await put({
      kind: 'message',
      id: crypto.randomUUID(),
      text: text.trim(),
      about_day: about === 'day' ? day : null,
      exercise_id: about && about !== 'day' ? about : null,
      written_at: new Date().toISOString()
    })
    text = ''
    void handIn()
  }
</script>

<section class="mt-2" aria-label="Messages with your coach">
  <p class="text-soft">You and {view.coach_name || 'your coach'}</p>
  {#if all.length > FEW && !every}<button class="min-h-touch link" onclick={() => (every = true)}
      >Show the {all.length - FEW} before these</button
    >{/if}
  <ul class="mt-1">
    {#each shown as m (m.id)}
      <li class="border-b border-rule py-2">
        <p class="text-base text-soft">
          {m.by_coach ? view.coach_name || 'Your coach' : 'You'}, {shortDay(
            m.written_at.slice(0, 10)
          )}{m.exercise_id ? `, on ${names.get(m.exercise_id) ?? 'an exercise'}` : ''}{m.about_day
            ? `, on ${longDay(m.about_day)}`
            : ''}
        </p>
        <p class={m.by_coach ? 'font-semibold' : ''}>{m.text}</p>
      </li>
    {:else}<li class="py-2 text-soft">Nothing yet. Ask here what you would ask in the studio.</li>{/each}
  </ul>
  <form class="mt-3 grid gap-2" onsubmit={send}>
    <textarea
      class="field min-h-wet py-2"
      aria-label="Write to your coach"
      placeholder="Write to your coach"
      maxlength="2000"
      bind:value={text}></textarea>
    {#if text}
      <label class="grid gap-1 text-lead"
        >About
        <select class="field min-h-press" bind:value={about}>
          <option value="">nothing in particular</option>
          {#if day}<option value="day">today’s session</option>{/if}
          {#each exercises as [id, name] (id)}<option value={id}>{name}</option>{/each}
        </select></label
      >
      <button class="act min-h-press">Send</button>
      <SignsLink {view} words="Something sudden? Do not write, touch here" />
    {/if}
  </form>
</section>
