<script lang="ts">
  import { momentAt } from '$lib/format'
  import { api, ask, attempt, type Schemas, words } from '$lib/api/client'
  import Dialog from '$lib/parts/Dialog.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** Saved versions, what each changed in words, and back to one of them. */
  let { open = $bindable(false), editor }: { open?: boolean; editor: SheetEditor } = $props()
  let versions = $state.raw<Schemas['VersionView'][]>([])
  let chosen = $state(0)
  let changes = $state.raw<Schemas['DifferenceView'][] | null>(null)
  let against = $state<'before' | 'now'>('before')
  let problem = $state('')
  const path = $derived({ program_id: editor.id })

  $effect(() => {
    if (!open) return
    problem = ''
    ask(api.GET('/api/programs/{program_id}/versions', { params: { path } })).then(
      (v) => {
        versions = v
        chosen = v[0]?.version ?? 0
      },
      (e) => (problem = words(e))
    )
  })
  $effect(() => {
    const newest = versions[0]?.version ?? 0
    const [before, after] = against === 'before' ? [chosen - 1, chosen] : [chosen, newest]
    changes = null
    if (!open || !chosen || before < 1 || before === after) {
      changes = []
      return
    }
    let gone = false
    ask(
      api.GET('/api/programs/{program_id}/differences', { params: { path, query: { before, after } } })
    ).then(
      (c) => {
        if (!gone) changes = c
      },
      (e) => (problem = words(e))
    )
    return () => {
      gone = true
    }
  })
  async function restore() {
    await attempt(
      (why) => (problem = why),
      async () => {
        const body = { version: chosen, base_revision: editor.base }
        await ask(api.POST('/api/programs/{program_id}/restore', { params: { path }, body }))
        await editor.reload()
        open = false
        editor.remark = `Version ${chosen} is the newest again; the versions between are kept.`
      }
    )
  }
</script>

<Dialog bind:open title="Versions" width={760}>
  {#if problem}<p role="alert" class="mb-2 text-stop">{problem}</p>{/if}
  <div class="grid grid-cols-[230px_1fr] gap-6">
    <ol class="max-h-[56vh] overflow-y-auto" aria-label="Saved versions">
      {#each versions as v (v.version)}
        <li>
          <button
            class="w-full border-b border-rule px-2 py-1.5 text-left {v.version === chosen
              ? 'bg-paper font-bold'
              : ''}"
            aria-pressed={v.version === chosen}
            onclick={() => (chosen = v.version)}
            >version {v.version}<span class="block text-note font-normal text-soft"
              >{v.saved_by}, {momentAt(v.saved_at)}</span
            ></button
          >
        </li>
      {/each}
    </ol>
    <div>
      <div class="flex gap-4 text-small" role="group" aria-label="Compared with">
        <button
          class={against === 'before' ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={against === 'before'}
          onclick={() => (against = 'before')}>what it changed</button
        >
        <button
          class={against === 'now' ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={against === 'now'}
          onclick={() => (against = 'now')}>what changed since</button
        >
      </div>
      <ul class="mt-3 max-h-[46vh] space-y-1 overflow-y-auto">
        {#each changes ?? [] as c, i (i)}<li class="border-b border-rule pb-1">{c.text}</li>{:else}<li
            class="text-soft"
          >
            {changes === null
              ? 'Comparing …'
              : chosen === 1 && against === 'before'
                ? 'The first version.'
                : 'Nothing differs.'}
          </li>{/each}
      </ul>
      {#if versions[0] && chosen !== versions[0].version}
        <button class="mt-4 act" onclick={restore}>Make version {chosen} the newest again</button>
      {/if}
    </div>
  </div>
</Dialog>
