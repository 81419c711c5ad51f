<script lang="ts">
  import { page } from '$app/state'
  import Desk from '$lib/sheet/Desk.svelte'
  import { SheetEditor } from '$lib/sheet/editor.svelte'
  import Assign from './Assign.svelte'

  const editor = new SheetEditor('program', page.params.id ?? '')
  let assigning = $state(false)
  const stops = $derived(editor.sheet?.notes.filter((n) => n.weight === 'stop').length ?? 0)
  const days = $derived(
    editor.sheet?.parts.length === 2 ? 'mornings and evenings' : `${editor.sheet?.parts[0]}s`
  )
</script>

<svelte:head><title>{editor.title || 'Program'} · Dimbo</title></svelte:head>
<Desk {editor}>
  {#snippet lead()}for <a class="link" href="/clients/{editor.clientId}">{editor.clientName}</a>, {editor.weeks}
    weeks,
    {days}, {editor.document.mode === 'earned' ? 'earned by weekly review' : 'by calendar'}{/snippet}
  {#snippet actions()}<button
      class="act"
      onclick={() => (assigning = true)}
      disabled={!editor.sheet?.assignable}>{stops ? `Assign: ${stops} to settle` : 'Assign'}</button
    >{/snippet}
</Desk>
{#if editor.sheet}<Assign bind:open={assigning} {editor} />{/if}
