<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { clock, weekDay } from '$lib/format'
  import LoggedDay from './LoggedDay.svelte'

  let { course, week }: { course: Schemas['CourseView']; week: number } = $props()
  const days = $derived(course.days.filter((d) => d.week === week))
  const longest = $derived(Math.max(1, ...days.map((d) => d.planned_s + d.over_s)))
  let opened = $state('')
  const said = {
    done: 'done',
    partly: 'partly done',
    skipped: 'not practised',
    open: 'due, until 03:00',
    future: 'planned',
    paused: 'paused',
    extra: 'without a plan'
  }
</script>

<section class="-mt-px border border-ink bg-sheet px-4 pt-3 pb-4" aria-label="Week {week}">
  <h2>Week {week}</h2>
  {#if !days.length}<p class="mt-1 text-soft">No sessions are planned in this week.</p>{/if}
  <table class="mt-2 w-full text-[14px]">
    <thead class="text-left text-[13px] text-soft"
      ><tr
        ><th class="w-[84px] font-normal">day</th><th class="font-normal">exercise time, to scale</th><th
          class="w-[150px] font-normal">done of planned</th
        ><th class="w-[60px] font-normal">effort</th><th class="w-[76px] font-normal">soreness</th><th
          class="w-[140px] font-normal">state</th
        ></tr
      ></thead
    >
    <tbody>
      {#each days as d (d.day)}
        {@const done = d.logs.reduce((sum, l) => sum + l.done_s, 0)}
        <tr
          class="h-[27px] {d.state === 'open' ? 'bg-paper font-bold' : ''} {d.state === 'future'
            ? 'text-soft'
            : ''}"
        >
          <td
            >{#if d.logs.length}<button
                class="link"
                aria-expanded={opened === d.day}
                onclick={() => (opened = opened === d.day ? '' : d.day)}>{weekDay(d.day)}</button
              >{:else}{weekDay(d.day)}{/if}</td
          >
          <td>
            <svg viewBox="0 0 500 14" preserveAspectRatio="none" class="h-[14px] w-[94%]" aria-hidden="true">
              <rect
                x=".5"
                y="2.5"
                width={(d.planned_s / longest) * 499}
                height="9"
                fill="none"
                stroke="#a99eac"
                vector-effect="non-scaling-stroke"
              />
              <rect
                x="0"
                y="2"
                width={(Math.min(done, d.planned_s) / longest) * 499}
                height="10"
                fill="var(--color-ink)"
              />
              {#if d.over_s > 5}<rect
                  x={(d.planned_s / longest) * 499}
                  y="2"
                  width={(d.over_s / longest) * 499}
                  height="10"
                  fill="var(--color-mark-watch)"
                />{/if}
            </svg>
          </td>
          <td>{d.logs.length ? `${clock(done)} of ${clock(d.planned_s)}` : clock(d.planned_s)}</td>
          <td>{d.logs.at(-1)?.effort ?? ''}</td>
          <td class={(d.soreness ?? 0) > 5 ? 'font-bold text-watch' : ''}>{d.soreness ?? ''}</td>
          <td class={d.over_s > 60 ? 'text-watch' : ''}
            >{d.over_s > 60 ? `${clock(d.over_s)} above plan` : said[d.state]}</td
          >
        </tr>
        {#each d.logs.filter((l) => l.note) as l (l.id)}
          <tr><td></td><td colspan="5" class="pb-1 text-[13px] italic">“{l.note}”</td></tr>
        {/each}
        {#if opened === d.day}<tr
            ><td></td><td colspan="5" class="py-1"
              ><LoggedDay id={course.id} day={d.day} zone={course.time_zone} /></td
            ></tr
          >{/if}
      {/each}
    </tbody>
  </table>
</section>
