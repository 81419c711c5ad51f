<script lang="ts">
  import { attempt, type Schemas } from '../api/client'
  import Dialog from '../parts/Dialog.svelte'
  import Unread from '../parts/Unread.svelte'
  import type { Desk } from './desk.svelte'

  /** What can be done for several clients at once: words of the reason to each, one message to all, tomorrow, or seen. */
  let { desk }: { desk: Desk } = $props()
  let open = $state(false)
  let own = $state(true)
  let text = $state('')
  let problem = $state('')
  /** One id a client, kept while the dialog is open, so that trying again sends nothing twice. */
  let ids = $state<Record<string, string>>({})
  const rows = $derived(desk.together)
  const words = (r: Schemas['DeskRow']) => (own ? (r.alarms[0]?.first_words ?? '') : text.trim())
  const first = (r: Schemas['DeskRow']) => r.name.split(' ')[0]
  let written = $state<Record<string, string>>({})

  function begin(each: boolean) {
    own = each
    problem = ''
    text = ''
    ids = Object.fromEntries(rows.map((r) => [r.id, crypto.randomUUID()]))
    written = Object.fromEntries(rows.map((r) => [r.id, words(r)]))
    open = true
  }
  /** Nobody is sent a greeting and nothing else. */
  const bare = (t = '') => /^(Dear [^,]*,)?$/.test(t.trim())
  const empty = $derived(own ? rows.some((r) => bare(written[r.id])) : bare(text))
  async function send(event: SubmitEvent) {
    event.preventDefault()
    if (empty || desk.going) return
    await attempt(
      (why) => (problem = why),
      async () => {
        await desk.send(
          rows.map((row) => ({
            row,
            id: ids[row.id] ?? crypto.randomUUID(),
            text: own ? (written[row.id] ?? '').trim() : text.trim()
          }))
        )
        open = false
      }
    )
  }
</script>

<div
  class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 border-y-2 border-action bg-sheet px-2 py-1 text-row"
  role="toolbar"
  aria-label="Those who are chosen"
>
  <b
    >{rows.length} chosen{#if desk.going}: {desk.going.done} of {desk.going.of} done{/if}</b
  >
  <button class="act min-h-chip text-row" onclick={() => begin(true)}
    >Remind each in words of the reason …</button
  >
  <button class="act min-h-chip text-row act-quiet" onclick={() => begin(false)}>One message to all …</button>
  <button class="link" onclick={() => desk.settle(rows, true)}>Put off until tomorrow</button>
  <button class="link" onclick={() => desk.settle(rows, false)}>Mark as seen</button>
  <button class="ml-auto link" onclick={() => (desk.picked = [])}>Choose none</button>
</div>

<Dialog bind:open title={own ? 'A reminder to each' : 'One message to all'} width={640}>
  <form onsubmit={send}>
    <Unread names={rows.filter((r) => !r.has_account).map((r) => r.name)} />
    {#if own}
      {#each rows as r (r.id)}<label class="mb-3 grid gap-1"
          ><span><b>{r.name}</b> <span class="text-soft">{r.alarms[0]?.name.toLowerCase()}</span></span>
          <textarea class="field min-h-hand py-2" rows="3" bind:value={written[r.id]}></textarea></label
        >{/each}
    {:else}
      <p class="mb-2 text-row text-soft">To {rows.map(first).join(', ')}, each for themselves.</p>
      <textarea class="field min-h-lines py-2" bind:value={text} aria-label="Message to all who are chosen"
      ></textarea>
    {/if}
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
    <div class="mt-3 flex items-center gap-4">
      <button class="act" disabled={empty || !!desk.going}
        >{desk.going
          ? `Sending ${desk.going.done + 1} of ${desk.going.of} …`
          : `Send ${rows.length} message${rows.length === 1 ? '' : 's'}`}</button
      >
      {#if desk.going}<progress max={desk.going.of} value={desk.going.done} aria-label="Messages sent"
        ></progress>{/if}
    </div>
  </form>
</Dialog>
