<script lang="ts">
  import type { Schemas } from '$lib/api/client'

  /** What an erasure takes, and what it cannot take or must leave. */
  let { record, mine = false }: { record: Schemas['RecordView']; mine?: boolean } = $props()
  const held = $derived(record.held)
  const several = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`
</script>

<div class="grid gap-3">
  <div>
    <h3>What goes, at once and for good</h3>
    <ul class="mt-1 list-disc pl-5">
      <li>
        {several(held.photographs, 'photograph', 'photographs')} and everything measured on {held.photographs ===
        1
          ? 'it'
          : 'them'}
      </li>
      <li>
        {several(held.sessions, 'practised session', 'practised sessions')}, {several(
          held.programs,
          'program',
          'programs'
        )}, reviews and check-ins
      </li>
      <li>all answers, ratings, agreements and notes, and {several(held.messages, 'message', 'messages')}</li>
      <li>
        {mine
          ? 'your account: you are signed out everywhere'
          : 'the account: the client is signed out everywhere'}
      </li>
    </ul>
  </div>
  <div>
    <h3>What stays</h3>
    <ul class="mt-1 list-disc pl-5">
      <li>a line without a name: that there was a record, the day it was erased, by whom and why</li>
      <li>backups from before, until they are thrown away; whoever restores one erases this again</li>
      <li>letters that were delivered already, and files that were taken out</li>
      {#if record.keeps.kept_by_law}<li>
          what the practice keeps outside Dimbo because it must: “{record.keeps.kept_by_law}”
        </li>{:else}<li>
          what local law makes the practice keep outside Dimbo, such as bills; ask {mine
            ? 'your coach'
            : 'whoever knows your local rules'}
        </li>{/if}
    </ul>
  </div>
</div>
