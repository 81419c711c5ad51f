<script lang="ts">
  import { Popover } from 'bits-ui'
  import type { Snippet } from 'svelte'

  /** What opens beside a field or a word. It is fetched when the first one opens: a page that nobody asks anything does without. */
  let {
    open = $bindable(false),
    anchor,
    children,
    focusInside = true,
    focusAfter = null,
    class: look = ''
  }: {
    open?: boolean
    anchor: HTMLElement | null
    children: Snippet
    /** Whether the focus goes into it; else it stays where it was. */
    focusInside?: boolean
    /** Where the focus goes when it closes. */
    focusAfter?: HTMLElement | null
    class?: string
  } = $props()
</script>

<Popover.Root bind:open>
  <Popover.Portal>
    <Popover.Content
      customAnchor={anchor}
      align="start"
      sideOffset={4}
      collisionPadding={8}
      trapFocus={false}
      onOpenAutoFocus={(e) => focusInside || e.preventDefault()}
      onCloseAutoFocus={(e) => {
        e.preventDefault()
        focusAfter?.focus()
      }}
      onInteractOutside={(e) => anchor?.parentElement?.contains(e.target as Node) && e.preventDefault()}
      class="z-50 border border-ink bg-sheet shadow-[4px_4px_0_var(--color-band)] {look}"
      >{@render children()}</Popover.Content
    >
  </Popover.Portal>
</Popover.Root>
