<script lang="ts">
  import type { Schemas } from '../api/client'
  import Choice from './Choice.svelte'

  /** Severity 0 to 4 of a concern, each side apart where it is paired, with the words of the level. */
  let {
    concern,
    right,
    left,
    rate,
    big = false
  }: {
    concern: Schemas['ConcernTableView']
    right: number | null
    left: number | null
    rate: (right: number, left: number) => void
    big?: boolean
  } = $props()

  const options = $derived(
    ['none', ...concern.levels].map((title, n) => ({
      value: String(n),
      label: String(n),
      key: String(n),
      title
    }))
  )
  const told = (n: number | null) =>
    n === null ? 'not rated' : n === 0 ? 'none' : (concern.levels[n - 1] ?? '')
  const shown = (n: number | null) => (n === null ? '' : String(n))
</script>

{#if concern.paired}
  {#each [{ side: 'right' as const, value: right }, { side: 'left' as const, value: left }] as s (s.side)}
    <div class="flex items-center gap-3 {big ? 'flex-wrap py-2' : ''}">
      <span
        class="w-[40px] font-bold {s.side === 'right' ? 'text-side-right' : 'text-side-left'} {big
          ? 'text-sub'
          : 'text-row'}">{s.side}</span
      >
      <Choice
        {options}
        value={shown(s.value)}
        label="{concern.name}, {s.side}, severity 0 to 4"
        id="{concern.id}-{s.side}"
        tone={s.side}
        {big}
        choose={(v) => (s.side === 'right' ? rate(Number(v), left ?? 0) : rate(right ?? 0, Number(v)))}
      />
      <span class={big ? 'text-lead' : 'text-small text-soft'}>{told(s.value)}</span>
    </div>
  {/each}
{:else}
  <div class="flex items-center gap-3 {big ? 'flex-wrap py-2' : ''}">
    <span class="w-[40px] text-small text-soft">both</span>
    <Choice
      {options}
      value={shown(right)}
      label="{concern.name}, severity 0 to 4"
      id="{concern.id}-right"
      {big}
      choose={(v) => rate(Number(v), Number(v))}
    />
    <span class={big ? 'text-lead' : 'text-small text-soft'}>{told(right)}</span>
  </div>
{/if}
