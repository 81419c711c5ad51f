<script lang="ts">
  import type { Schemas } from '../api/client'
  import { shortDay } from '../format'
  import { axisOf, handsOnly, HEIGHT, labelled, LEFT, RIGHT, ROWS } from './ruler/axis'
  import Dose from './ruler/Dose.svelte'
  import Feel from './ruler/Feel.svelte'
  import Practice from './ruler/Practice.svelte'
  import Reading from './ruler/Reading.svelte'
  import Reviews from './ruler/Reviews.svelte'
  import Sittings from './ruler/Sittings.svelte'
  import { stands } from './ruler/sittings'

  /** One axis of the course's weeks with today marked; dose, practice, feel, sittings and a reading stacked on it. */
  let {
    course,
    start,
    weeks,
    week = $bindable(1),
    open
  }: {
    course: Schemas['CourseView']
    start: string
    weeks: number
    week?: number
    /** Arrow down goes on into the days of the open week. */
    open?: () => void
  } = $props()

  const axis = $derived(axisOf(start, weeks))
  let hovered = $state(0)
  const numbers = $derived(Array.from({ length: weeks }, (_, i) => i + 1))
  const past = (n: number) => axis.first(n) <= course.today
  const blocks = $derived(course.assignments.filter((a) => a.start_date > start && axis.holds(a.start_date)))
  const at = $derived(stands(course.sittings, axis))
  const reading = $derived(course.sittings.flatMap((s) => s.readings.slice(0, 1))[0])
  const whole = $derived(course.patterns.windows.find((w) => w.days === null)?.sessions)

  function keys(event: KeyboardEvent) {
    const step = {
      ArrowRight: 1,
      ArrowLeft: -1,
      PageDown: 4,
      PageUp: -4,
      Home: -weeks,
      End: weeks
    }[event.key]
    if (event.key === 'ArrowDown' && open) {
      event.preventDefault()
      open()
    }
    if (!step) return
    event.preventDefault()
    week = Math.min(weeks, Math.max(1, week + step))
  }
</script>

{#snippet track(y: number, name: string, what: string)}
  <text x="0" {y} class="font-bold">{name}</text>
  <text x="0" y={y + 16} class="text-note" fill="var(--color-soft)">{what}</text>
{/snippet}

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<svg
  viewBox="0 0 1002 {HEIGHT}"
  class="block w-full select-none"
  role="group"
  tabindex="0"
  onkeydown={keys}
  aria-label="Course on the week ruler; week {week} of {weeks} is open. Left and right choose another week, down goes into its days."
>
  <path
    d="M{axis.begins(week)} {HEIGHT}V2h{axis.span}V{HEIGHT}"
    fill="var(--color-sheet)"
    stroke="var(--color-ink)"
  />
  {#if hovered && hovered !== week}<rect
      x={axis.begins(hovered)}
      y="2"
      width={axis.span}
      height={HEIGHT - 2}
      fill="var(--color-band)"
      opacity=".45"
    />{/if}

  <g class="text-small" fill="var(--color-ink)">
    <text x="0" y="20" class="font-bold">Week</text>
    {@render track(56, 'Dose', handsOnly(course) ? 'hands-on, min' : 'contraction, min')}
    {#if !handsOnly(course)}<text x={LEFT - 8} y="58" text-anchor="end" class="fill-side-right text-note"
        >right</text
      >
      <text x={LEFT - 8} y="76" text-anchor="end" class="fill-side-left text-note">left</text>{/if}
    {@render track(
      114,
      'Practice',
      whole?.planned ? `${whole.done.toFixed(1)} of ${whole.planned} days` : 'planned and done'
    )}
    {@render track(174, 'Feel', '● effort, ◇ sore')}
    {@render track(234, 'Sittings', 'front neutral')}
    {@render track(
      294,
      reading?.name ?? 'Readings',
      reading ? (reading.paired ? `left − right, ${reading.unit}` : reading.unit) : ''
    )}
  </g>

  {#each numbers as n (n)}
    {@const x = axis.begins(n)}
    {#if labelled(axis, n) || n === week || n === hovered}<text
        x={axis.span > 22 ? x + 6 : x + axis.span / 2}
        y="20"
        text-anchor={axis.span > 22 ? 'start' : 'middle'}
        class="font-head text-lead font-bold [paint-order:stroke]"
        stroke={n === week || n === hovered ? 'var(--color-sheet)' : 'none'}
        stroke-width="5"
        fill={past(n) ? 'var(--color-ink)' : 'var(--color-soft)'}>{n}</text
      >{/if}
    {#if axis.span > (n < 10 ? 62 : 72)}<text
        x={x + axis.span - 8}
        y="20"
        text-anchor="end"
        class="text-note"
        fill="var(--color-soft)">{shortDay(axis.first(n))}</text
      >{/if}
    {#if axis.span > 12 || n % 4 === 1}<path d="M{x} 27V{HEIGHT}" stroke="var(--color-rule)" />{/if}
  {/each}
  <path d="M{LEFT} 27H{RIGHT}" stroke="var(--color-ink)" />
  {#each [ROWS.dose, ROWS.practice, ROWS.feel, ROWS.sittings] as [, y] (y)}<path
      d="M0 {y}H{RIGHT}"
      stroke="var(--color-rule)"
    />{/each}
  {#each blocks as b (b.id)}
    {@const x = axis.at(b.start_date) - axis.day / 2}
    <path d="M{x} 4V{ROWS.feel[1]}" stroke="var(--color-ink)" stroke-width="1.6" stroke-dasharray="1 2" />
    <text
      x={Math.min(x + 4, RIGHT - 142)}
      y="45"
      class="text-note [paint-order:stroke]"
      stroke="var(--color-paper)"
      stroke-width="4"
      fill="var(--color-soft)">{b.title.length > 22 ? `${b.title.slice(0, 20)}…` : b.title}</text
    >
  {/each}

  <Dose {course} {axis} {week} />
  <Practice {course} {axis} />
  <Feel {course} {axis} />
  {#if axis.holds(course.today)}
    <path d="M{axis.at(course.today)} 27V{HEIGHT}" stroke="var(--color-action)" stroke-width="2" />
    <path d="M{axis.at(course.today) - 5} 22h10l-5 7z" fill="var(--color-action)" />
  {/if}
  <Sittings {course} {axis} {at} />
  <Reading {at} />

  {#each numbers as n (n)}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <rect
      x={axis.begins(n)}
      y="0"
      width={axis.span}
      height={HEIGHT}
      fill="transparent"
      class="cursor-pointer"
      onmouseenter={() => (hovered = n)}
      onmouseleave={() => (hovered = 0)}
      onclick={() => (week = n)}
    />
  {/each}
  <Reviews {course} {axis} />
</svg>
