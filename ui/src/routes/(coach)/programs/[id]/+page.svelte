<script lang="ts">
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { words } from '$lib/api/client'
  import Note from '$lib/parts/Note.svelte'
  import Sheet from '$lib/parts/Sheet.svelte'
  import AddExercise from '$lib/sheet/AddExercise.svelte'
  import { SheetEditor } from '$lib/sheet/editor.svelte'
  import Grid from '$lib/sheet/Grid.svelte'
  import Timeline from '$lib/sheet/Timeline.svelte'
  import Assign from './Assign.svelte'

  const editor = new SheetEditor(page.params.id ?? '')
  let adding = $state(false)
  let helping = $state(false)
  let assigning = $state(false)
  let problem = $state('')
  const stops = $derived(editor.sheet?.notes.filter((n) => n.weight === 'stop').length ?? 0)
  const saved = $derived(
    {
      saved: `saved, version ${editor.version}`,
      waiting: 'not saved yet',
      saving: 'saving …',
      failed: 'not saved'
    }[editor.saving]
  )
  onMount(() => editor.load().catch((error) => (problem = words(error))))

  const keys = [
    ['Arrows', 'move over the cells'],
    ['any sign, Enter', 'type a dose; Enter keeps it, Esc leaves it'],
    ['Ctrl →', 'fill right along the rungs'],
    ['Alt ↑ ↓', 'move the row'],
    ['+', 'add an exercise'],
    ['Delete', 'rest that week'],
    ['Shift Delete', 'take the row out'],
    ['Ctrl Z, Ctrl Y', 'undo, redo']
  ]
</script>

<svelte:head><title>{editor.title || 'Program'} · Dimbo</title></svelte:head>
{#if problem}<p role="alert" class="p-6 text-stop">{problem}</p>{/if}
{#if editor.sheet}
  <main class="mx-auto grid max-w-[1280px] grid-cols-[minmax(0,1002px)_216px] gap-x-7 px-6 pb-12">
    <div class="pt-3">
      <div class="mb-3 flex items-center gap-4">
        <div class="min-w-0 grow">
          <input
            class="-ml-1 w-full max-w-[420px] bg-transparent px-1 font-head text-[23px] font-bold"
            aria-label="Name of the program"
            bind:value={editor.title}
            onchange={() => editor.saveSoon()}
          />
          <p class="text-[13px] text-soft">
            for <a class="link" href="/clients/{editor.clientId}">{editor.clientName}</a>, {editor.document
              .weeks} weeks; <span aria-live="polite">{saved}</span>
          </p>
        </div>
        <button class="act act-quiet" onclick={() => (helping = true)}><kbd>?</kbd> keys</button>
        <button class="act act-quiet" onclick={() => (adding = true)}>Add exercise</button>
        <button class="act" onclick={() => (assigning = true)} disabled={!editor.sheet.assignable}
          >{stops ? `Assign: ${stops} to settle` : 'Assign'}</button
        >
      </div>
      <div class="overflow-x-auto">
        <Grid {editor} insert={() => (adding = true)} help={() => (helping = true)} />
      </div>
      {#if !editor.document.lines.length}<p class="my-4">
          The sheet is empty. Press <b>Add exercise</b>, or <kbd>+</kbd>.
        </p>{/if}
      <p class="my-1 min-h-[20px] text-[13px] text-soft" aria-live="polite">{editor.remark}</p>
      {#if editor.problem}<p role="alert" class="mb-2 text-stop">{editor.problem}</p>{/if}
      <Timeline {editor} />
    </div>
    <aside class="border-l border-[#b9a8bd] pt-4 pl-4" aria-label="Margin">
      <div class="grid gap-4" aria-live="polite">
        {#each editor.sheet.notes as n, i (i)}
          <Note weight={n.weight}>{n.text} <b>{n.remedy}</b></Note>
        {:else}
          <Note weight="fine">Nothing to settle: minutes, ceilings and rises are within their limits.</Note>
        {/each}
        <Note weight="remark"
          >A count is {editor.sheet.pace_s.toFixed(1)} s here; <span class="dose">h10c</span> holds ten
          counts, {(10 * editor.sheet.pace_s).toFixed(0)} s.</Note
        >
      </div>
    </aside>
  </main>
  <AddExercise
    bind:open={adding}
    concern={editor.document.concern ?? null}
    add={(card, stages) => editor.add(card.id, stages)}
  />
  <Sheet bind:open={helping} title="Keys of the sheet">
    <dl class="grid grid-cols-[130px_1fr] gap-y-1.5">
      {#each keys as [key, what] (key)}<dt class="font-bold">{key}</dt>
        <dd>{what}</dd>{/each}
    </dl>
  </Sheet>
  <Assign bind:open={assigning} {editor} />
  {#if editor.conflict}
    <div
      role="alertdialog"
      aria-label="Two versions"
      class="fixed inset-x-0 bottom-0 z-30 border-t-2 border-stop bg-sheet px-6 py-4"
    >
      <p>{editor.conflict}</p>
      <div class="mt-3 flex gap-3">
        <button class="act" onclick={() => editor.resolve('mine')}>Keep mine as the next version</button>
        <button class="act act-quiet" onclick={() => editor.resolve('theirs')}>Take theirs, drop mine</button>
      </div>
    </div>
  {/if}
{:else if !problem}<p class="p-6 text-soft">Reading the program …</p>{/if}
