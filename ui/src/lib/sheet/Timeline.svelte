<script lang="ts">
  import { clock } from '../format'
  import { onNeck } from '../signature/face-map'
  import FaceMap from '../signature/FaceMap.svelte'
  import PulseTrain from '../signature/PulseTrain.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** One session of the chosen week, every second to scale, and what it loads on each side. */
  let { editor }: { editor: SheetEditor } = $props()
  const week = $derived(editor.sheet?.weeks[editor.place.week - 1])
  const lines = $derived(new Map(editor.sheet?.lines.map((l, i) => [l.id, { line: l, number: i + 1 }])))
  const width = 960
  const scale = $derived(width / Math.max(week?.seconds ?? 1, 1))
  const ticks = $derived(
    Array.from({ length: Math.floor((week?.seconds ?? 0) / 60) + 1 }, (_, i) => i).filter(
      (m) => m % (week && week.seconds > 900 ? 5 : 1) === 0
    )
  )
  const strongest = $derived(Math.max(1, ...(week?.muscles.map((m) => Math.max(m.right_s, m.left_s)) ?? [])))
  /** Load on the map: the strongest muscle is full. */
  const fills = $derived(
    Object.fromEntries(
      (week?.muscles ?? []).map((m) => [m.id, { right: m.right_s / strongest, left: m.left_s / strongest }])
    )
  )
</script>

{#if week}
  <section class="border border-ink bg-sheet px-4 pt-3 pb-3" aria-label="Week {week.number}, one session">
    <h2 class="flex flex-wrap items-baseline gap-x-3">
      Week {week.number}, one session to scale
      <span class="font-sans text-[13px] font-normal tracking-normal text-soft">
        {clock(week.seconds)} in all; contraction of the session
        <span class="text-side-right">right {clock(week.right_s)}</span>,
        <span class="text-side-left">left {clock(week.left_s)}</span>
      </span>
    </h2>
    <svg viewBox="0 0 {width} 74" class="mt-2 block w-full" role="img" aria-label="Session timeline">
      {#each week.segments as s (s.line_id)}
        {@const found = lines.get(s.line_id)}
        {@const train = found?.line.cells[week.number - 1]?.train}
        {#if found && train}
          <g transform="translate({(s.start_s + Math.max(0, s.length_s - train.total_s) / 2) * scale} 4)">
            <PulseTrain
              {train}
              width={Math.max(train.total_s * scale, 2)}
              height={32}
              seconds={train.total_s}
              label={found.line.name}
            />
          </g>
          <text
            x={(s.start_s + s.length_s / 2) * scale}
            y="50"
            text-anchor="middle"
            class="text-[12px] font-bold"
            fill="var(--color-ink)">{found.number}</text
          >
        {/if}
      {/each}
      <path d="M0 56H{width}" stroke="var(--color-ink)" />
      {#each ticks as m (m)}<path d="M{m * 60 * scale} 56v5" stroke="var(--color-ink)" /><text
          x={m * 60 * scale + (m ? 0 : 2)}
          y="72"
          text-anchor={m ? 'middle' : 'start'}
          class="text-[12px]"
          fill="var(--color-soft)">{m ? `${m} min` : '0'}</text
        >{/each}
    </svg>
    {#if week.muscles.length}
      <div class="flex items-start gap-6">
        <div>
          <h3 class="mt-2 text-[15px]">Load of each muscle, contraction a session</h3>
          <p class="text-[12px] text-soft">a prime mover counts whole, a helper half</p>
          <table class="mt-1 text-[13px]">
            <thead class="text-[12px]"
              ><tr
                ><th class="pr-2 text-right font-bold" colspan="2"
                  ><span class="text-side-right">right</span></th
                ><th></th><th class="pl-2 text-left font-bold" colspan="2"
                  ><span class="text-side-left">left</span></th
                ></tr
              ></thead
            >
            <tbody>
              {#each week.muscles as m (m.muscle)}
                <tr class="leading-[19px]">
                  <td class="w-[48px] text-right">{clock(m.right_s)}</td>
                  <td class="w-[150px]"
                    ><span
                      class="ml-auto block h-[11px] border border-side-right bg-[repeating-linear-gradient(135deg,#f3d6c4_0_2px,#b0532a_2px_3px)]"
                      style="width:{(m.right_s / strongest) * 140}px"
                    ></span></td
                  >
                  <td class="w-[230px] text-center">{m.muscle}</td>
                  <td class="w-[150px]"
                    ><span
                      class="block h-[11px] border border-side-left bg-[repeating-linear-gradient(45deg,#c5dedf_0_2px,#1b6c74_2px_3px)]"
                      style="width:{(m.left_s / strongest) * 140}px"
                    ></span></td
                  >
                  <td class="w-[48px]">{clock(m.left_s)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
        <div class="h-[150px] w-[150px]">
          <p class="text-[12px] text-soft">facing you</p>
          <FaceMap
            view="facing"
            {fills}
            fibres={false}
            headOnly={!onNeck(Object.keys(fills))}
            label="load of each muscle"
          />
        </div>
      </div>
    {/if}
  </section>
{/if}
