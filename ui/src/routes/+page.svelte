<script lang="ts">
  import { goto } from '$app/navigation'
  import { onMount } from 'svelte'
  import { api, ask } from '$lib/api/client'
  import { home, session } from '$lib/people/session.svelte'

  onMount(async () => {
    try {
      session.me = await ask(api.GET('/api/me'))
      await goto(home(session.me.role), { replaceState: true })
    } catch {
      await goto('/sign-in', { replaceState: true })
    }
  })
</script>
