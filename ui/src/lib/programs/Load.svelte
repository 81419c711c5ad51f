<script lang="ts">
  import { clock } from '$lib/format'
  import { onNeck, type Fills } from '$lib/signature/face-map'
  import FaceMap from '$lib/signature/FaceMap.svelte'
  import type { SheetEditor } from './editor.svelte'

  /** What the chosen week asks of each muscle and side: on the face map, as bars, and as a track over all weeks. */
  let { editor, at: open }: { editor: SheetEditor; at: number } = $props()
  let kind = $state<'contraction' | 'hands'>('contraction')
  let span = $state<'week' | 'session'>('week')
  let all = $state(false)
  let at = $state<{ muscle: string; side: 'right' | 'left' } | null>(null)
  const weeks = $derived(editor.sheet?.weeks ?? [])
  const week = $derived(weeks[open - 1])
  const of = (m: (typeof weeks)[number]['muscles'][number]) =>
    span === 'week'
      ? kind === 'contraction'
        ? [m.right_s, m.left_s]
        : [m.hands_right_s, m.hands_left_s]
      : kind === 'contraction'
        ? [m.session_right_s, m.session_left_s]
        : [m.session_hands_right_s, m.session_hands_left_s]
  const muscles = $derived(
    (week?.muscles ?? [])
      .map((m) => ({ id: m.id, name: m.muscle, right: of(m)[0] ?? 0, left: of(m)[1] ?? 0 }))
      .filter((m) => m.right + m.left > 0)
      .sort((a, b) => b.right + b.left - a.right - a.left)
  )
  const shown = $derived(all ? muscles : muscles.slice(0, 8))
  const strongest = $derived(Math.max(1, ...muscles.map((m) => Math.max(m.right, m.left))))
  const fills = $derived<Fills>(
    Object.fromEntries(muscles.map((m) => [m.id, { right: m.right / strongest, left: m.left / strongest }]))
  )
  /** A muscle's busier side over the weeks, to the strongest week of any muscle. */
  const tracks = $derived.by(() => {
    const out = new Map<string, number[]>()
    for (const [i, w] of weeks.entries())
      for (const m of w.muscles) {
        const list = out.get(m.id) ?? weeks.map(() => 0)
        list[i] = Math.max(...of(m))
        out.set(m.id, list)
      }
    return out
  })
  function track(id: string): string {
    const values = tracks.get(id) ?? []
    const top = Math.max(1, ...values)
    const step = 72 / Math.max(values.length, 1)
    return values
      .map(
        (v, i) => `M${(i * step).toFixed(1)} 13v-${((v / top) * 12).toFixed(1)}h${(step - 1).toFixed(1)}V13z`
      )
      .join('')
  }
</script>

{#if week}
  <section class="min-w-0" aria-label="Load in week {week.number}">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h2>Load in week {week.number}</h2>
      <div class="flex gap-3 text-small" role="group" aria-label="Of what">
        <button
          class={span === 'week' ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={span === 'week'}
          onclick={() => (span = 'week')}>the week</button
        ><button
          class={span === 'session' ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={span === 'session'}
          onclick={() => (span = 'session')}>a session</button
        >
      </div>
      <div class="flex gap-3 text-small" role="group" aria-label="What is shown">
        <button
          class={kind === 'contraction' ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={kind === 'contraction'}
          onclick={() => (kind = 'contraction')}>contraction</button
        ><button
          class={kind === 'hands' ? 'border-b-2 border-action font-bold' : 'link'}
          aria-pressed={kind === 'hands'}
          onclick={() => (kind = 'hands')}>hands-on</button
        >
      </div>
      <p class="text-note text-soft">
        minutes of {span === 'session'
          ? 'the longest session'
          : week.days === 'daily'
            ? 'all seven days'
            : `all ${week.days}`}; {kind === 'contraction'
          ? 'a prime mover counts whole, a helper half'
          : 'release, drain, press, stretch, each muscle whole'}
      </p>
    </div>
    <div class="mt-1 grid grid-cols-[132px_minmax(0,1fr)] gap-4">
      <div>
        <div class="h-[150px]">
          <FaceMap
            view="facing"
            {fills}
            fibres={false}
            headOnly={!onNeck(Object.keys(fills))}
            label="load of each muscle"
            bind:at
          />
        </div>
        <p class="text-center text-note text-soft">facing you</p>
      </div>
      <div class="min-w-0 overflow-x-auto">
        <table class="text-small">
          <thead class="text-note"
            ><tr
              ><th class="pr-2 text-right font-bold" colspan="2"
                ><span class="text-side-right">right</span></th
              ><th></th><th class="pl-2 text-left font-bold" colspan="2"
                ><span class="text-side-left">left</span></th
              ><th class="pl-4 text-left font-normal whitespace-nowrap text-soft"
                >weeks 1 to {weeks.length}</th
              ></tr
            ></thead
          >
          <tbody>
            {#each shown as m (m.id)}
              <tr class="leading-[19px]">
                <td class="w-[46px] text-right">{clock(m.right)}</td>
                <td class="w-[120px]"
                  ><span
                    class="ml-auto block h-[11px] border border-side-right bg-[repeating-linear-gradient(135deg,#f3d6c4_0_2px,#b0532a_2px_3px)]"
                    style="width:{(m.right / strongest) * 112}px"
                  ></span></td
                >
                <td class="w-[190px] text-center whitespace-nowrap">{m.name}</td>
                <td class="w-[120px]"
                  ><span
                    class="block h-[11px] border border-side-left bg-[repeating-linear-gradient(45deg,#c5dedf_0_2px,#1b6c74_2px_3px)]"
                    style="width:{(m.left / strongest) * 112}px"
                  ></span></td
                >
                <td class="w-[46px]">{clock(m.left)}</td>
                <td class="w-[90px] pl-4"
                  ><svg
                    viewBox="0 0 72 14"
                    class="h-[14px] w-[72px]"
                    role="img"
                    aria-label="{m.name} over the weeks"
                    ><path d={track(m.id)} fill="var(--color-soft)" /><path
                      d="M{((open - 1) * 72) / weeks.length} 13.5h{72 / weeks.length - 1}"
                      stroke="var(--color-action)"
                      stroke-width="1.6"
                    /></svg
                  ></td
                >
              </tr>
            {:else}
              <tr
                ><td colspan="6" class="py-2 text-soft"
                  >{kind === 'contraction'
                    ? 'Nothing contracts in this week.'
                    : 'No muscle is handled in this week.'}</td
                ></tr
              >
            {/each}
          </tbody>
        </table>
        {#if muscles.length > 8}<button class="mt-1 text-small link" onclick={() => (all = !all)}
            >{all ? 'the eight most loaded' : `all ${muscles.length} muscles`}</button
          >{/if}
      </div>
    </div>
  </section>
{/if}
