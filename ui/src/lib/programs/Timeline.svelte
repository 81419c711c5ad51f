<script lang="ts">
  import { clock } from '$lib/format'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** One session of the chosen week, every second to scale. */
  let { editor, at }: { editor: SheetEditor; at: number } = $props()
  const week = $derived(editor.sheet?.weeks[at - 1])
  const lines = $derived(new Map(editor.sheet?.lines.map((l, i) => [l.id, { line: l, number: i + 1 }])))
  let chosen = $state(0)
  const plans = $derived(week?.plans ?? [])
  const plan = $derived(plans[Math.min(chosen, plans.length - 1)])
  const width = 800
  const scale = $derived(width / Math.max(plan?.seconds ?? 1, 1))
  const ticks = $derived(
    Array.from({ length: Math.floor((plan?.seconds ?? 0) / 60) + 1 }, (_, i) => i).filter(
      (m) => m % (plan && plan.seconds > 900 ? 5 : plan && plan.seconds > 420 ? 2 : 1) === 0
    )
  )
  /** Stretches of one stage, for the brackets above. */
  const stages = $derived.by(() => {
    const out: { stage: string; from: number; to: number }[] = []
    for (const s of plan?.segments ?? []) {
      const stage = lines.get(s.line_id)?.line.stage ?? ''
      const last = out.at(-1)
      if (last && last.stage === stage) last.to = s.start_s + s.length_s
      else out.push({ stage, from: s.start_s, to: s.start_s + s.length_s })
    }
    return out
  })
  const here = $derived(editor.sheet?.lines[editor.place.row]?.id)
  const named = (p: (typeof plans)[number]) =>
    `${(editor.sheet?.parts.length ?? 1) > 1 ? `${p.when}, ` : ''}${p.days} ${p.days === 1 ? 'day' : 'days'}: ${clock(p.seconds)}`
</script>

{#if week && plan}
  <div class="flex flex-wrap items-baseline gap-x-3">
    <h2>Week {week.number}, one session to scale</h2>
    <p class="text-small text-soft">
      {clock(plan.seconds)} in all; contraction of the session
      <span class="text-side-right">right {clock(plan.right_s)}</span>,
      <span class="text-side-left">left {clock(plan.left_s)}</span>
    </p>
  </div>
  {#if plans.length > 1}
    <div class="mt-1 flex flex-wrap gap-x-4 text-small" role="group" aria-label="Sessions of the week">
      {#each plans as p, i (i)}<button
          class={plan === p ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={plan === p}
          onclick={() => (chosen = i)}>{named(p)}</button
        >{/each}
    </div>
  {/if}
  <svg viewBox="0 0 {width} 88" class="mt-1 block w-full" role="img" aria-label="Session timeline">
    {#each stages as s, i (i)}
      {@const x = s.from * scale}
      {@const wide = (s.to - s.from) * scale}
      <path d="M{x} 18v-4H{x + wide}v4" fill="none" stroke="var(--color-ink)" stroke-width=".8" />
      {#if wide > s.stage.length * 6.4}<text
          x={x + wide / 2}
          y="10"
          text-anchor="middle"
          class="text-note font-bold"
          fill="var(--color-ink)">{s.stage[0]?.toUpperCase()}{s.stage.slice(1)}</text
        >{/if}
    {/each}
    {#each plan.segments as s, i (i)}
      {@const found = lines.get(s.line_id)}
      {@const at = found?.line.cells[week.number - 1]?.train ?? null}
      {@const train = at === null ? null : editor.sheet?.trains[at]}
      {#if found && train}
        {#if s.line_id === here}<rect
            x={s.start_s * scale - 1}
            y="20"
            width={s.length_s * scale + 2}
            height="46"
            fill="var(--color-band)"
          />{/if}
        <g transform="translate({(s.start_s + Math.max(0, s.length_s - train.total_s) / 2) * scale} 22)">
          <PulseTrain
            {train}
            width={Math.max(train.total_s * scale, 2)}
            height={28}
            seconds={train.total_s}
            label={found.line.name}
          />
        </g>
        <text
          x={(s.start_s + s.length_s / 2) * scale}
          y="63"
          text-anchor="middle"
          class="text-note font-bold"
          fill="var(--color-ink)">{found.number}</text
        >
      {/if}
    {/each}
    <path d="M0 69H{width}" stroke="var(--color-ink)" />
    {#each ticks as m (m)}<path d="M{m * 60 * scale} 69v4" stroke="var(--color-ink)" /><text
        x={m * 60 * scale + (m ? 0 : 2)}
        y="85"
        text-anchor={m ? (m * 60 * scale > width - 24 ? 'end' : 'middle') : 'start'}
        class="text-note"
        fill="var(--color-soft)">{m ? `${m} min` : '0'}</text
      >{/each}
  </svg>
{/if}
