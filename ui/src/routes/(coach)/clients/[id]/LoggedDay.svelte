<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { clock, timeAt } from '$lib/format'

  /** The logs of a day to the side and second, those that no longer stand too. */
  let { id, day, zone }: { id: string; day: string; zone: string } = $props()
  let logs = $state<Schemas['LoggedSession'][] | null>(null)
  let problem = $state('')
  onMount(async () => {
    await attempt(
      (why) => (problem = why),
      async () => {
        logs = await ask(
          api.GET('/api/clients/{client_id}/logs/{day}', { params: { path: { client_id: id, day } } })
        )
      }
    )
  })
  const at = (iso: string) => timeAt(iso, zone)
  const outcomes = { done: 'done', partly: 'partly', skipped: 'skipped', hurt: 'hurt' }
  function sides(item: Schemas['LoggedItem']): string {
    const told = item.sides.map((s) => ({
      side: s.side as string,
      text: `${s.done_sets} of ${s.planned_sets} set${s.planned_sets === 1 ? '' : 's'}, ${clock(s.done_s)} of ${clock(s.planned_s)}`
    }))
    const [first, second] = told
    const alike = first && second && first.text === second.text
    return (alike ? [{ side: 'both sides', text: first.text }] : told)
      .map((t) => `${t.side} ${t.text}`)
      .join('; ')
  }
</script>

{#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
{#each logs ?? [] as log (log.id)}
  <div class="mb-2 border-l-2 pl-3 {log.stands ? 'border-ink' : 'border-rule text-soft'}">
    <p class="text-small">
      <b>{at(log.started_at)} to {at(log.ended_at)}</b>, {log.part}, {log.source === 'player'
        ? 'played'
        : 'told by hand'}{log.pauses
        ? `, ${log.pauses} pause${log.pauses > 1 ? 's' : ''} of ${clock(log.paused_s)} in all`
        : ''}{log.form ? `, felt in the right place: ${log.form}` : ''}{log.clock_off_s
        ? `, the phone’s clock was ${clock(Math.abs(log.clock_off_s))} off`
        : ''}{log.stands ? '' : '. Another log stands in its place'}
    </p>
    <table class="mt-1 w-full text-small">
      <tbody>
        {#each log.items as item, n (n)}
          <tr class="align-top {item.outcome === 'hurt' ? 'text-stop' : ''}">
            <td class="w-[210px] pr-2">{item.name}</td>
            <td class="w-[118px]">{clock(item.done_s)} of {clock(item.planned_s)}</td>
            <td class="w-[66px]">{outcomes[item.outcome]}</td>
            <td
              >{sides(item)}{item.eased ? '; easier version' : ''}{item.skip_reason
                ? `; ${item.skip_reason}`
                : ''}{item.pauses ? `; paused ${clock(item.paused_s)}` : ''}{item.pain_level !== null
                ? `; ${item.pain_level} of 10, ${item.pain_side} ${item.pain_where}`
                : ''}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{:else}{#if logs}<p class="text-small text-soft">Nothing was logged.</p>{/if}{/each}
