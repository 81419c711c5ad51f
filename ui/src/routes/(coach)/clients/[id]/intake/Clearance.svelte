<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { api, ask, type Schemas } from '$lib/api/client'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'

  /** Somebody's word that releases a lock: who, in what role, when, for what, until when. */
  let {
    open = $bindable(false),
    intake,
    rule
  }: { open?: boolean; intake: Intake; rule: Schemas['CautionRuleView'] } = $props()

  const blank = () => ({ by_name: '', role: '', given_on: '', says: '', valid_from: '', until: '' })
  let form = $state(blank())
  let regions = $state<string[]>([])
  let problem = $state('')
  let id = $state('')
  const place = $derived(`dimbo clearance ${intake.client} ${rule.id}`)
  $effect(() => {
    if (open && !id) {
      id = crypto.randomUUID()
      form = { ...blank(), ...(JSON.parse(sessionStorage.getItem(place) ?? '{}') as object) }
    }
  })
  const offered = $derived(rule.noted_regions ? (intake.view?.cautions[rule.id]?.regions ?? []) : [])

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    problem = await intake.run(
      ask(
        api.POST('/api/clients/{client_id}/facts', {
          params: { path: { client_id: intake.client } },
          body: {
            entries: [
              {
                id,
                kind: 'clearance',
                key: rule.id,
                value: { ...form, regions, valid_from: form.valid_from || null, until: form.until || null }
              }
            ]
          }
        })
      )
    )
    if (!problem) {
      open = false
      sessionStorage.removeItem(place)
      id = ''
      form = blank()
      regions = []
    }
  }
</script>

<Dialog bind:open title="Clearance: {rule.name}" width={560}>
  <p class="text-row">
    {rule.cleared_by === 'coach'
      ? 'Record what you saw.'
      : 'Record what the treating clinician said, not what you think.'}
    {#if rule.cleared_by !== 'coach'}<a class="link" href="/clients/{intake.client}/letters?begin=clinician"
        >Write to the clinician what was observed</a
      >.{/if}
    It must say: {rule.says} It holds for {rule.lasts_months} months at most, speaks of this event only, and stands
    in the record with your name; it cannot be taken out.
  </p>
  <form
    class="mt-3 grid grid-cols-2 gap-3"
    onsubmit={keep}
    oninput={() => sessionStorage.setItem(place, JSON.stringify(form))}
  >
    <label class="grid gap-1">Name<input class="field" required bind:value={form.by_name} /></label>
    <label class="grid gap-1"
      >Role<select class="field" required bind:value={form.role}>
        <option value="" disabled>choose</option>
        {#each rule.roles as role (role)}<option>{role}</option>{/each}
      </select></label
    >
    <label class="grid gap-1"
      >Given on<WhenField required max={intake.view?.today} bind:value={form.given_on} /></label
    >
    <span></span>
    <label class="grid gap-1"
      ><span>From <span class="text-soft">(at once when empty)</span></span><WhenField
        bind:value={form.valid_from}
      /></label
    >
    <label class="grid gap-1"
      ><span>Until <span class="text-soft">(no end when empty)</span></span><WhenField
        bind:value={form.until}
      /></label
    >
    {#if offered.length > 1}
      <fieldset class="col-span-2">
        <legend>For which regions? <span class="text-soft">All of them when none is ticked.</span></legend>
        <div class="flex flex-wrap gap-3">
          {#each offered as region (region)}
            <label class="flex items-center gap-1"
              ><input type="checkbox" value={region} bind:group={regions} />{region}</label
            >
          {/each}
        </div>
      </fieldset>
    {/if}
    <label class="col-span-2 grid gap-1"
      >What was said<textarea class="h-[70px] field py-2" required bind:value={form.says}></textarea></label
    >
    {#if problem}<p role="alert" class="col-span-2 text-stop">{problem}</p>{/if}
    <button class="col-span-2 act">Record the clearance</button>
  </form>
</Dialog>
