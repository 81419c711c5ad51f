<script lang="ts">
  import type { Snippet } from 'svelte'
  import Choice from './Choice.svelte'

  /** A question with its answers in one line, or below each other for fingers. */
  let {
    ask,
    options,
    value,
    id,
    choose,
    hint = '',
    problem = '',
    big = false,
    takeBack = false,
    end,
    more
  }: {
    ask: string
    options: { value: string; label: string; key?: string; title?: string }[]
    value: string
    id: string
    choose: (value: string) => void
    hint?: string
    problem?: string
    big?: boolean
    takeBack?: boolean
    end?: () => void
    /** Beside the question: a link, a date. */
    more?: Snippet
  } = $props()
</script>

<div
  class={big
    ? 'grid gap-2 border-b border-rule py-3 text-sub'
    : 'grid grid-cols-[1fr_auto] items-center gap-x-4 border-b border-rule py-[5px]'}
>
  <div class={big ? '' : 'leading-[1.3]'}>
    {ask}{#if more}<span class="ml-2 text-small text-soft">{@render more()}</span>{/if}{#if hint}<span
        class="block text-small text-soft">{hint}</span
      >{/if}
  </div>
  <Choice {options} {value} label={ask} {id} {choose} {big} {takeBack} {end} />
  {#if problem}<p role="alert" class="col-span-2 text-small text-stop">{problem}</p>{/if}
</div>
