<script lang="ts">
  import { onMount, type Snippet } from 'svelte'
  import { need } from '$lib/session.svelte'

  let { children }: { children: Snippet } = $props()
  let ready = $state(false)
  onMount(async () => (ready = await need('client')))
</script>

{#if ready}{@render children()}{/if}
