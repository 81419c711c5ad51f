<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { shortDay } from '../../format'
  import { LEFT, RIGHT, ROWS, type Axis } from './axis'

  /** Effort of each session, soreness of the day after, and where it hurt, 0 to 10; between 3 and 7 is the aim of effort. */
  let { course, axis }: { course: Schemas['CourseView']; axis: Axis } = $props()
  const y = (n: number) => ROWS.feel[1] - 6 - n * 4.4
  const efforts = $derived(
    course.days.flatMap((d) =>
      d.logs.filter((l) => l.effort !== null).map((l) => ({ day: d.day, effort: l.effort ?? 0 }))
    )
  )
  const sore = $derived(course.days.filter((d) => d.soreness !== null))
  const r = $derived(axis.day > 5 ? 2.6 : 1.5)
  /** Lines break where more than ten days lie between two sessions. */
  const runs = $derived.by(() => {
    const out: string[][] = []
    let last = -Infinity
    for (const e of efforts) {
      const x = axis.at(e.day)
      if (x - last > 10 * axis.day) out.push([])
      out.at(-1)?.push(`${x},${y(e.effort)}`)
      last = x
    }
    return out.filter((points) => points.length > 1)
  })
</script>

<rect x={LEFT} y={y(7)} width={RIGHT - LEFT} height={y(3) - y(7)} fill="var(--color-band)" opacity=".5" />
{#each [7, 3] as n (n)}<text
    x={LEFT - 8}
    y={y(n) + 4}
    text-anchor="end"
    class="text-note"
    fill="var(--color-soft)">{n}</text
  >{/each}
{#each runs as points, i (i)}<polyline
    points={points.join(' ')}
    fill="none"
    stroke="var(--color-ink)"
    stroke-width="1"
  />{/each}
{#each efforts as e, i (i)}<circle cx={axis.at(e.day)} cy={y(e.effort)} {r} fill="var(--color-ink)" />{/each}
<!-- Soreness of the day after: an open diamond, filled above five. -->
{#each sore as d (d.day)}<path
    d="M{axis.at(d.day)} {y(d.soreness ?? 0) - r - 1}l{r + 1} {r + 1}l-{r + 1} {r + 1}l-{r + 1} -{r + 1}Z"
    fill={(d.soreness ?? 0) > 5 ? 'var(--color-mark-watch)' : 'var(--color-paper)'}
    stroke="var(--color-watch)"
    stroke-width={axis.day > 5 ? 1 : 0.7}
  />{/each}
{#each course.pains as p, i (i)}
  {@const x = axis.at(p.day)}
  <g role="img" aria-label="pain on {shortDay(p.day)}: {p.name}">
    <title>{shortDay(p.day)}: {p.name} hurt{p.level === null ? '' : `, ${p.level} of 10`}</title>
    <path d="M{x - 3} 155h6l4 4v6l-4 4h-6l-4 -4v-6Z" fill="var(--color-stop)" /><path
      d="M{x - 4} 162h8"
      stroke="var(--color-white)"
      stroke-width="2"
    />
    {#if i === course.pains.length - 1 && axis.span > 40}<text
        x={x + 11}
        y="166"
        class="text-note font-bold [paint-order:stroke]"
        stroke="var(--color-paper)"
        stroke-width="4"
        fill="var(--color-stop)">pain{p.side ? `, ${p.side}` : ''}{p.where ? ` ${p.where}` : ''}</text
      >{/if}
  </g>
{/each}
