<script lang="ts">
  import { Tooltip } from 'bits-ui'
  import type { Snippet } from 'svelte'

  /** What a control does, said beside it while the pointer or the focus is on it. Nothing stands here alone: who never sees it misses
   * nothing that is needed. */
  let { text, child }: { text: string; child: Snippet<[{ props: Record<string, unknown> }]> } = $props()
</script>

<Tooltip.Provider delayDuration={350}>
  <Tooltip.Root>
    <Tooltip.Trigger {child} />
    <Tooltip.Portal>
      <Tooltip.Content
        sideOffset={5}
        collisionPadding={8}
        class="z-50 max-w-aside border border-ink bg-ink px-2.5 py-1.5 text-small leading-snug text-sheet"
        >{text}</Tooltip.Content
      >
    </Tooltip.Portal>
  </Tooltip.Root>
</Tooltip.Provider>
