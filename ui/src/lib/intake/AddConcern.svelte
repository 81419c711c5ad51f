<script lang="ts">
  import { Command } from 'bits-ui'
  import type { Schemas } from '../api/client'

  /** Find a concern by what people call it: type, arrow, Enter. */
  let {
    concerns,
    add,
    big = false
  }: { concerns: Schemas['ConcernTableView'][]; add: (id: string) => void; big?: boolean } = $props()

  const id = $props.id()
  let text = $state('')
  let open = $state(false)
  const found = $derived.by(() => {
    const wanted = text.trim().toLowerCase()
    const fits = (c: Schemas['ConcernTableView']) =>
      [c.name, ...c.also].some((w) => w.toLowerCase().includes(wanted))
    return concerns.filter(fits)
  })

  /** The concern that is pointed at; the first one that fits until another is. */
  let pointed = $state('')
  const chosen = $derived(found.find((c) => c.id === pointed) ?? found[0])

  function take(concern: string) {
    text = pointed = ''
    open = false
    add(concern)
  }
</script>

<Command.Root
  shouldFilter={false}
  label="Add a concern"
  class="relative"
  bind:value={() => chosen?.id ?? '', (id) => (pointed = id)}
>
  <Command.Input
    class="field {big ? 'min-h-press text-sub' : ''}"
    placeholder="Add a concern: type what {big ? 'you' : 'they'} call it"
    aria-label="Add a concern"
    aria-expanded={open && found.length > 0}
    aria-controls="{id}-list"
    data-question="add-concern"
    bind:value={text}
    oninput={() => {
      open = true
      pointed = ''
    }}
    onblur={() => (open = false)}
    onkeydown={(e) => {
      if (e.key === 'Escape') open = false
      else if (e.key === 'ArrowDown' || e.key === 'ArrowUp') open = true
      else if (e.key === 'Enter') {
        e.preventDefault()
        e.stopPropagation()
        if (open && chosen) take(chosen.id)
      }
    }}
  />
  <!-- Always there, so that the field can say what it opens. -->
  <Command.List
    id="{id}-list"
    aria-label="Concerns"
    hidden={!open || !found.length}
    class="absolute z-20 max-h-[260px] w-full overflow-y-auto border border-ink bg-sheet"
  >
    {#if open}
      {#each found as c (c.id)}
        <Command.Item
          value={c.id}
          onSelect={() => take(c.id)}
          onpointerdown={(e) => e.preventDefault()}
          class="flex cursor-pointer items-center px-3 data-selected:bg-band {big
            ? 'min-h-press text-sub'
            : 'min-h-chip'}"
          >{c.name}{#if c.also.length}<span class="ml-2 text-small text-soft">{c.also.join(', ')}</span
            >{/if}</Command.Item
        >
      {/each}
    {/if}
  </Command.List>
  {#if open && text && !found.length}
    <p class="absolute z-20 w-full border border-ink bg-sheet px-3 py-2 text-soft">
      No concern is called “{text}”. Add it to the notes.
    </p>
  {/if}
</Command.Root>
