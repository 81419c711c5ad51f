<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import ReviewThresholds from './ReviewThresholds.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'
  import { MOST_WEEKS, withWeeks } from './document'
  import type { SheetEditor } from './editor.svelte'

  /** What holds for the whole program: weeks, minutes, approach, what moves it on, and what the client is told. */
  let { open = $bindable(false), editor }: { open?: boolean; editor: SheetEditor } = $props()
  $effect(() => {
    if (open) void catalogue.load()
  })
  const d = $derived(editor.document)
  function number(event: Event, least: number, most: number): number | null {
    const value = Number((event.currentTarget as HTMLInputElement).value)
    return Number.isInteger(value) && value >= least && value <= most ? value : null
  }
  let problem = $state('')
  async function weeks(event: Event) {
    const value = number(event, 1, MOST_WEEKS)
    problem = value === null ? `A program has 1 to ${MOST_WEEKS} weeks.` : ''
    if (value !== null) await editor.change((x) => withWeeks(x, value))
  }
  async function minutes(event: Event) {
    const text = (event.currentTarget as HTMLInputElement).value
    const value = text ? number(event, 1, 120) : null
    problem = text && value === null ? 'Minutes are 1 to 120, or nothing.' : ''
    if (!problem) await editor.setFrame({ minutes: value })
  }
</script>

<Dialog bind:open title="The whole program" width={620}>
  <div class="grid gap-4">
    <div class="grid grid-cols-2 gap-4">
      <label class="grid gap-1"
        >Weeks<NumberField min="1" max={MOST_WEEKS} value={d.weeks} onchange={weeks} /></label
      >
      <label class="grid gap-1"
        >Minutes a session<NumberField
          min="1"
          max="120"
          placeholder="not asked"
          value={d.minutes}
          onchange={minutes}
        /></label
      >
    </div>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <div class="grid grid-cols-2 gap-4">
      <label class="grid gap-1"
        >Approach<select
          class="field"
          value={d.approach}
          onchange={(e) => editor.setFrame({ approach: e.currentTarget.value })}
        >
          {#each catalogue.view?.approaches ?? [{ id: d.approach, name: d.approach }] as a (a.id)}<option
              value={a.id}>{a.name}</option
            >{/each}
        </select></label
      >
      <label class="grid gap-1"
        >Moved on by<select
          class="field"
          value={d.mode}
          onchange={(e) => editor.setFrame({ mode: e.currentTarget.value as 'calendar' | 'earned' })}
        >
          <option value="calendar">the calendar: each week comes by itself</option>
          <option value="earned">the weekly review: a week is earned</option>
        </select></label
      >
    </div>
    <ReviewThresholds {editor} />
    <label class="grid gap-1"
      >What the client is told to expect<textarea
        class="field min-h-lines py-2"
        maxlength="1000"
        value={d.expectations}
        onchange={(e) => editor.setFrame({ expectations: e.currentTarget.value })}></textarea></label
    >
    <p class="text-small text-soft">
      Say when a change can be looked for; promise nothing. Lighter weeks: {d.lighter.length
        ? d.lighter.join(', ')
        : 'none'} (Alt L on the sheet puts one in).
    </p>
  </div>
</Dialog>
