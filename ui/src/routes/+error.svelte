<script lang="ts">
  import { page } from '$app/state'
</script>

<main class="mx-auto max-w-xl p-10">
  <h1>{page.status === 404 ? 'There is no such page' : 'Something went wrong'}</h1>
  <p class="mt-3">{page.error?.message}</p>
  <p class="mt-5"><a class="link" href="/">Back to the start</a></p>
</main>
