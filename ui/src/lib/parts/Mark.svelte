<script lang="ts">
  /** A judgement mark in the margin: fine, watch, stop, or a plain remark. Shape and word carry it, not colour alone. */
  let { weight }: { weight: 'fine' | 'watch' | 'stop' | 'remark' } = $props()
  const names = { fine: 'fine', watch: 'look at this', stop: 'stop', remark: 'remark' }
</script>

<svg viewBox="0 0 16 16" class="mt-[3px] size-[15px] shrink-0" role="img" aria-label={names[weight]}>
  {#if weight === 'fine'}
    <path d="M2 9l4 4 8-10" fill="none" stroke="var(--color-mark-fine)" stroke-width="2.4" />
  {:else if weight === 'watch'}
    <path
      d="M8 1.5 15 14.5H1Z"
      fill="none"
      stroke="var(--color-mark-watch)"
      stroke-width="1.8"
      stroke-linejoin="round"
    />
    <path d="M8 6v4M8 11.6v1.6" stroke="var(--color-mark-watch)" stroke-width="1.8" />
  {:else if weight === 'stop'}
    <path d="M5 .8h6L15.2 5v6L11 15.2H5L.8 11V5Z" fill="var(--color-stop)" />
    <path d="M4 8h8" stroke="var(--color-white)" stroke-width="2.4" />
  {:else}
    <path d="M2 14l1-4 8-8 3 3-8 8Z" fill="none" stroke="var(--color-soft)" stroke-width="1.3" />
  {/if}
</svg>
