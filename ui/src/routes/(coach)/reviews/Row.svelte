<script lang="ts">
  import type { Snippet } from 'svelte'

  /** A row of a review: what it is about, and the cells of this week, the verdict and the next week. */
  let {
    name,
    about,
    chosen,
    pick,
    children
  }: {
    name: string
    about: string
    chosen: boolean
    pick: () => void
    children: Snippet
  } = $props()
</script>

<tr
  class="border-t border-rule align-top {chosen ? 'bg-sheet' : ''}"
  class:edge={chosen}
  aria-current={chosen ? 'true' : undefined}
  onclick={pick}
>
  <td class="py-1.5 pr-2 pl-2"
    ><span class="block font-semibold">{name}</span><span class="block text-small text-soft">{about}</span
    ></td
  >
  {@render children()}
</tr>

<style>
  .edge > td:first-child {
    box-shadow: inset 3px 0 0 var(--color-action);
  }
</style>
