<script lang="ts">
  import type { Schemas } from '../api/client'
  import { addDays, clock, daysBetween, shortDay, signed } from '../format'

  /** One axis of the program's weeks with today marked; dose, practice, feel, sittings and a reading stacked on it. */
  let {
    course,
    start,
    weeks,
    week = $bindable(1)
  }: { course: Schemas['CourseView']; start: string; weeks: number; week?: number } = $props()

  const left = 128
  const right = 1002
  const day = $derived((right - left) / (weeks * 7))
  const span = $derived(day * 7)
  const at = (iso: string) => left + (daysBetween(start, iso) + 0.5) * day
  let hovered = $state(0)

  const rows = {
    dose: [34, 92],
    practice: [92, 152],
    feel: [152, 208],
    sittings: [208, 270],
    reading: [270, 330]
  } as const
  const numbers = $derived(Array.from({ length: weeks }, (_, i) => i + 1))
  const ofWeek = (n: number) => course.days.filter((d) => d.week === n)
  /** The day of a week that asks the most. */
  const fullest = (n: number) =>
    ofWeek(n).reduce<(typeof course.days)[number] | undefined>(
      (a, d) => (!a || d.right_s + d.left_s > a.right_s + a.left_s ? d : a),
      undefined
    )
  const most = $derived(Math.max(...course.days.map((d) => Math.max(d.right_s, d.left_s)), 60))
  const past = (n: number) => addDays(start, (n - 1) * 7) <= course.today
  const inside = $derived(
    course.sittings.filter(
      (s) => daysBetween(start, s.taken_on) >= -10 && daysBetween(start, s.taken_on) < weeks * 7
    )
  )
  const place = (iso: string) => Math.max(at(iso), left + 4)
  /** Where each sitting stands, none over another, and whether there is room for its words. */
  const stand = $derived.by(() => {
    const xs: number[] = []
    for (const s of inside) xs.push(Math.max(place(s.taken_on), (xs.at(-1) ?? -100) + 42))
    return new Map(
      inside.map((s, i) => [s.taken_on, { x: xs[i] ?? 0, words: (xs[i + 1] ?? 9999) - (xs[i] ?? 0) > 110 }])
    )
  })
  const stands = (iso: string) => stand.get(iso) ?? { x: place(iso), words: true }
  const reading = $derived(
    inside.flatMap((s) => s.readings.slice(0, 1).map((r) => ({ ...r, taken_on: s.taken_on })))
  )
  const widest = $derived(Math.max(1.5, ...reading.map((r) => Math.abs(r.value) + r.band)))
  const level = (mm: number) => 300 - (mm / widest) * 24
  const efforts = $derived(
    course.days.flatMap((d) =>
      d.logs.filter((l) => l.effort !== null).map((l) => ({ day: d.day, effort: l.effort ?? 0 }))
    )
  )
  const effortY = (e: number) => rows.feel[1] - 6 - e * 4.4

  function keys(event: KeyboardEvent) {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!step) return
    event.preventDefault()
    week = Math.min(weeks, Math.max(1, week + step))
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<svg
  viewBox="0 0 1002 332"
  class="block w-full select-none"
  role="group"
  tabindex="0"
  onkeydown={keys}
  aria-label="Course on the week ruler; week {week} of {weeks} is open. Arrow keys choose another week."
