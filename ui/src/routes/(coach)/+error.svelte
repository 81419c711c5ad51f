<script lang="ts">
  import { invalidateAll } from '$app/navigation'
  import { page } from '$app/state'

  /** Why a page could not begin; the places above stay within reach. */
</script>

<svelte:head><title>Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-6 pb-12">
  <h1>{page.status === 404 ? 'This is not here' : 'This page cannot be shown just now'}</h1>
  <p role="alert" class="mt-3 max-w-page">{page.error?.message}</p>
  {#if page.status !== 404}<button class="mt-5 act" onclick={() => invalidateAll()}>Try again</button>{/if}
</main>
