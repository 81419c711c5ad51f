<script lang="ts">
  import { lines, type Easier } from './entry'

  /** The eased version of an exercise: what is said and how much is done where a caution, soreness or a touch asks for less. */
  let { easier = $bindable(), bad }: { easier: Easier | null | undefined; bad: boolean } = $props()
  let cues = $state(easier?.cues.join('\n') ?? '')
  let kept: Easier = easier ?? { cues: [], dose: '' }

  function has(yes: boolean) {
    if (easier) kept = easier
    easier = yes ? { ...kept, cues: lines(cues) } : null
  }
</script>

<fieldset class="col-span-2 border-t border-rule pt-3" data-field="easier">
  <legend class="sr-only">Eased version that is practised</legend>
  <label class="flex items-center gap-2 {bad ? 'text-stop' : ''}"
    ><input type="checkbox" checked={!!easier} onchange={(e) => has(e.currentTarget.checked)} />It can be
    practised in an eased version</label
  >
  <p class="text-small text-soft">
    Done instead where a caution, soreness or the client asks for less: with its own cues, dose and time.
    Without one, an exercise that strains is left out then.
  </p>
  {#if easier}
    <div class="mt-2 grid grid-cols-2 gap-x-6">
      <label class="grid gap-1"
        >Cues of the eased version, one a line<textarea
          class="field min-h-lines py-2"
          bind:value={cues}
          oninput={() => easier && (easier.cues = lines(cues))}></textarea></label
      >
      <label class="grid content-start gap-1"
        >Its dose, no more than the start dose<input class="field dose" bind:value={easier.dose} /></label
      >
    </div>
  {/if}
</fieldset>