>
  <defs>
    <pattern id="wr-r" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)"
      ><rect width="4" height="4" fill="#f3d6c4" /><path
        d="M0 0V4"
        stroke="var(--color-side-right)"
        stroke-width="1.3"
      /></pattern
    >
    <pattern id="wr-l" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
      ><rect width="4" height="4" fill="#c5dedf" /><path
        d="M0 0V4"
        stroke="var(--color-side-left)"
        stroke-width="1.3"
      /></pattern
    >
  </defs>
  <path
    d="M{left + (week - 1) * span} 332V2h{span}V332"
    fill="var(--color-sheet)"
    stroke="var(--color-ink)"
  />
  {#if hovered && hovered !== week}<rect
      x={left + (hovered - 1) * span}
      y="2"
      width={span}
      height="330"
      fill="var(--color-band)"
      opacity=".45"
    />{/if}

  <g class="text-[13px]" fill="var(--color-ink)">
    <text x="0" y="20" class="font-bold">Week</text>
    <text x="0" y="56" class="font-bold">Dose</text><text
      x="0"
      y="72"
      class="text-[12px]"
      fill="var(--color-soft)">contraction, min</text
    >
    <text x={left - 8} y="58" text-anchor="end" class="fill-side-right text-[12px]">right</text>
    <text x={left - 8} y="76" text-anchor="end" class="fill-side-left text-[12px]">left</text>
    <text x="0" y="114" class="font-bold">Practice</text><text
      x="0"
      y="130"
      class="text-[12px]"
      fill="var(--color-soft)">planned and done</text
    >
    <text x="0" y="176" class="font-bold">Feel</text><text
      x="0"
      y="192"
      class="text-[12px]"
      fill="var(--color-soft)">effort, 0 to 10</text
    >
    <text x="0" y="234" class="font-bold">Sittings</text><text
      x="0"
      y="250"
      class="text-[12px]"
      fill="var(--color-soft)">front neutral</text
    >
    <text x="0" y="294" class="font-bold">Eye opening</text><text
      x="0"
      y="310"
      class="text-[12px]"
      fill="var(--color-soft)">left − right, mm</text
    >
  </g>

  {#each numbers as n (n)}
    {@const x = left + (n - 1) * span}
    {@const d = fullest(n)}
    <text
      x={x + 6}
      y="21"
      class="font-head text-[16px] font-bold"
      fill={past(n) ? 'var(--color-ink)' : 'var(--color-soft)'}>{n}</text
    >
    {#if span > (n < 10 ? 56 : 66)}<text
        x={x + span - 5}
        y="20"
        text-anchor="end"
        class="text-[12px]"
        fill="var(--color-soft)">{shortDay(addDays(start, (n - 1) * 7))}</text
      >{/if}
    <path d="M{x} 27V332" stroke="var(--color-rule)" />
    {#if d}
      {@const dim = past(n) ? 1 : 0.55}
      {@const w = Math.min(span * 0.4, 34)}
      <g opacity={dim}>
        <rect
          x={x + 8}
          y={64 - (d.right_s / most) * 26}
          width={w}
          height={(d.right_s / most) * 26}
          fill={past(n) ? 'url(#wr-r)' : 'none'}
          stroke="var(--color-side-right)"
          stroke-dasharray={past(n) ? '' : '2 2'}
        />
        <rect
          x={x + 8}
          y="64"
          width={w}
          height={(d.left_s / most) * 26}
          fill={past(n) ? 'url(#wr-l)' : 'none'}
          stroke="var(--color-side-left)"
          stroke-dasharray={past(n) ? '' : '2 2'}
        />
      </g>
      {#if span > 60 && d.right_s + d.left_s > 0}
        <text x={x + 14 + w} y="59" class="fill-side-right text-[12px]">{clock(d.right_s)}</text>
        <text x={x + 14 + w} y="77" class="fill-side-left text-[12px]">{clock(d.left_s)}</text>
      {/if}
    {/if}
  {/each}
  <path d="M{left} 27H{right}" stroke="var(--color-ink)" />
  <path d="M{left} 64H{right}" stroke="var(--color-rule)" />
  {#each [92, 152, 208, 270] as y (y)}<path d="M0 {y}H{right}" stroke="var(--color-rule)" />{/each}

  <path d="M{left} 106H{right}" stroke="var(--color-ink)" stroke-width=".8" />
  {#each course.days as d (d.day)}
    {@const x = at(d.day) - Math.min(day * 0.35, 4)}
    {@const w = Math.min(day * 0.7, 8)}
    {#if d.state === 'paused'}<path
        d="M{at(d.day) - day / 2} 125H{at(d.day) + day / 2}"
        stroke="#8b7f90"
        stroke-width="3"
        stroke-dasharray="1.5 2.5"
      />{/if}
    <rect
      visibility={d.state === 'paused' || d.state === 'extra' ? 'hidden' : 'visible'}
      {x}
      y="106"
      width={w}
      height="38"
      fill="none"
      stroke={d.state === 'future'
        ? 'var(--color-rule)'
        : d.state === 'open'
          ? 'var(--color-action)'
          : '#a99eac'}
      stroke-dasharray={d.state === 'future' || d.state === 'open' ? '2 2' : ''}
    />
    {#if d.share > 0}<rect {x} y="106" width={w} height={38 * d.share} fill="var(--color-ink)" />{/if}
    {#if d.over_s > 5}<rect {x} y="97" width={w} height="8" fill="var(--color-mark-watch)" />{/if}
    {#if d.state === 'skipped'}<path d="M{x} 136l{w} 7m0-7l-{w} 7" stroke="#8b7f90" stroke-width=".9" />{/if}
  {/each}

  <rect
    x={left}
    y={effortY(7)}
    width={right - left}
    height={effortY(3) - effortY(7)}
    fill="var(--color-band)"
    opacity=".5"
  />
  <text x={left - 8} y={effortY(7) + 4} text-anchor="end" class="text-[12px]" fill="var(--color-soft)">7</text
  >
  <text x={left - 8} y={effortY(3) + 4} text-anchor="end" class="text-[12px]" fill="var(--color-soft)">3</text
  >
  {#if efforts.length > 1}<polyline
      points={efforts.map((e) => `${at(e.day)},${effortY(e.effort)}`).join(' ')}
      fill="none"
      stroke="var(--color-ink)"
      stroke-width="1"
    />{/if}
  {#each efforts as e, i (i)}<circle
      cx={at(e.day)}
      cy={effortY(e.effort)}
      r="2.6"
      fill="var(--color-ink)"
    />{/each}
  <!-- Soreness of the day after: an open diamond, filled above five. -->
  {#each course.days.filter((d) => d.soreness) as d (d.day)}<path
      d="M{at(d.day)} {effortY(d.soreness ?? 0) - 3.6}l3.6 3.6l-3.6 3.6l-3.6 -3.6Z"
      fill={(d.soreness ?? 0) > 5 ? 'var(--color-mark-watch)' : 'var(--color-paper)'}
      stroke="var(--color-watch)"
    />{/each}

  {#if daysBetween(start, course.today) >= 0 && daysBetween(start, course.today) < weeks * 7}
    <path d="M{at(course.today)} 27V332" stroke="var(--color-action)" stroke-width="2" />
    <path d="M{at(course.today) - 5} 22h10l-5 7z" fill="var(--color-action)" />
  {/if}

  {#each inside as s (s.id)}
    {@const shot = s.photographs[0]}
    {#if shot}
      <image
        href="/api/photographs/{shot}/small.jpg"
        x={stands(s.taken_on).x - 3}
        y="213"
        width="38"
        height="50"
        preserveAspectRatio="xMidYMid slice"
      />
      <rect
        x={stands(s.taken_on).x - 3}
        y="213"
        width="38"
        height="50"
        fill="none"
        stroke="var(--color-ink)"
      />
    {/if}
    {#if stands(s.taken_on).words}<text
        x={stands(s.taken_on).x + 42}
        y="228"
        class="text-[12px] font-bold [paint-order:stroke]"
        stroke="var(--color-sheet)"
        stroke-width="4"
        fill="var(--color-ink)">{shortDay(s.taken_on)}</text
      >
      <text
        x={stands(s.taken_on).x + 42}
        y="244"
        class="text-[12px] [paint-order:stroke]"
        stroke="var(--color-sheet)"
        stroke-width="4"
        fill="var(--color-soft)">{s.photographs.length} shot{s.photographs.length === 1 ? '' : 's'}</text
      >{/if}
  {/each}

  {#if reading.length}
    <path d="M{left} 300H{right}" stroke="var(--color-soft)" stroke-dasharray="3 4" />
    {#each reading as r, i (i)}
      {@const x = stands(r.taken_on).x + 6}
      <rect
        x={x - 6}
        y={level(r.value + r.band)}
        width="12"
        height={level(r.value - r.band) - level(r.value + r.band)}
        fill="var(--color-band)"
      />
      <circle
        cx={x}
        cy={level(r.value)}
        r="4"
        fill={r.real ? 'var(--color-ink)' : 'var(--color-sheet)'}
        stroke="var(--color-ink)"
        stroke-width="1.5"
      />
      {#if stands(r.taken_on).words}<text
          x={x + 11}
          y={level(r.value) + 4}
          class="text-[12px] font-bold [paint-order:stroke]"
          stroke="var(--color-sheet)"
          stroke-width="4"
          fill="var(--color-ink)">{signed(r.value)} ±{r.band.toFixed(1)}</text
        >{/if}
    {/each}
  {:else}
    <text x={left + 8} y="304" class="text-[12px]" fill="var(--color-soft)"
      >no measured photograph in these weeks</text
    >
  {/if}

  {#each numbers as n (n)}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <rect
      x={left + (n - 1) * span}
      y="0"
      width={span}
      height="332"
      fill="transparent"
      class="cursor-pointer"
      onmouseenter={() => (hovered = n)}
      onmouseleave={() => (hovered = 0)}
      onclick={() => (week = n)}
    />
  {/each}
</svg>
