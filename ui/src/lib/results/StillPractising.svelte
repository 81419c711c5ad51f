<script lang="ts">
  import type { Schemas } from '$lib/api/client'

  /** The share that still practises, week by week, with its band and how many are followed so far. */
  let { course, name }: { course: Schemas['StillShare'][]; name: string } = $props()
  const [W, H, L] = [420, 170, 34]
  const last = $derived(Math.max(84, course.at(-1)?.day ?? 0))
  const x = (day: number) => L + (day / last) * (W - L - 10)
  const y = (share: number) => 10 + (1 - share) * (H - 52)
  const steps = (at: (s: Schemas['StillShare']) => number) =>
    course
      .map((s, i) => {
        const to = course[i + 1]
        return `${i ? 'L' : 'M'}${x(s.day)} ${y(at(s))}${to ? `H${x(to.day)}` : ''}`
      })
      .join('')
  const band = $derived(
    course.length > 1
      ? `${steps((s) => s.high)}${[...course]
          .reverse()
          .map((s, i, all) => {
            const to = all[i + 1]
            return `L${x(s.day)} ${y(s.low)}${to ? `L${x(s.day)} ${y(to.low)}` : ''}`
          })
          .join('')}Z`
      : ''
  )
</script>

<svg viewBox="0 0 {W} {H}" class="block w-full" role="img" aria-label="{name}, week by week">
  {#each [0, 0.5, 1] as s (s)}
    <path d="M{L} {y(s)}H{W}" stroke="var(--color-rule)" />
    <text x={L - 4} y={y(s) + 4} text-anchor="end" class="text-note" fill="var(--color-soft)"
      >{s * 100} %</text
    >
  {/each}
  {#if band}<path d={band} fill="var(--color-band)" />{/if}
  <path d={steps((s) => s.share)} fill="none" stroke="var(--color-ink)" stroke-width="2.5" />
  {#each course.filter((s) => s.day % 28 === 0) as s (s.day)}
    <text x={x(s.day)} y={H - 22} text-anchor="middle" class="text-note" fill="var(--color-soft)"
      >{s.day / 7} wk</text
    >
    <text x={x(s.day)} y={H - 6} text-anchor="middle" class="text-note" fill="var(--color-soft)"
      >{s.at_risk}</text
    >
  {/each}
  <text x="0" y={H - 6} class="text-note" fill="var(--color-soft)">followed</text>
</svg>
