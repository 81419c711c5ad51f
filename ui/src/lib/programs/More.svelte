<script lang="ts">
  import { goto } from '$app/navigation'
  import { DropdownMenu } from 'bits-ui'
  import { api, ask, attempt } from '$lib/api/client'
  import { tables } from '$lib/parts/tables.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** What else can be done with a program: hand out, export, keep as a template. */
  let {
    editor,
    frame,
    versions,
    order
  }: { editor: SheetEditor; frame: () => void; versions: () => void; order: () => void } = $props()
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
        <DropdownMenu.Item
          class={row}
          onSelect={() => download(`${path}/handout.pdf?week=${editor.place.week}`)}
          >Hand-out of week {editor.place.week}, A4</DropdownMenu.Item
        >
        <DropdownMenu.Item
          class={row}
          onSelect={() => download(`${path}/handout.pdf?week=${editor.place.week}&paper=letter`)}
          >Hand-out of week {editor.place.week}, Letter</DropdownMenu.Item
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
