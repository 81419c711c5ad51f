<script lang="ts">
  /** A family of exercises as a small drawing of what is done: the shapes of the pulse trains, and hands where they move. */
  let { family }: { family: string } = $props()
  const SIGNS: Record<string, { d: string; full?: boolean }> = {
    contract: { d: 'M2 12 8 3h12l6 9Z', full: true },
    resist: { d: 'M1 12 5 4h6l3 8ZM15 12l4-8h6l3 8Z', full: true },
    align: { d: 'M3 7H27M15 2V12M9 4v6M21 4v6' },
    release: { d: 'M2 3q5 9 13 9t13-2' },
    stretch: { d: 'M2 7H28M6 3 2 7l4 4M24 3l4 4-4 4' },
    press: { d: 'M15 1v8M11 6l4 4 4-4M6 13H24' },
    drain: { d: 'M2 11q4-10 8 0q4-10 8 0q4-10 8 0' },
    tap: { d: 'M4 11V5M11 11V5M18 11V5M25 11V5' },
    breathe: { d: 'M2 7q4-9 8 0t8 0t8 0' },
    mobilise: { d: 'M20 5a6 5 0 1 0 1 4M20.500 1.500v4h-4' },
    habit: { d: 'M15 1.500a5.500 5.500 0 1 0 .1 0M15 4v3.500l3 1.500' }
  }
  const sign = $derived(SIGNS[family] ?? { d: 'M4 7H26' })
</script>

<svg viewBox="0 0 30 14" class="h-3.5 w-[30px] shrink-0" aria-hidden="true"
  ><path
    d={sign.d}
    fill={sign.full ? 'currentColor' : 'none'}
    stroke="currentColor"
    stroke-width={sign.full ? 0 : 1.6}
    stroke-linejoin="round"
    stroke-linecap="round"
  /></svg
>
