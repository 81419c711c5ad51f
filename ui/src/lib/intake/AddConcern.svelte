<script lang="ts">
  import type { Schemas } from '../api/client'

  /** Find a concern by what people call it: type, arrow, Enter. */
  let {
    concerns,
    add,
    big = false
  }: { concerns: Schemas['ConcernTableView'][]; add: (id: string) => void; big?: boolean } = $props()

  let text = $state('')
  let place = $state(0)
  let open = $state(false)
  const id = $props.id()
  const found = $derived.by(() => {
    const wanted = text.trim().toLowerCase()
    const fits = (c: Schemas['ConcernTableView']) =>
      [c.name, ...c.also].some((w) => w.toLowerCase().includes(wanted))
    return concerns.filter(fits)
  })

  const chosen = $derived(found[place])

  function take(concern: string) {
    text = ''
    place = 0
    open = false
    add(concern)
  }

  function press(event: KeyboardEvent) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      open = true
      const step = event.key === 'ArrowDown' ? 1 : -1
      place = Math.min(found.length - 1, Math.max(0, place + step))
    } else if (event.key === 'Enter') {
      event.preventDefault()
      if (chosen) take(chosen.id)
    } else if (event.key === 'Escape') open = false
  }
</script>

<div class="relative">
  <input
    class="field {big ? 'min-h-[52px] text-[18px]' : ''}"
    placeholder="Add a concern: type what {big ? 'you' : 'they'} call it"
    aria-label="Add a concern"
    role="combobox"
    aria-expanded={open}
    aria-controls="{id}-list"
    aria-activedescendant={chosen && open ? `${id}-${chosen.id}` : undefined}
    data-question="add-concern"
    bind:value={text}
    oninput={() => {
      open = true
      place = 0
    }}
    onblur={() => setTimeout(() => (open = false), 150)}
    onkeydown={press}
  />
  {#if open && found.length}
    <ul
      id="{id}-list"
      role="listbox"
      aria-label="Concerns"
      class="absolute z-20 max-h-[260px] w-full overflow-y-auto border border-ink bg-sheet"
    >
      {#each found as c, i (c.id)}
        <li id="{id}-{c.id}" role="option" aria-selected={i === place}>
          <button
            type="button"
            tabindex="-1"
            class="block w-full px-3 text-left {big ? 'min-h-[48px] text-[18px]' : 'min-h-[34px]'} {i ===
            place
              ? 'bg-band'
              : ''}"
            onpointerdown={(e) => {
              e.preventDefault()
              take(c.id)
            }}
            >{c.name}{#if c.also.length}<span class="ml-2 text-[13px] text-soft">{c.also.join(', ')}</span
              >{/if}</button
          >
        </li>
      {/each}
    </ul>
  {:else if open && text}
    <p class="absolute z-20 w-full border border-ink bg-sheet px-3 py-2 text-soft">
      No concern is called “{text}”. Add it to the notes.
    </p>
  {/if}
</div>
