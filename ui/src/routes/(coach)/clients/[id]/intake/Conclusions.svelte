<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Note from '$lib/parts/Note.svelte'

  /** The margin: what Dimbo concludes from what is entered, and what to ask next. */
  let { intake, go }: { intake: Intake; go: (ask: Schemas['AskView']) => void } = $props()
  const c = $derived(intake.view?.conclusions)
  const locked = $derived((c?.held ?? []).filter((h) => h.locked))
  const others = $derived((c?.held ?? []).filter((h) => !h.locked && h.effect && h.effect !== 'remind'))
  const locks = $derived((c?.exercises ?? []).filter((e) => e.effect === 'lock'))
  const next = $derived(c?.ask_next[0])
</script>

{#if c}
  <div class="grid gap-[14px]">
    {#if next}
      <div>
        <h2 class="text-base">Ask next</h2>
        <button
          class="mt-1 block w-full border border-ink bg-sheet px-2 py-1 text-left text-row"
          onclick={() => go(next)}
          >{next.text}<span class="block text-note text-soft">{next.why}</span></button
        >
        {#if c.ask_next.length > 1}
          <p class="mt-1 text-note text-soft">
            and {c.ask_next.length - 1} more. <kbd>Alt</kbd> <kbd>↵</kbd> goes there.
          </p>
        {/if}
      </div>
    {:else}<Note weight="fine">Everything is asked.</Note>{/if}
    {#each locked as h (h.caution)}
      <Note weight="stop"
        >{h.reason}{#if h.remedy}<span class="mt-[2px] block text-soft">{h.remedy}</span>{/if}</Note
      >
    {/each}
    {#each others as h (h.caution)}<Note weight="watch">{h.reason}</Note>{/each}
    {#if locks.length}
      <details class="text-small">
        <summary class="link"
          >{locks.length === 1 ? '1 exercise is locked' : `${locks.length} exercises are locked`}</summary
        >
        <ul class="text-soft">
          {#each locks as e (e.id)}<li>{e.name}: {e.because.join(', ')}</li>{/each}
        </ul>
      </details>
    {/if}
    {#each c.topics.filter((t) => t.conflict) as t (t.id)}<Note weight="watch">{t.conflict}</Note>{/each}
    {#if c.concerns.length}
      <div>
        <h2 class="text-base">Comes from</h2>
        {#each c.concerns as x (x.concern)}
          <p class="mt-1 text-small leading-[1.35]">
            <span class="font-bold">{x.name}.</span>
            {x.chosen
              ? `${x.cause.name.charAt(0).toUpperCase()}${x.cause.name.slice(1)}, as you chose.`
              : x.summary}
          </p>
        {/each}
      </div>
    {/if}
    {#if c.families.length}
      <div>
        <h2 class="text-base">So these help</h2>
        <ul class="mt-1 grid gap-1 text-small leading-[1.35]">
          {#each c.families as f (f.family)}
            <li>
              <span class="font-bold {f.locked.length ? 'text-stop line-through' : ''}">{f.family}</span>
              {f.muscles.length
                ? f.muscles.map((m) => m.name).join(', ')
                : f.concerns.join(', ').toLowerCase()}
              {#if f.locked.length}<span class="text-stop">locked: {f.locked.join(', ').toLowerCase()}</span
                >{/if}
            </li>
          {/each}
        </ul>
      </div>
    {/if}
    <p class="text-note text-soft">
      Dimbo does not diagnose. It defers to licensed clinicians and local rules; you decide.
    </p>
  </div>
{/if}
