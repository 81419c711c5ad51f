<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import GiveTo from '$lib/programs/GiveTo.svelte'
  import SheetPage from '$lib/programs/SheetPage.svelte'
  import { SheetEditor } from '$lib/programs/editor.svelte'

  /** Another one for every program: from this page one goes to the program of another client. */
  const editor = $derived(new SheetEditor('program', page.params.id ?? ''))
  const stops = $derived(editor.sheet?.notes.filter((n) => n.weight === 'stop').length ?? 0)
  const days = $derived(
    editor.sheet?.parts.length === 2 ? 'mornings and evenings' : `${editor.sheet?.parts[0]}s`
  )

  let giving = $state(false)

  async function assign() {
    if (editor.saving !== 'saved' && !(await editor.save())) return
    await goto(`/programs/${editor.id}/assign`)
  }
</script>

<svelte:head><title>{editor.title || 'Program'} · Dimbo</title></svelte:head>
{#key editor}
  <SheetPage {editor}>
    {#snippet lead()}for <a class="link" href="/clients/{editor.clientId}">{editor.clientName}</a>, {editor.weeks}
      weeks,
      {days}, {editor.document.mode === 'earned' ? 'earned by weekly review' : 'by calendar'}{/snippet}
    {#snippet actions()}<button class="act act-quiet" onclick={() => (giving = true)}
        >For another client</button
      ><button class="act" onclick={assign} disabled={!editor.sheet?.assignable}
        >{stops ? `Assign: ${stops} to settle` : 'Assign'}</button
      >{/snippet}
  </SheetPage>
{/key}
<GiveTo bind:open={giving} source="program-{editor.id}" except={editor.clientId ?? ''} />
