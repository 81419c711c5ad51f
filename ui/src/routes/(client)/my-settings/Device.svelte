<script lang="ts">
  import { onMount } from 'svelte'
  import { helps, keep, recall } from '$lib/practice/helps.svelte'

  /** What helps in practice, and putting Dimbo on the home screen. */
  interface InstallEvent extends Event {
    prompt: () => Promise<void>
  }
  let offer = $state<InstallEvent | null>(null)
  const all = [
    ['tones', 'Tones for in, hold, out and the other side'],
    ['voice', 'A voice that says what comes next'],
    ['tremble', 'Vibration'],
    ['mirror', 'The front camera as a mirror; nothing is recorded or sent']
  ] as const
  onMount(() => {
    recall()
    const asked = (event: Event) => {
      event.preventDefault()
      offer = event as InstallEvent
    }
    window.addEventListener('beforeinstallprompt', asked)
    return () => window.removeEventListener('beforeinstallprompt', asked)
  })
</script>

<section class="mt-8">
  <h2 class="text-big">In practice</h2>
  {#each all as [key, name] (key)}
    <label class="flex min-h-press items-center gap-3"
      ><input type="checkbox" class="size-6 shrink-0" bind:checked={helps[key]} onchange={keep} />
      {name}</label
    >
  {/each}
  <p class="mt-2 text-lead text-soft">
    Dimbo opens and plays without a connection. {offer
      ? ''
      : 'Put it on your home screen through the menu of your browser.'}
  </p>
  {#if offer}<button class="mt-2 act min-h-press act-quiet" onclick={() => offer?.prompt()}
      >Put Dimbo on this device</button
    >{/if}
</section>
