<script lang="ts">
  import { Popover } from 'bits-ui'
  import type { Snippet } from 'svelte'

  /** A word with what it means behind it: by pointer, key or finger. The dotted line says that there is more. */
  let {
    text,
    children,
    class: look = '',
    big = false
  }: { text: string; children: Snippet; class?: string; big?: boolean } = $props()
</script>

<Popover.Root>
  <Popover.Trigger
    type="button"
    openOnHover
    openDelay={350}
    class="cursor-help text-left underline decoration-dotted underline-offset-3 {big
      ? 'inline-flex min-h-touch items-center'
      : ''} {look}">{@render children()}</Popover.Trigger
  >
  <Popover.Portal>
    <Popover.Content
      sideOffset={5}
      collisionPadding={8}
      trapFocus={false}
      onOpenAutoFocus={(e) => e.preventDefault()}
      class="z-50 max-w-card border border-ink bg-sheet px-3 py-2 leading-snug shadow-[4px_4px_0_var(--color-band)] {big
        ? 'text-lead'
        : 'text-small'}">{text}</Popover.Content
    >
  </Popover.Portal>
</Popover.Root>
