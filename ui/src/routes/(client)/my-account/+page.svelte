<script lang="ts">
  import OwnAccount from '$lib/people/OwnAccount.svelte'
</script>

<svelte:head><title>Your account · Dimbo</title></svelte:head>
<main class="mx-auto grid large max-w-column gap-8 px-5 pt-4 pb-10 text-sub">
  <p><a class="inline-flex min-h-touch items-center text-lead link" href="/my-settings">Settings</a></p>
  <h1 class="-mt-6 text-title">Your account</h1>
  <OwnAccount />
</main>
