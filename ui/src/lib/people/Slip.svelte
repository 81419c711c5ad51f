<script lang="ts">
  import type { Snippet } from 'svelte'
  import Logo from '$lib/parts/Logo.svelte'

  /** A small page on its own, before anybody is signed in. */
  let { title, problem = '', children }: { title: string; problem?: string; children: Snippet } = $props()
</script>

<svelte:head><title>{title} · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-slip gap-5 px-5 py-10 text-sub">
  <a href="/sign-in"><Logo /></a>
  {@render children()}
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
</main>
