<script lang="ts">
  /** The way back to the place that a page of a client belongs to. */
  let { href, name }: { href: string; name: string } = $props()
</script>

<p class="-mt-1">
  <a {href} class="inline-flex min-h-touch items-center gap-2 text-lead link"
    ><svg viewBox="0 0 12 12" class="size-3.5" aria-hidden="true"
      ><path d="M8 1 3 6l5 5" fill="none" stroke="currentColor" stroke-width="2" /></svg
    >{name}</a
  >
</p>
