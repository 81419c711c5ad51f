<script lang="ts">
  import Back from '$lib/parts/Back.svelte'
  import OwnAccount from '$lib/people/OwnAccount.svelte'
</script>

<svelte:head><title>Your account · Dimbo</title></svelte:head>
<main class="mx-auto grid large max-w-column gap-8 px-5 pb-10 text-sub">
  <div>
    <Back href="/my-settings" name="Settings" />
    <h1 class="text-title">Your account</h1>
  </div>
  <OwnAccount />
</main>
