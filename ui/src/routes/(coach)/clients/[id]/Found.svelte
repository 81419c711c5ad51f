<script lang="ts">
  /** What the coach found or agreed, before something goes on that was stopped. */
  let {
    label,
    go,
    act,
    focus = false
  }: {
    label: string
    /** What the button does, in words. */
    go: string
    act: (note: string) => Promise<void>
    focus?: boolean
  } = $props()
  let open = $state(false)
  let found = $state('')

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    await act(found)
    open = false
    found = ''
  }
</script>

{#if open}<form class="mt-2 grid gap-1" onsubmit={keep}>
    <label class="grid gap-1"
      >{label}<input
        class="field"
        required
        maxlength="400"
        bind:value={found}
        {@attach (input: HTMLInputElement) => input.focus()}
      /></label
    >
    <span class="flex gap-4"
      ><button class="link">{go}</button><button class="link" type="button" onclick={() => (open = false)}
        >Back</button
      ></span
    >
  </form>{:else}<button
    class="link"
    {@attach (button: HTMLButtonElement) => {
      if (focus && location.hash === '#decide') button.focus()
    }}
    onclick={() => (open = true)}>Let it go on</button
  >{/if}
