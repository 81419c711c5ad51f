<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt } from '$lib/api/client'
  import { longDay } from '$lib/format'
  import MissingAnswers from '$lib/parts/MissingAnswers.svelte'
  import Note from '$lib/parts/Note.svelte'
  import { offer } from '$lib/parts/undo.svelte'
  import Calendar from './Calendar.svelte'
  import EndProgram from './EndProgram.svelte'
  import OnThePhone from './OnThePhone.svelte'
  import Others from './Others.svelte'
  import { Plan } from './plan.svelte'

  const plan = new Plan(page.params.id ?? '')
  let failed = $state('')
  let ending = $state(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  const days = [
    [1, 'Mon'],
    [2, 'Tue'],
    [3, 'Wed'],
    [4, 'Thu'],
    [5, 'Fri'],
    [6, 'Sat'],
    [7, 'Sun']
  ] as const
  const reminders = [
    [null, 'none'],
    [0, 'at the time'],
    [10, '10 minutes before'],
    [15, '15 minutes before'],
    [30, '30 minutes before'],
    [60, 'an hour before']
  ] as const
  const program = $derived(plan.program)
  const seen = $derived(plan.prepared.find((p) => p.client_id === plan.shown) ?? plan.prepared[0])
  const can = $derived(plan.prepared.filter((p) => !p.refusals.length))
  const at = $derived(plan.parts.length === 1 ? plan.part : null)

  onMount(async () => {
    await attempt(
      (why) => (failed = why),
      async () => {
        await plan.load()
      }
    )
  })
  function changed() {
    clearTimeout(timer)
    timer = setTimeout(() => void plan.look(), 150)
  }
  async function keep(event: SubmitEvent) {
    event.preventDefault()
    const to = await plan.keep()
    if (to) await goto(to)
  }
  /** It is ended; for a while it can be taken back from wherever the coach is. */
  async function ended(follows: string) {
    const [assignment, client, title] = [
      plan.running?.id ?? '',
      program?.client_id ?? '',
      program?.title ?? ''
    ]
    await goto(`/clients/${client}${follows === 'next' ? '#new-program' : ''}`)
    offer(`“${title}” is ended.`, async () => {
      const params = { path: { assignment_id: assignment } }
      await ask(api.POST('/api/assignments/{assignment_id}/end/take-back', { params }))
      await goto(`/programs/${plan.id}/assign`)
    })
  }
  function flip(day: number) {
    plan.weekdays = plan.weekdays.includes(day)
      ? plan.weekdays.filter((d) => d !== day)
      : [...plan.weekdays, day]
    changed()
  }
</script>

<svelte:head><title>Assign {program?.title ?? ''} · Dimbo</title></svelte:head>
{#if failed}<p role="alert" class="p-6 text-stop">{failed}</p>{/if}
{#if program}
  <main
    class="mx-auto grid max-w-frame grid-cols-[252px_minmax(0,1fr)_216px] gap-x-7 px-6 pt-4 pb-12 max-lg:grid-cols-1 max-sm:px-3"
  >
    <form id="wish" class="grid content-start gap-3 text-row" onsubmit={keep} oninput={changed}>
      <p class="text-row"><a class="link" href="/programs/{plan.id}">Back to the sheet</a></p>
      <label class="grid gap-1"
        ><b>{plan.changes ? 'Holds from' : 'First day'}</b><WhenField
          required
          min={plan.changes ? program.client_today : undefined}
          bind:value={plan.start}
        /></label
      >
      <label class="grid gap-1"
        ><b>Last day <span class="font-normal text-soft">if it ends earlier</span></b><WhenField
          min={plan.start}
          bind:value={plan.end}
        /></label
      >
      <fieldset>
        <legend class="font-bold">Weekdays</legend>
        <div class="mt-1 grid grid-cols-7 gap-1">
          {#each days as [n, name] (n)}<button
              type="button"
              class="min-h-chip rounded border-firm border-edge text-small aria-pressed:border-action aria-pressed:bg-action aria-pressed:text-sheet"
              aria-pressed={plan.weekdays.includes(n)}
              onclick={() => flip(n)}>{name}</button
            >{/each}
        </div>
        <p class="mt-1 text-small text-soft">
          {plan.weekdays.length ? 'Only on these days.' : 'No day chosen: uses the client’s own days.'}
        </p>
      </fieldset>
      {#if plan.parts.length === 1}
        <fieldset class="flex gap-4">
          <legend class="font-bold">Practised in the</legend>
          {#each ['morning', 'evening'] as const as p (p)}<label class="flex items-center gap-1.5"
              ><input type="radio" value={p} bind:group={plan.part} onchange={changed} />{p}</label
            >{/each}
        </fieldset>
      {/if}
      <div class="grid grid-cols-2 gap-3">
        {#if at !== 'evening'}<label class="grid gap-1"
            ><b>Morning at</b><WhenField type="time" bind:value={plan.morning} /></label
          >{/if}
        {#if at !== 'morning'}<label class="grid gap-1"
            ><b>Evening at</b><WhenField type="time" bind:value={plan.evening} /></label
          >{/if}
      </div>
      <label class="grid gap-1"
        ><b>Reminder</b><select class="field" bind:value={plan.remind} onchange={changed}
          >{#each reminders as [value, name] (name)}<option {value}>{name}</option>{/each}</select
        ></label
      >
      {#if plan.changes}
        <label class="grid gap-1"
          ><b>What the client reads about it</b><textarea
            class="field min-h-hand py-2"
            maxlength="400"
            bind:value={plan.reason}></textarea></label
        >
      {:else}<Others {plan} {changed} />{/if}
      {#if plan.changes}<button type="button" class="act act-quiet" onclick={() => (ending = true)}
          >End the program …</button
        >{/if}
    </form>
    <div>
      <div class="flex items-start gap-4">
        <div>
          <h1>{plan.changes ? 'Change' : 'Assign'} {program.title}</h1>
          <p class="mt-1 text-row text-soft">
            {#if seen}for {seen.client_name}, days and times of {seen.time_zone
                .split('/')
                .at(-1)
                ?.replaceAll('_', ' ')};
              {seen.sessions} sessions{seen.last_day ? ` up to ${longDay(seen.last_day)}` : ''}{/if}
          </p>
        </div>
        <button form="wish" class="ml-auto act shrink-0" disabled={plan.busy || !can.length}
          >{plan.changes
            ? `Use version ${program.version} from this day`
            : plan.others.length
              ? `Start ${can.length} of ${plan.prepared.length} together`
              : 'Assign'}</button
        >
      </div>
      {#if plan.problem}<p role="alert" class="mt-2 text-stop">{plan.problem}</p>{/if}
      {#if plan.prepared.length > 1}
        <div
          class="mt-3 flex flex-wrap gap-x-5 gap-y-1 border-b border-rule"
          role="group"
          aria-label="Whose calendar"
        >
          {#each plan.prepared as p (p.client_id)}<button
              class="border-b-2 pb-1 text-row {p.client_id === seen?.client_id
                ? 'border-action font-bold'
                : 'border-transparent text-soft'}"
              aria-pressed={p.client_id === seen?.client_id}
              onclick={() => (plan.shown = p.client_id)}
              >{p.client_name}{p.refusals.length ? ', not yet' : ''}</button
            >{/each}
        </div>
      {/if}
      <div class="mt-3">
        {#if seen?.weeks.length}<Calendar prepared={seen} both={plan.parts.length > 1} />
        {:else if seen}<p class="text-soft">No session lies between these days.</p>
        {:else}<p class="text-soft" role="status">Laying out the calendar …</p>{/if}
      </div>
    </div>
    <aside
      class="border-l border-edge-soft pt-2 pl-4 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
      aria-label="Margin"
    >
      {#if seen?.first}<OnThePhone
          first={seen.first}
          time={(seen.first.part === 'evening' ? plan.evening : plan.morning) || ''}
          remind={plan.remind}
          name={seen.client_name.split(' ')[0] ?? ''}
          words={plan.changes ? plan.reason : ''}
        />{/if}
      <div class="grid gap-5">
        {#each seen?.refusals ?? [] as refusal (refusal)}<Note weight="stop">{refusal}</Note>{/each}
        {#if seen?.unasked}<div class="pl-6 text-small"><MissingAnswers client={seen.client_id} /></div>{/if}
        {#each seen?.remarks ?? [] as remark (remark)}<Note weight="watch">{remark}</Note>{/each}
        {#each plan.prepared.filter((p) => p.client_id !== seen?.client_id && p.refusals.length) as p (p.client_id)}
          <Note weight="watch">{p.client_name} cannot start yet: {p.refusals[0]}</Note>
        {/each}
        {#if seen && !seen.refusals.length}<Note weight="fine"
            >No conflicts. Minutes are those of the exercises; changing over comes on top.</Note
          >{/if}
        {#if plan.running && program.version > plan.running.version}<Note weight="remark"
            >Version {plan.running.version} holds now, version {program.version} is the newest. What was practised
            stays as it was.</Note
          >{/if}
        {#if seen?.weeks.some((w) => w.days.some((d) => d.beside_s))}<Note weight="watch"
            >On some days another program asks for time too. Both are practised as one session, and share the
            daily ceilings.</Note
          >{/if}
        <Note weight="remark"
          >Usual cautions apply: pain means stop. Where a clinician treats the face, their word comes first.</Note
        >
      </div>
    </aside>
  </main>
  {#if plan.running}<EndProgram
      bind:open={ending}
      assignment={plan.running.id}
      title={program.title}
      name={(seen?.client_name ?? '').split(' ')[0] || 'The client'}
      done={ended}
    />{/if}
{:else if !failed}<p class="p-6 text-soft" role="status">Reading the program …</p>{/if}
