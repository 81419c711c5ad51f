<script lang="ts">
  import { helps, keep } from '$lib/practice/helps.svelte'
  import type { Mirror } from '$lib/practice/mirror.svelte'

  /** What helps in practice, as large switches. */
  let { mirror, touched = () => undefined }: { mirror: Mirror; touched?: () => void } = $props()
  const all = [
    ['tones', 'Tones'],
    ['voice', 'Voice'],
    ['tremble', 'Vibration'],
    ['mirror', 'Camera as a mirror']
  ] as const

  function flip(key: (typeof all)[number][0]) {
    helps[key] = !helps[key]
    keep()
    touched()
    if (key === 'mirror') {
      if (helps.mirror) void mirror.open()
      else mirror.close()
    }
  }
</script>

<div class="flex flex-wrap gap-3" role="group" aria-label="What helps you">
  {#each all as [key, name] (key)}
    <button
      class="min-h-press rounded border-2 border-night-soft px-4 text-head aria-pressed:border-night-text aria-pressed:bg-night-raised aria-pressed:font-bold"
      aria-pressed={helps[key]}
      onclick={() => flip(key)}
      >{name} <span class="text-night-soft">{helps[key] ? 'on' : 'off'}</span></button
    >
  {/each}
</div>
{#if helps.mirror}<p class="mt-2 text-sub text-night-soft">
    {mirror.problem || 'Only you see it: nothing is recorded or sent.'}
  </p>{/if}
