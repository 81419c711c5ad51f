<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { longDate } from '$lib/format'

  /** How long things are kept, and what goes on which day. */
  let { record, mine = false }: { record: Schemas['RecordView']; mine?: boolean } = $props()
  const months = (n: number) =>
    n % 12 ? (n === 1 ? '1 month' : `${n} months`) : n === 12 ? '1 year' : `${n / 12} years`
  const keeps = $derived(record.keeps)
  const WHAT = { photographs: 'Photographs', record: 'The whole record' }
</script>

<div class="mt-2 grid gap-2">
  {#if record.kept_until}<p>Nothing is deleted for its age before {longDate(record.kept_until)}.</p>{/if}
  {#each record.going as g (g.what)}
    <p class={g.told ? 'border-l-4 border-watch pl-3' : ''}>
      {WHAT[g.what]}
      {g.told ? 'will be deleted' : 'would be deleted'} on <b>{longDate(g.goes_on)}</b>{g.told
        ? mine
          ? '. Take everything out before, or ask your coach to keep it longer.'
          : '. The client was told.'
        : ', if nothing happens until then. A letter comes 30 days before.'}
    </p>
  {:else}
    <p>
      {#if record.running && (keeps.keep_photographs_months || keeps.keep_records_months)}While a program runs
        nothing is deleted for its age.{:else if !keeps.keep_photographs_months && !keeps.keep_records_months}Nothing
        is deleted for its age alone.{:else}There is nothing that would be deleted for its age.{/if}
    </p>
  {/each}
  {#if keeps.keep_photographs_months || keeps.keep_records_months}<p class="text-row text-soft">
      {record.practice} keeps photographs {keeps.keep_photographs_months
        ? months(keeps.keep_photographs_months)
        : 'as long as the record'}{keeps.keep_records_months
        ? ` and the rest ${months(keeps.keep_records_months)}`
        : ''} after the last course.
    </p>{/if}
</div>
