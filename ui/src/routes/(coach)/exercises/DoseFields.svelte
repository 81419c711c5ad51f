<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { lines, toggle, type Entry } from './entry'

  /** How much of an exercise is done: where it starts and ends, what it is raised by, how long its parts take. */
  let { entry = $bindable(), field }: { entry: Entry; field: string } = $props()
  const AXES = ['hold', 'reps', 'sets', 'sessions']
  const bad = (name: string) => (field === name ? 'border-stop' : '')
  type Way = string | { name: string; loads: string }
  const ways = (directions: unknown[]) =>
    (directions as Way[]).map((d) => (typeof d === 'string' ? d : `${d.name} (${d.loads})`)).join('\n')
  /** Ways as lines; "(left)" or "(right)" behind one says which side it loads. */
  const waysOf = (text: string): Way[] =>
    lines(text).map((l) => {
      const loads = /\((left|right|both)\)$/.exec(l)
      return loads ? { name: l.slice(0, loads.index).trim(), loads: loads[1]! } : l
    })
</script>

<fieldset class="col-span-2">
  <legend class="sr-only">Dose</legend>
  <div class="grid grid-cols-4 gap-3">
    <label class="grid gap-1" data-field="start"
      >Start dose<input class="field dose {bad('start')}" bind:value={entry.start} /></label
    >
    <label class="grid gap-1" data-field="target"
      >Target dose<input class="field dose {bad('target')}" bind:value={entry.target} /></label
    >
    <label class="grid gap-1" data-field="ceiling"
      >Most a day, {entry.ceiling.basis === 'times' ? 'times' : 's'}<NumberField
        class={bad('ceiling')}
        min="1"
        bind:value={entry.ceiling.seconds}
      /></label
    >
    <label class="grid gap-1" data-field="sides"
      >Sides<select class="field" bind:value={entry.sides}>
        <option value="together">together</option>
        <option value="each">each apart</option>
        <option value="weak">each apart, the weaker may get more</option>
      </select></label
    >
    {#each entry.phases as phase, i (i)}
      <label class="grid gap-1"
        >Lead, part {i + 1}, s<NumberField step="0.1" min="0" bind:value={phase.lead} /></label
      >
      <label class="grid gap-1"
        >Release, part {i + 1}, s<NumberField step="0.1" min="0" bind:value={phase.release} /></label
      >
      <label class="col-span-2 grid gap-1"
        >Directions, part {i + 1}, one a line where there are more<textarea
          class="field min-h-press py-2"
          placeholder="up&#10;to the left (left)"
          value={ways(phase.directions)}
          onchange={(e) => (phase.directions = waysOf(e.currentTarget.value))}></textarea></label
      >
    {/each}
    <label class="grid gap-1">Rest, s<NumberField min="0" bind:value={entry.rest} /></label>
    <label class="grid gap-1">Setup, s<NumberField min="0" bind:value={entry.setup} /></label>
  </div>
  <div class="mt-3 flex flex-wrap gap-x-5 gap-y-1" data-field="axes">
    <span class={field === 'axes' ? 'text-stop' : ''}
      >Raised by, in this order: {entry.axes.join(', ') || 'nothing'}</span
    >
    {#each AXES as a (a)}<label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          checked={entry.axes.includes(a)}
          onchange={() => (entry.axes = toggle(entry.axes, a))}
        />{a}</label
      >{/each}
  </div>
</fieldset>
