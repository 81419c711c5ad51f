<script lang="ts">
  import type { Schemas } from '$lib/api/client'

  /** A coach's own clip and picture of an exercise; nothing where there is neither. */
  let {
    clip,
    picture,
    name,
    kept = {}
  }: {
    clip: Schemas['ClipView'] | null
    picture: string
    name: string
    /** Addresses of what this device keeps, by hash. */
    kept?: Record<string, string>
  } = $props()
  const at = (hash: string, file: string) => `/api/exercise-media/${hash}/${file}`
</script>

{#if clip}
  {#key clip.hash}
    <video
      class="block max-h-[46vh] w-full bg-ink object-contain"
      src={kept[clip.hash] ?? at(clip.hash, 'clip.mp4')}
      poster={kept[`${clip.hash}-still`] ?? at(clip.hash, 'still.jpg')}
      controls
      playsinline
      loop
      muted={!clip.sound}
      preload="none"
      aria-label="{name}, shown by your coach"
    ></video>
  {/key}
{/if}
{#if picture}<img
    class="mt-2 block max-h-[46vh] w-full object-contain"
    src={kept[picture] ?? at(picture, 'still.jpg')}
    alt="{name}, shown by your coach"
  />{/if}
