<script lang="ts">
  import { goto } from '$app/navigation'
  import { DropdownMenu } from 'bits-ui'
  import { api, ask, attempt } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { tables } from '$lib/parts/tables.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** What else can be done with a program: hand out, export, keep as a template. */
  let {
    editor,
    frame,
    versions,
    order
  }: { editor: SheetEditor; frame: () => void; versions: () => void; order: () => void } = $props()
  /** Where Letter is the usual paper. */
  const LETTER = /-(US|CA|MX|PH)$/
  const path = $derived(`/api/programs/${editor.id}`)

  async function template() {
    await attempt(
      (why) => (editor.remark = why),
      async () => {
        if (editor.saving !== 'saved' && !(await editor.save())) return
        const body = { program_id: editor.id, title: editor.title, about: '' }
        const made = await ask(api.POST('/api/templates', { body }))
        await goto(`/templates/${made.id}`)
      }
    )
  }
  async function download(url: string) {
    if (editor.saving !== 'saved' && !(await editor.save())) return
    const link = document.createElement('a')
    link.href = url
    link.download = ''
    link.click()
  }
  let printing = $state(false)
  let paper = $state(LETTER.test(navigator.language) ? 'letter' : 'a4')
  let large = $state(false)
  let tick = $state(false)
  let whole = $state(false)
  /** Rows that are left out of the paper. */
  let out = $state<string[]>([])
  const rows = $derived(
    editor.document.lines.flatMap((l) =>
      (whole ? l.cells.some((c) => c) : l.cells[editor.place.week - 1])
        ? [{ id: l.id, name: editor.sheet?.lines.find((n) => n.id === l.id)?.name ?? l.exercise }]
        : []
    )
  )
  const only = $derived(
    out.length
      ? rows
          .filter((l) => !out.includes(l.id))
          .map((l) => `&only=${encodeURIComponent(l.id)}`)
          .join('')
      : ''
  )
  const row = 'block w-full cursor-pointer px-4 py-2 text-left outline-none data-highlighted:bg-paper'
</script>

<DropdownMenu.Root>
  <DropdownMenu.Trigger class="act act-quiet">More</DropdownMenu.Trigger>
  <DropdownMenu.Portal>
    <DropdownMenu.Content
      sideOffset={4}
      align="end"
      class="z-40 min-w-[270px] border border-ink bg-sheet py-2 shadow-[4px_4px_0_var(--color-band)]"
    >
      <DropdownMenu.Item class={row} onSelect={frame}
        >The whole program: weeks, minutes, approach</DropdownMenu.Item
      >
      <DropdownMenu.Item class={row} onSelect={order}>Put all in order, with reasons</DropdownMenu.Item>
      {#if editor.kind === 'program'}
        <DropdownMenu.Item class={row} onSelect={versions}>Versions</DropdownMenu.Item>
        <DropdownMenu.Separator class="my-1 border-t border-rule" />
        <DropdownMenu.Item class={row} onSelect={() => (printing = true)}
          >Hand-out of week {editor.place.week} …</DropdownMenu.Item
        >
        <DropdownMenu.Separator class="my-1 border-t border-rule" />
        <DropdownMenu.Item class={row} onSelect={template}>Save as a template</DropdownMenu.Item>
        <DropdownMenu.Item class={row} onSelect={() => download(`${path}/program.json`)}
          >Export as JSON</DropdownMenu.Item
        >
        <DropdownMenu.Item class={row} onSelect={() => download(`${path}/program.xlsx`)}
          >Export the sheet as a workbook</DropdownMenu.Item
        >
        <DropdownMenu.Item class={row} onSelect={() => download(tables.csv(`${path}/program.csv`))}
          >Export the sheet as CSV</DropdownMenu.Item
        >
      {/if}
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>

<Dialog
  bind:open={printing}
  title={whole ? 'Hand-out of the whole program' : `Hand-out of week ${editor.place.week}`}
>
  <p class="max-w-[52ch] text-soft">
    Each exercise drawn as it begins and ends, its dose in words, what is said, and when to stop. It reads as
    well in grey.
  </p>
  <div class="mt-3 flex gap-5">
    <span class="font-bold">Paper</span>
    <label class="flex items-center gap-2"><input type="radio" bind:group={paper} value="a4" />A4</label>
    <label class="flex items-center gap-2"
      ><input type="radio" bind:group={paper} value="letter" />Letter</label
    >
  </div>
  <div class="mt-2 flex gap-5">
    <span class="font-bold">Of it</span>
    <label class="flex items-center gap-2"
      ><input type="radio" bind:group={whole} value={false} />week {editor.place.week}</label
    >
    <label class="flex items-center gap-2"
      ><input type="radio" bind:group={whole} value={true} />the whole program, week by week</label
    >
  </div>
  <label class="mt-2 flex items-center gap-2"
    ><input type="checkbox" bind:checked={large} />In large print</label
  >
  <label class="mt-2 flex items-center gap-2" class:text-soft={whole}
    ><input type="checkbox" bind:checked={tick} disabled={whole} />With a page to tick, day by day</label
  >
  <details class="mt-3">
    <summary class="cursor-pointer link"
      >{out.length ? `${rows.length - out.length} of ${rows.length}` : 'All'} exercises; choose</summary
    >
    <div class="mt-1 grid max-h-[190px] overflow-y-auto">
      {#each rows as l (l.id)}<label class="flex items-center gap-2 text-row"
          ><input
            type="checkbox"
            checked={!out.includes(l.id)}
            onchange={() => (out = out.includes(l.id) ? out.filter((i) => i !== l.id) : [...out, l.id])}
          />{l.name}</label
        >{/each}
    </div>
  </details>
  <button
    class="mt-4 act"
    disabled={out.length >= rows.length}
    data-first
    onclick={async () => {
      await download(
        `${path}/handout.pdf?week=${editor.place.week}&paper=${paper}&large=${large}&tick=${tick && !whole}&whole=${whole}${only}`
      )
      printing = false
    }}>Make the PDF</button
  >
</Dialog>
