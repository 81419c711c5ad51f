<script lang="ts">
  import { goto } from '$app/navigation'
  import { api, ask, words } from '$lib/api/client'
  import { clock, longDay } from '$lib/format'
  import Sheet from '$lib/parts/Sheet.svelte'
  import type { SheetEditor } from '$lib/sheet/editor.svelte'

  let { open = $bindable(false), editor }: { open?: boolean; editor: SheetEditor } = $props()
  let start = $derived(editor.clientToday)
  let problem = $state('')
  let running = $state('')

  const week = $derived(editor.sheet?.weeks ?? [])

  async function assign(event: SubmitEvent) {
    event.preventDefault()
    problem = ''
    try {
      if (editor.saving !== 'saved' && !(await editor.save())) return
      await ask(
        api.POST('/api/programs/{program_id}/assignment', {
          params: { path: { program_id: editor.id } },
          body: { start }
        })
      )
      await goto(`/clients/${editor.clientId}`)
    } catch (error) {
      problem = words(error)
      const course = await ask(
        api.GET('/api/clients/{client_id}', { params: { path: { client_id: editor.clientId ?? '' } } })
      )
      running = course.assignment?.running ? course.assignment.id : ''
    }
  }

  async function end() {
    await ask(
      api.POST('/api/assignments/{assignment_id}/end', { params: { path: { assignment_id: running } } })
    )
    running = ''
    problem = ''
  }
</script>

<Sheet bind:open title="Assign to {editor.clientName}">
  <form class="grid gap-3" onsubmit={assign}>
    <label class="grid gap-1">First day<input class="field" type="date" required bind:value={start} /></label>
    <p class="text-[14px]">
      From {start ? longDay(start) : '…'} for {editor.document.weeks} weeks:
      {#each week as w (w.number)}<span class="block"
          >week {w.number}: {w.days}{w.days === 'daily' || w.days === 'every other day' ? '' : ' a week'}, {w.plans
            .map((p) => `${clock(p.seconds)}${(editor.sheet?.parts.length ?? 1) > 1 ? ` ${p.when}` : ''}`)
            .join(', ')}</span
        >{/each}
    </p>
    <p class="text-[13px] text-soft">
      Usual cautions apply: pain means stop. Where a clinician treats the face, their word comes first.
    </p>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    {#if running}<button type="button" class="act act-quiet" onclick={end}
        >End the running program today</button
      >{/if}
    <button class="act">Assign</button>
  </form>
</Sheet>
