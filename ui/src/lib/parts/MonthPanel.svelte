<script lang="ts">
  import { parseDate, type DateValue } from '@internationalized/date'
  import { Calendar } from 'bits-ui'
  import { onMount, tick } from 'svelte'

  /** A month to choose a day from, all days year-month-day. It comes only when it is opened: telephones have their own. */
  let {
    value,
    near,
    min,
    max,
    take
  }: { value: string; near: string; min: string; max: string; take: (day: string) => void } = $props()
  let panel = $state<HTMLElement | null>(null)
  onMount(async () => {
    await tick()
    panel?.querySelector<HTMLElement>('[data-calendar-day][tabindex="0"]')?.focus()
  })
  const asDate = (iso: string): DateValue | undefined => {
    try {
      return iso ? parseDate(iso) : undefined
    } catch {
      return undefined // a year that is still being typed
    }
  }
</script>

<Calendar.Root
  type="single"
  value={asDate(value)}
  placeholder={asDate(value) ?? asDate(near)}
  minValue={asDate(min)}
  maxValue={asDate(max)}
  weekStartsOn={1}
  weekdayFormat="short"
  fixedWeeks
  locale="en-GB"
  bind:ref={panel}
  calendarLabel="Choose a day"
  onValueChange={(d: DateValue | undefined) => d && take(d.toString())}
>
  {#snippet children({ months, weekdays })}
    <Calendar.Header class="flex items-center justify-between">
      <Calendar.PrevButton class="min-h-chip min-w-8 link">‹</Calendar.PrevButton>
      <Calendar.Heading class="font-head font-semibold" />
      <Calendar.NextButton class="min-h-chip min-w-8 link">›</Calendar.NextButton>
    </Calendar.Header>
    {#each months as month (month.value.toString())}
      <Calendar.Grid>
        <Calendar.GridHead>
          <Calendar.GridRow>
            {#each weekdays as d, i (i)}<Calendar.HeadCell class="w-9 text-note font-normal text-soft"
                >{d.slice(0, 2)}</Calendar.HeadCell
              >{/each}
          </Calendar.GridRow>
        </Calendar.GridHead>
        <Calendar.GridBody>
          {#each month.weeks as week, i (i)}
            <Calendar.GridRow>
              {#each week as date (date.toString())}
                <Calendar.Cell {date} month={month.value} class="p-0 text-center">
                  <Calendar.Day
                    class="flex size-9 cursor-pointer items-center justify-center rounded hover:bg-band data-disabled:pointer-events-none data-disabled:text-faint data-outside-month:text-soft data-selected:bg-action data-selected:text-sheet data-today:font-bold data-today:underline"
                    >{date.day}</Calendar.Day
                  >
                </Calendar.Cell>
              {/each}
            </Calendar.GridRow>
          {/each}
        </Calendar.GridBody>
      </Calendar.Grid>
    {/each}
  {/snippet}
</Calendar.Root>
