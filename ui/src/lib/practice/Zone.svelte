<script lang="ts">
  import { api, ask, attempt } from '$lib/api/client'

  /** When the phone is in another time zone than the plan, its owner may have travelled. */
  let { zone, moved }: { zone: string; moved: () => Promise<void> } = $props()
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone
  const KEY = 'dimbo-zone-kept'
  let stayed = $state(localStorage.getItem(KEY))
  const kept = $derived(stayed === `${zone} ${here}`)
  let problem = $state('')
  const offset = (name: string) =>
    new Intl.DateTimeFormat('en', { timeZone: name, timeZoneName: 'shortOffset' })
      .formatToParts(new Date())
      .find((p) => p.type === 'timeZoneName')?.value
  const differs = $derived(here !== zone && offset(here) !== offset(zone))
  const city = (name: string) => name.split('/').at(-1)?.replaceAll('_', ' ')

  function stay() {
    stayed = `${zone} ${here}`
    localStorage.setItem(KEY, stayed)
  }

  async function move() {
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.PUT('/api/my-zone', { body: { time_zone: here } }))
        await moved()
      }
    )
  }
</script>

{#if differs && !kept}
  <div class="mt-4 border-l-4 border-mark-watch pl-3">
    Your days are those of {city(zone)}; this phone is in {city(here)}. No planned day is lost or doubled
    either way.
    <div class="flex flex-wrap gap-x-6">
      <button class="min-h-touch link" onclick={move}>Take {city(here)}’s days</button>
      <button class="min-h-touch link" onclick={stay}>Stay with {city(zone)}</button>
    </div>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  </div>
{/if}
