<script lang="ts">
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { api, ask, attempt } from '$lib/api/client'
  import GiveTo from '$lib/programs/GiveTo.svelte'
  import SheetPage from '$lib/programs/SheetPage.svelte'
  import { SheetEditor } from '$lib/programs/editor.svelte'

  const id = $derived(page.params.id ?? '')
  const editors = $derived(new SheetEditor('template', id))

  let giving = $state(false)

  async function copy() {
    await attempt(
      (why) => (editors.remark = why),
      async () => {
        const made = await ask(
          api.POST('/api/templates/{template_id}/copy', { params: { path: { template_id: id } } })
        )
        await goto(`/templates/${made.id}`)
      }
    )
  }
</script>

<svelte:head><title>{editors.title || 'Template'} · Dimbo</title></svelte:head>
{#key id}
  <SheetPage editor={editors}>
    {#snippet lead()}<a class="link" href="/templates">Template</a>, {editors.weeks} weeks, {editors.document
        .mode === 'earned'
        ? 'earned by weekly review'
        : 'by calendar'}{/snippet}
    {#snippet actions()}<button class="act" onclick={() => (giving = true)}>For a client</button
      >{#if editors.fixed}<button class="act act-quiet" onclick={copy}>Copy to change it</button
        >{/if}{/snippet}
  </SheetPage>
{/key}
<GiveTo bind:open={giving} source={id} />
