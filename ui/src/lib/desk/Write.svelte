<script lang="ts">
  import { attempt } from '../api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import Unread from '../parts/Unread.svelte'

  /** A message with its first words; Ctrl and Enter sends it. */
  let {
    open = $bindable(false),
    to,
    text = $bindable(''),
    unread = [],
    send
  }: {
    open?: boolean
    to: string
    text?: string
    /** Names of those who cannot sign in. */
    unread?: string[]
    /** Sends the text under an id; raises what the server refuses. */
    send: (id: string, text: string) => Promise<void>
  } = $props()
  let problem = $state('')
  let busy = $state(false)
  let id = crypto.randomUUID()

  async function go(event?: SubmitEvent) {
    event?.preventDefault()
    if (!text.trim() || busy) return
    busy = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await send(id, text.trim())
        id = crypto.randomUUID()
        open = false
      }
    )
    busy = false
  }
  function keys(event: KeyboardEvent) {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void go()
  }
</script>

<Dialog bind:open title="Write to {to}" width={560}>
  <form onsubmit={go}>
    <Unread names={unread} />
    <textarea class="h-[150px] field py-2" bind:value={text} onkeydown={keys} aria-label="Message to {to}"
    ></textarea>
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
    <div class="mt-3 flex items-center gap-4">
      <button class="act" disabled={busy || !text.trim()}>{busy ? 'Sending …' : 'Send'}</button>
      <span class="text-small text-soft">Ctrl and Enter sends. It stands among the words with {to}.</span>
    </div>
  </form>
</Dialog>
