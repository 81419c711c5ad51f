<script lang="ts">
  import { onMount, type Snippet } from 'svelte'
  import { words, type Schemas } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { columnOf, LEAD, WHOLE } from './columns'
  import AddExercise from './AddExercise.svelte'
  import type { SheetEditor } from './editor.svelte'
  import Frame from './Frame.svelte'
  import Grid from './Grid.svelte'
  import { KEYS } from './keys'
  import Load from './Load.svelte'
  import Margin from './Margin.svelte'
  import More from './More.svelte'
  import RowDetails from './RowDetails.svelte'
  import Timeline from './Timeline.svelte'
  import Versions from './Versions.svelte'

  /** The program sheet: grid, margin, and the opened week below. Programs and templates share it. */
  let { editor, lead, actions }: { editor: SheetEditor; lead: Snippet; actions: Snippet } = $props()
  let adding = $state(false)
  let helping = $state(false)
  let framing = $state(false)
  let looking = $state(false)
  let detailing = $state(false)
  let places = $state.raw<Schemas['PlacedView'][]>([])
  let ordering = $state(false)
  let problem = $state('')
  let board = $state<HTMLElement>()
  let grid = $state<Grid>()
  let margin = $state<Margin>()

  const saved = $derived(
    editor.fixed
      ? 'ships with Dimbo'
      : {
          saved: `saved, version ${editor.version}`,
          waiting: 'not saved yet',
          saving: 'saving …',
          failed: 'not saved; kept here and tried again',
          refused: 'not saved; kept here'
        }[editor.saving]
  )
  onMount(() => {
    editor.load().then(
      () => grid?.focus(),
      (error: unknown) => (problem = words(error))
    )
    return editor.listen()
  })

  async function order() {
    places = await editor.order()
    ordering = places.length > 0
  }
  /** The opened week follows the chosen one a moment later, so that held arrow keys run on. */
  let opened = $state(1)
  const week = $derived(Math.min(opened, editor.weeks))
  const column = $derived(columnOf(editor.weeks))
  /** The chosen column goes on down to the opened week. */
  const joined = $derived(editor.document.lines.length > 0 && editor.weeks <= WHOLE)
  const joint = $derived(`left:${LEAD + column * (editor.place.week - 1)}px; width:${column}px`)
  $effect(() => {
    const next = editor.place.week
    const timer = setTimeout(() => (opened = next), 70)
    return () => clearTimeout(timer)
  })
  const here = $derived(editor.sheet?.lines[editor.place.row])
  const names = $derived(new Map(editor.sheet?.lines.map((l) => [l.id, l.name])))
  function remedy(number: number) {
    const note = margin?.remedy(number)
    if (note) void editor.fix(note).then(() => grid?.focus())
  }
  /** Focus comes back to the sheet when a dialog closes. */
  const anything = $derived(adding || helping || framing || looking || detailing || ordering)
  let was = false
  $effect(() => {
    if (was && !anything) void grid?.focus()
    was = anything
  })
</script>

