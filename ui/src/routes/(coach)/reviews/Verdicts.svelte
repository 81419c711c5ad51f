<script lang="ts">
  import Hint from '$lib/parts/Hint.svelte'
  import { KEYS, VERDICTS, type Verdict } from './review.svelte'

  /** The verdicts to choose from, the suggestion underlined. */
  let {
    about,
    verdict,
    suggested,
    open,
    of = VERDICTS,
    choose
  }: {
    about: string
    verdict: Verdict
    suggested: Verdict
    /** The decision can be changed. */
    open: boolean
    of?: readonly Verdict[]
    choose: (v: Verdict) => void
  } = $props()
</script>

<div class="flex" role="radiogroup" aria-label="Verdict on {about}">
  {#each of as v (v)}
    <Hint text="Key {KEYS[v]}"
      >{#snippet child({ props })}
        <button
          {...props}
          role="radio"
          aria-checked={verdict === v}
          disabled={!open}
          tabindex={verdict === v ? 0 : -1}
          class="min-h-chip border border-edge px-2 text-small not-first:border-l-0 {verdict === v
            ? v === 'stop'
              ? 'bg-stop text-white'
              : 'bg-action text-sheet'
            : 'bg-sheet'} {suggested === v ? 'font-bold underline' : ''}"
          onclick={() => choose(v)}>{v}</button
        >{/snippet}</Hint
    >
  {/each}
</div>
