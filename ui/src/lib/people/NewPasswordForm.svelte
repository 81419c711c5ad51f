<script lang="ts">
  /** Choosing a password: what it needs is said before, and can be looked at while it is typed. */
  let {
    action,
    send,
    label = 'Password'
  }: { action: string; label?: string; send: (password: string) => Promise<void> } = $props()
  let password = $state('')
  let shown = $state(false)
  let busy = $state(false)

  async function submit(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    await send(password)
    busy = false
  }
</script>

<form onsubmit={submit} class="grid gap-4">
  <label class="grid gap-1"
    >{label}<input
      class="field min-h-press"
      type={shown ? 'text' : 'password'}
      autocomplete="new-password"
      minlength="10"
      required
      bind:value={password}
    /></label
  >
  <p class="text-row text-soft">
    At least ten characters. Four words that do not belong together are easy to keep.
  </p>
  <label class="flex min-h-touch items-center gap-3"
    ><input type="checkbox" class="size-5" bind:checked={shown} /> Show it</label
  >
  <button class="act min-h-press" disabled={busy}>{busy ? 'One moment …' : action}</button>
</form>
