<script lang="ts">
  import { Dialog } from 'bits-ui'

  /** What a place is for, how the work goes, its keys and an example: the section of the guide that belongs to the page. */
  let {
    open = $bindable(false),
    whose,
    sections,
    route,
    every = []
  }: {
    open?: boolean
    whose: 'coach' | 'client'
    /** Fetches the guide of those whose page it is; the other one is not kept with it. */
    sections: () => Promise<{ default: typeof import('./guide-coach.json') }>
    /** The page's route, as the guide names it. */
    route: string
    /** Keys that hold on every page. */
    every?: [string, string][]
  } = $props()
  const guide = $derived(open ? sections() : null)
  const big = $derived(whose === 'client')
</script>

{#snippet keys(of: string[][])}
  <dl class="mt-1 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
    {#each of as [key, does] (key)}
      <dt><kbd class="border border-edge-soft bg-paper px-1.5 font-sans text-small">{key}</kbd></dt>
      <dd>{does}</dd>
    {/each}
  </dl>
{/snippet}

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-ink/30" />
    <Dialog.Content
      class="fixed inset-y-0 right-0 z-50 w-full max-w-slip overflow-y-auto border-l border-ink bg-sheet p-6 outline-none {big
        ? 'text-sub'
        : ''}"
    >
      {#await guide then found}
        {@const section = found?.default.find((s) => s.places.includes(route))}
        <div class="flex items-start justify-between gap-4">
          <Dialog.Title class="font-head text-huge leading-tight font-bold"
            >{section?.title ?? 'Help'}</Dialog.Title
          >
          <Dialog.Close class="shrink-0 link {big ? 'min-h-touch' : ''}">Close</Dialog.Close>
        </div>
        {#if section}
          <Dialog.Description class="mt-2">{section.purpose}</Dialog.Description>
          <ol class="mt-4 list-decimal pl-5">
            {#each section.steps as step (step)}<li class="mt-1.5">{step}</li>{/each}
          </ol>
          <p class="mt-4 border-l-4 border-action pl-3"><b>For example.</b> {section.example}</p>
          {#if section.keys.length}
            <h3 class="mt-5 text-sub">Keys here</h3>
            {@render keys(section.keys)}
          {/if}
          {#if section.terms.length}
            <h3 class="mt-5 text-sub">Words</h3>
            <dl class="mt-1">
              {#each section.terms as [word, meaning] (word)}<dt class="font-bold">{word}</dt>
                <dd class="mb-1.5">{meaning}</dd>{/each}
            </dl>
          {/if}
        {/if}
        {#if every.length}
          <h3 class="mt-5 text-sub">On every page</h3>
          {@render keys(every)}
        {/if}
      {/await}
      <p class="mt-6 border-t border-rule pt-2 text-soft">
        Dimbo does not diagnose and promises nothing. Licensed practice and local rules come first.
      </p>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
