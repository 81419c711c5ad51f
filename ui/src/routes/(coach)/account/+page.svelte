<script lang="ts">
  import OnThisDevice from '$lib/messages/OnThisDevice.svelte'
  import OwnAccount from '$lib/people/OwnAccount.svelte'
</script>

<svelte:head><title>Your account · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-page gap-7 px-6 pt-5 pb-12">
  <h1>Your account</h1>
  <OwnAccount zones />
  <OnThisDevice coach />
</main>
