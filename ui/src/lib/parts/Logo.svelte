<script lang="ts">
  /** The name with its sign: a midline with rungs to both sides. */
</script>

<span class="flex items-center gap-2.5 font-head text-head font-bold tracking-tight">
  <svg
    viewBox="0 0 32 32"
    class="size-6"
    fill="none"
    stroke-width="2.6"
    stroke-linecap="round"
    aria-hidden="true"
  >
    <path d="M16 3v26" stroke="var(--color-ink)" />
    <path d="M4 12l12-2M6 22l10-1" stroke="var(--color-side-right)" /><path
      d="M16 10l12 2M16 21l10 1"
      stroke="var(--color-side-left)"
    />
  </svg>
  Dimbo
</span>
