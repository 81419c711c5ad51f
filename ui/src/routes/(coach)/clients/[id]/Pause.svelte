<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { longDay } from '$lib/format'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { later } from '$lib/parts/undo.svelte'

  /** A pause or a holiday, and its end; says what its length means for the doses. */
  let {
    open = $bindable(false),
    course,
    done
  }: { open?: boolean; course: Schemas['CourseView']; done: () => Promise<void> } = $props()
  let first = $derived(course.today)
  let last = $state('')
  let reason = $state('')
  let on = $derived(course.today)
  let problem = $state('')
  const current = $derived(course.pauses.find((p) => p.last_day === null || p.last_day >= course.today))
  const days = $derived(
    last && first ? Math.round((Date.parse(last) - Date.parse(first)) / 86_400_000) + 1 : 0
  )
  const rule = $derived(
    days < 7
      ? 'Under 7 days the program just goes on.'
      : days < 21
        ? 'After 7 to 20 days it goes on one rung back for a week; then the week that was left comes again.'
        : 'After 21 days or more it begins again on its first rung.'
  )

  async function tried(work: () => Promise<unknown>) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await work()
        await done()
        open = false
      }
    )
  }
  const path = $derived({ client_id: course.id })

  /** What the end of a pause lays out cannot be taken back, so it is only done when nobody has. */
  function resume() {
    const [params, body, said] = [{ path: { client_id: course.id } }, { on }, done]
    open = false
    later(
      `pause ${course.id}`,
      `The pause of ${course.name} ends; practice goes on ${longDay(on)}.`,
      async (leaving) => {
        await ask(api.POST('/api/clients/{client_id}/resume', { params, body, keepalive: leaving }))
        if (!leaving) await said()
      },
      { path: `/api/clients/${course.id}/resume`, body }
    )
  }
</script>

<Dialog bind:open title="Pause for {course.name}">
  {#if current}
    <p>
      Paused from {longDay(current.first_day)}{current.last_day
        ? ` to ${longDay(current.last_day)}`
        : ', without an end'}{current.reason ? `: ${current.reason}` : '.'}
    </p>
    <form
      class="mt-3 grid gap-3"
      onsubmit={(e) => {
        e.preventDefault()
        resume()
      }}
    >
      <label class="grid gap-1"
        >Practice goes on<WhenField required min={course.today} bind:value={on} /></label
      >
      {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
      <button class="act">Let it go on</button>
    </form>
  {:else}
    <form
      class="grid gap-3"
      onsubmit={(e) => {
        e.preventDefault()
        void tried(() =>
          ask(
            api.POST('/api/clients/{client_id}/pause', {
              params: { path },
              body: { first, last: last || null, reason }
            })
          )
        )
      }}
    >
      <div class="grid grid-cols-2 gap-3">
        <label class="grid gap-1">First day<WhenField required bind:value={first} /></label>
        <label class="grid gap-1">Last day, if known<WhenField min={first} bind:value={last} /></label>
      </div>
      <label class="grid gap-1">Why<input class="field" maxlength="400" bind:value={reason} /></label>
      <p class="text-row">
        {days ? `${days} days. ${rule}` : 'It lasts until you end it. ' + rule} Paused days count for and against
        nobody.
      </p>
      {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
      <button class="act">Pause</button>
    </form>
  {/if}
</Dialog>
