<script lang="ts">
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { longDay } from '$lib/format'

  /** What was removed and can still be brought back, with the day from which it is gone for good. */
  let {
    kind,
    client,
    name,
    changed,
    of = 0
  }: {
    kind: 'photographs' | 'programs' | 'templates'
    client?: string
    /** What one of them is called, and several. */
    name: [string, string]
    changed: () => Promise<unknown>
    /** Anything that changes when something may have been removed, to look again. */
    of?: unknown
  } = $props()
  let rows = $state.raw<Schemas['RemovedView'][]>([])
  let problem = $state('')

  async function load() {
    await attempt(
      (why) => (problem = why),
      async () => {
        rows = await ask(
          api.GET('/api/removed/{kind}', {
            params: { path: { kind }, query: client ? { client_id: client } : {} }
          })
        )
      }
    )
  }
  $effect(() => {
    void of
    void load()
  })
  async function back(id: string) {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/{kind}/{row_id}/bring-back', { params: { path: { kind, row_id: id } } }))
        await changed()
        await load()
      }
    )
  }
</script>

{#if problem}<p role="alert" class="mt-3 text-row text-stop">{problem}</p>{/if}
{#if rows.length}
  <details class="mt-4 text-row">
    <summary class="py-1 link"
      >{rows.length} removed {rows.length === 1 ? name[0] : name[1]}, kept for 30 days</summary
    >
    <ul class="mt-1 grid gap-1">
      {#each rows as r (r.id)}<li class="flex gap-3">
          <span class="font-semibold">{r.name || 'without a name'}</span><span class="text-soft"
            >removed on {longDay(r.removed_at.slice(0, 10))}, gone for good on {longDay(
              r.gone_at.slice(0, 10)
            )}</span
          ><button class="link" onclick={() => back(r.id)}>Bring it back</button>
        </li>{/each}
    </ul>
  </details>
{/if}
