<script lang="ts">
  import type { SelfIntake } from '$lib/intake/self.svelte'

  let { self }: { self: SelfIntake } = $props()
  const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
  const p = $derived(self.draft.profile)
  const text = (key: string) => String(p[key] ?? '')
  const days = $derived(Array.isArray(p['days']) ? p['days'] : [])
  const number = (value: string) =>
    value.trim() === '' ? undefined : /^\d+$/.test(value.trim()) ? Number(value) : value
  const FIELDS = [
    { key: 'name', label: 'How would you like to be called?', mode: 'text' },
    { key: 'email', label: 'E-mail', mode: 'email' },
    { key: 'phone', label: 'Phone', mode: 'tel' },
    { key: 'birth_year', label: 'Year of birth', mode: 'numeric' },
    { key: 'minutes', label: 'Minutes a day that you really have', mode: 'numeric' }
  ] as const
</script>

<div class="mt-3 grid gap-4">
  {#each FIELDS as f (f.key)}
    <label class="grid gap-1"
      >{f.label}<input
        class="field min-h-press text-sub"
        inputmode={f.mode}
        value={text(f.key)}
        oninput={(e) => {
          const typed = e.currentTarget.value
          self.set('profile', f.key, f.mode === 'numeric' ? number(typed) : typed || undefined)
        }}
      /></label
    >
  {/each}
  <fieldset>
    <legend class="mb-1">On which days?</legend>
    <div class="flex flex-wrap gap-2">
      {#each DAYS as name, i (name)}
        <button
          type="button"
          aria-pressed={days.includes(i + 1)}
          class="min-h-press min-w-[58px] rounded-[4px] border {days.includes(i + 1)
            ? 'border-action bg-action font-bold text-sheet'
            : 'border-edge bg-sheet'}"
          onclick={() =>
            self.set(
              'profile',
              'days',
              days.includes(i + 1) ? days.filter((d) => d !== i + 1) : [...days, i + 1].sort()
            )}>{name}</button
        >
      {/each}
    </div>
  </fieldset>
  <label class="grid gap-1"
    >What would you like, in your own words?<textarea
      class="h-[130px] field py-2 text-sub"
      value={text('goals')}
      oninput={(e) => self.set('profile', 'goals', e.currentTarget.value || undefined)}></textarea></label
  >
</div>
