<script lang="ts">
  /** Said before anything is written: who cannot read it, because they cannot sign in yet. */
  let { names }: { names: string[] } = $props()
  const first = $derived(names.map((n) => n.split(' ')[0]))
  const who = $derived(first.length > 1 ? `${first.slice(0, -1).join(', ')} and ${first.at(-1)}` : first[0])
</script>

{#if names.length}<p role="note" class="mb-2 border-l-4 border-mark-watch pl-3 text-row">
    {who} cannot sign in yet. What you write waits for the first time they do, and no letter goes out. The one link
    for all that is due stands in the margin of {names.length === 1 ? 'their' : 'each'} course.
  </p>{/if}
