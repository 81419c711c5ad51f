<script lang="ts">
  import { Dialog } from 'bits-ui'
  import type { Snippet } from 'svelte'

  /** A sheet of paper laid over the page, with the focus held inside: on what is marked data-first, else on the sheet itself, so that no
   * first key closes it. */
  let {
    open = $bindable(false),
    title,
    children,
    width = 460
  }: { open?: boolean; title: string; children: Snippet; width?: number } = $props()
  let sheet = $state<HTMLElement | null>(null)

  function begin(event: Event) {
    event.preventDefault()
    const first = sheet?.querySelector<HTMLElement>('[data-first]') ?? sheet
    first?.focus()
  }
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-ink/40" />
    <Dialog.Content
      bind:ref={sheet}
      onOpenAutoFocus={begin}
      class="fixed top-[8vh] left-1/2 z-50 max-h-[84vh] w-[92vw] -translate-x-1/2 overflow-y-auto border border-ink bg-sheet p-6 outline-none"
      style="max-width: {width}px"
    >
      <div class="mb-4 flex items-start justify-between gap-4">
        <Dialog.Title class="font-head text-head font-bold">{title}</Dialog.Title>
        <Dialog.Close class="text-row link">Close</Dialog.Close>
      </div>
      {@render children()}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
