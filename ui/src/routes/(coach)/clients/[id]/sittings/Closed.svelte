<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask } from '$lib/api/client'
  import ClientHead from '../ClientHead.svelte'

  /** The sittings of a client whose photographs are not open to whoever looks: why, and what would open them. */
  let { id, why }: { id: string; why: string } = $props()
  let name = $state('')
  onMount(async () => {
    const names = await ask(api.GET('/api/client-names')).catch(() => [])
    name = names.find((c) => c.id === id)?.name ?? 'Sittings'
  })
</script>

{#if name}
  <ClientHead {name} {id} place="sittings" />
  <div class="mt-8 max-w-[60ch]">
    <h2>These photographs are not open to you</h2>
    <p role="alert" class="mt-2">{why}</p>
    <p class="mt-2">
      The client names a second coach under “What you agreed to”, or their own coach notes it down under
      Intake, Consent, with how the client told them.
    </p>
  </div>
{/if}
