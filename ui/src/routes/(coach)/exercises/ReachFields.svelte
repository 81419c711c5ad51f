<script lang="ts">
  import { catalogue } from '$lib/exercises/catalogue.svelte'
  import { toggle, type Entry } from './entry'

  /** What an exercise helps with, what works in it, and what cautions may hold it by. */
  let { entry = $bindable(), field }: { entry: Entry; field: string } = $props()
  const regions = $derived([...new Set((catalogue.view?.muscles ?? []).map((m) => m.region))])
  /** Regions of the muscles that are chosen: they count whatever is written. */
  const own = $derived(
    new Set(
      (catalogue.view?.muscles ?? [])
        .filter((m) => entry.prime_movers.includes(m.id) || entry.helpers.includes(m.id))
        .map((m) => m.region)
    )
  )
</script>

<fieldset data-field="concerns" class="max-h-[190px] overflow-y-auto border border-rule p-2">
  <legend>Helps with</legend>
  {#each catalogue.view?.concerns ?? [] as c (c.id)}<label class="flex items-center gap-2 text-row"
      ><input
        type="checkbox"
        checked={entry.concerns.includes(c.id)}
        onchange={() => (entry.concerns = toggle(entry.concerns, c.id))}
      />{c.name}</label
    >{/each}
</fieldset>
<fieldset data-field="prime_movers" class="max-h-[190px] overflow-y-auto border border-rule p-2">
  <legend>Prime movers and helpers</legend>
  {#each catalogue.view?.muscles ?? [] as m (m.id)}<div class="grid grid-cols-[1fr_auto_auto] gap-3 text-row">
      <span>{m.name}</span>
      <label class="flex items-center gap-1"
        ><input
          type="checkbox"
          checked={entry.prime_movers.includes(m.id)}
          onchange={() => (entry.prime_movers = toggle(entry.prime_movers, m.id))}
        />prime</label
      ><label class="flex items-center gap-1"
        ><input
          type="checkbox"
          checked={entry.helpers.includes(m.id)}
          onchange={() => (entry.helpers = toggle(entry.helpers, m.id))}
        />helper</label
      >
    </div>{/each}
</fieldset>
<fieldset class="col-span-2 border-t border-rule pt-2" data-field="regions">
  <legend class={field === 'regions' ? 'text-stop' : ''}>Regions that hands or work reach</legend>
  <p class="text-small text-soft">
    Those of the muscles and of the figure’s hands always count; choose what the words reach besides. Cautions
    hold an exercise by them.
  </p>
  <div class="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-row">
    {#each regions as r (r)}<label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          checked={own.has(r) || entry.regions.includes(r)}
          disabled={own.has(r)}
          onchange={() => (entry.regions = toggle(entry.regions, r))}
        />{r}</label
      >{/each}
  </div>
</fieldset>
<fieldset class="col-span-2" data-field="marks">
  <legend class={field === 'marks' ? 'text-stop' : ''}>What else a caution may hold</legend>
  <div class="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-row">
    {#each catalogue.view?.marks ?? [] as m (m.id)}<label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          checked={entry.marks.includes(m.id)}
          onchange={() => (entry.marks = toggle(entry.marks, m.id))}
        />{m.name}</label
      >{/each}
  </div>
</fieldset>
