<script lang="ts">
  /** What a place is for, how the work goes, its keys and an example; fetched with the guide when it is first opened. */
  let {
    open = $bindable(false),
    whose,
    sections,
    route,
    every = []
  }: {
    open?: boolean
    whose: 'coach' | 'client'
    sections: () => Promise<{ default: typeof import('./guide-coach.json') }>
    route: string
    every?: [string, string][]
  } = $props()
  let wanted = $state(false)
  $effect(() => {
    if (open) wanted = true
  })
</script>

{#if wanted}{#await import('./HelpSheet.svelte') then { default: HelpSheet }}
    <HelpSheet bind:open {whose} {sections} {route} {every} />
  {/await}{/if}