{#if problem}<p role="alert" class="p-6 text-stop">{problem}</p>{/if}
{#if editor.sheet}
  <main
    class="across mx-auto grid max-w-frame grid-cols-[minmax(0,1002px)_216px] gap-x-4 px-6 pb-12 max-lg:grid-cols-1 max-sm:px-3"
  >
    <div class="pt-2">
      <div class="mb-2 flex items-center gap-3">
        <div class="min-w-0 grow">
          <h1 class="sr-only">{editor.title}</h1>
          <input
            class="-ml-1 w-full max-w-slip bg-transparent px-1 font-head text-big font-bold"
            aria-label="Name"
            value={editor.title}
            readonly={editor.fixed}
            onchange={(e) => editor.retitle(e.currentTarget.value)}
          />
          <p class="text-small text-soft">
            {@render lead()};
            <span
              aria-live="polite"
              class={editor.saving === 'failed' || editor.saving === 'refused' ? 'text-stop' : ''}
              >{saved}</span
            >
          </p>
        </div>
        <button class="act act-quiet" onclick={() => (helping = true)}><kbd>?</kbd> keys</button>
        {#if !editor.fixed}<button class="act act-quiet" onclick={() => (adding = true)}>Add exercise</button
          >{/if}
        <More {editor} frame={() => (framing = true)} versions={() => (looking = true)} {order} />
        {@render actions()}
      </div>
      <div class="overflow-x-auto" bind:this={board}>
        <div class="relative w-max">
          <Grid
            bind:this={grid}
            {editor}
            insert={() => (adding = true)}
            help={() => (helping = true)}
            details={() => (detailing = true)}
            {order}
            {remedy}
          />
          {#if joined}<div
              class="relative h-6 bg-sheet max-lg:hidden"
              style={joint}
              aria-hidden="true"
            ></div>{/if}
          {#if joined}<div
              class="pointer-events-none absolute top-0 bottom-0 z-[5] border-x border-ink max-lg:hidden"
              style={joint}
              aria-hidden="true"
            ></div>{/if}
        </div>
      </div>
      {#if !editor.document.lines.length}<p class="my-4">
          The sheet is empty. Press <b>Add exercise</b> and type a name.
        </p>{/if}
      <p
        class="min-h-6 text-small text-soft lg:-mt-6"
        style={editor.place.week > editor.weeks / 2
          ? ''
          : `padding-left:${LEAD + column * editor.place.week + 12}px`}
        aria-live="polite"
      >
        {editor.remark}
      </p>
      {#if editor.problem}<p role="alert" class="mb-2 text-stop">{editor.problem}</p>{/if}
      <section class="relative border border-ink bg-sheet px-4 pt-3 pb-3" aria-label="Week {week}">
        {#if joined}<span
            class="absolute -top-px h-px border-x border-ink bg-sheet max-lg:hidden"
            style={joint}
            aria-hidden="true"
          ></span>{/if}
        <Timeline {editor} at={week} />
        <div class="mt-3 border-t border-rule pt-3"><Load {editor} at={week} /></div>
      </section>
    </div>
    <aside
      class="border-l border-edge-soft pt-3 pl-4 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
      aria-label="Margin"
    >
      <Margin bind:this={margin} {editor} {board} />
      {#if here?.why}<p class="mt-6 border-t border-rule pt-2 text-small">
          <b>Why {here.name}?</b>
          {here.why}
        </p>{/if}
      <p class="mt-6 border-t border-rule pt-2 text-note text-soft">
        A count is {editor.sheet.pace_s.toFixed(1)} s here: <span class="dose">h10c</span> holds {(
          10 * editor.sheet.pace_s
        ).toFixed(0)} s.
      </p>
    </aside>
  </main>
  <AddExercise
    bind:open={adding}
    approach={editor.document.approach}
    add={(id, stages) => editor.add(id, stages)}
  />
  <Dialog bind:open={helping} title="Keys of the sheet" width={620}>
    <dl class="grid grid-cols-[150px_1fr] gap-y-1.5">
      {#each KEYS as [key, what] (key)}<dt class="font-bold">{key}</dt>
        <dd>{what}</dd>{/each}
    </dl>
  </Dialog>
  <Frame bind:open={framing} {editor} />
  <Versions bind:open={looking} {editor} />
  <RowDetails bind:open={detailing} {editor} />
  <Dialog bind:open={ordering} title="In order, and why" width={620}>
    <p class="mb-3 text-row text-soft">Ctrl Z puts your own order back.</p>
    <ol class="space-y-1">
      {#each places as p, i (p.line)}<li class="grid grid-cols-[24px_210px_1fr] border-b border-rule pb-1">
          <span class="text-soft">{i + 1}</span><b>{names.get(p.line)}</b><span>{p.reason}</span>
        </li>{/each}
    </ol>
  </Dialog>
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
{:else if !problem}
  <main class="mx-auto max-w-frame px-6 pt-3" role="status" aria-label="Reading the sheet">
    <div class="h-7 w-1/3 bg-band-wash"></div>
    <div class="mt-4 h-[420px] w-4/5 bg-band-wash"></div>
  </main>{/if}
