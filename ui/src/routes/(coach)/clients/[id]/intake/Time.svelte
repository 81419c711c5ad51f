<script lang="ts">
  import { ZONES } from '$lib/parts/zones'
  import type { Intake } from '$lib/intake/intake.svelte'
  import { page } from '$app/state'
  import Choice from '$lib/intake/Choice.svelte'
  import OwnWays from './OwnWays.svelte'

  /** Who they are, the time they really have, and what they hope for. */
  let { intake }: { intake: Intake } = $props()
  const p = $derived(intake.view?.profile)
  const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
  const STATUS = ['enquiry', 'active', 'paused', 'finished'].map((v) => ({ value: v, label: v, key: v[0] }))
  const set = (field: string, value: unknown, typing = true) =>
    intake.enter('profile', field, { value }, typing)
  const problem = (field: string) => intake.problem('profile', field)
  const whole = (text: string) =>
    text.trim() === '' ? null : Number.isFinite(Number(text)) ? Math.round(Number(text)) : text

  function day(n: number) {
    const now = p?.days ?? []
    set('days', now.includes(n) ? now.filter((d) => d !== n) : [...now, n].sort(), false)
  }
  function agree(place: number, text: string) {
    const now = [...(p?.agreed ?? [])]
    now[place] = text
    set(
      'agreed',
      Array.from(now, (g) => g ?? '')
    )
  }
</script>

{#snippet wrong(field: string)}
  {#if problem(field)}<span role="alert" class="text-small text-stop">{problem(field)}</span>{/if}
{/snippet}

{#if p}
  <section aria-label="Time and goals">
    <h2 class="border-b border-ink pb-1">Time they really have</h2>
    <div class="mt-2 flex flex-wrap items-start gap-6">
      <label class="grid gap-1"
        >Minutes a day<input
          class="field !w-[110px]"
          inputmode="numeric"
          data-question="time:minutes"
          value={p.minutes ?? ''}
          oninput={(e) => set('minutes', whole(e.currentTarget.value))}
        />{@render wrong('minutes')}</label
      >
      <fieldset>
        <legend class="mb-1">On which days?</legend>
        <div class="flex">
          {#each DAYS as name, i (name)}
            <button
              type="button"
              aria-pressed={p.days.includes(i + 1)}
              class="-ml-px min-h-touch border px-3 first:ml-0 {p.days.includes(i + 1)
                ? 'border-action bg-action font-bold text-sheet'
                : 'border-edge bg-sheet'}"
              onclick={() => day(i + 1)}>{name}</button
            >
          {/each}
        </div>
      </fieldset>
    </div>
    <OwnWays id={page.params.id ?? ''} />
    <h2 class="mt-5 border-b border-ink pb-1">Goals</h2>
    <label class="mt-2 grid gap-1"
      >In their own words<textarea
        class="h-[76px] field py-2"
        data-question="time:goals"
        value={p.goals}
        oninput={(e) => set('goals', e.currentTarget.value)}></textarea>{@render wrong('goals')}</label
    >
    <fieldset class="mt-3">
      <legend>What you agree to look at, three at most</legend>
      <div class="mt-1 grid grid-cols-3 gap-2">
        {#each [0, 1, 2] as place (place)}
          <input
            class="field"
            aria-label="Agreed goal {place + 1}"
            value={p.agreed[place] ?? ''}
            oninput={(e) => agree(place, e.currentTarget.value)}
          />
        {/each}
      </div>
      {@render wrong('agreed')}
      <p class="mt-1 text-small text-soft">
        Everybody’s face is uneven; muscles can be trained, bones cannot be moved. Most coaches look for
        change after 2 to 4 weeks and really look after 8 to 12. Promise nothing.
      </p>
    </fieldset>
    <h2 class="mt-5 border-b border-ink pb-1">Who they are</h2>
    <div class="mt-2 grid grid-cols-3 gap-3">
      <label class="grid gap-1"
        >Name, as they like it<input
          class="field"
          value={p.name}
          oninput={(e) => set('name', e.currentTarget.value)}
        />{@render wrong('name')}</label
      >
      <label class="grid gap-1"
        >E-mail<input
          class="field"
          value={p.email}
          oninput={(e) => set('email', e.currentTarget.value)}
        />{@render wrong('email')}</label
      >
      <label class="grid gap-1"
        >Phone<input
          class="field"
          value={p.phone}
          oninput={(e) => set('phone', e.currentTarget.value)}
        />{@render wrong('phone')}</label
      >
      <label class="grid gap-1"
        >Birth year<input
          class="field"
          inputmode="numeric"
          value={p.birth_year ?? ''}
          oninput={(e) => set('birth_year', whole(e.currentTarget.value))}
        />{@render wrong('birth_year')}</label
      >
      <label class="grid gap-1"
        >Time zone<input
          class="field"
          list="zones"
          value={p.time_zone}
          onchange={(e) => set('time_zone', e.currentTarget.value, false)}
        />{@render wrong('time_zone')}</label
      >
      <datalist id="zones"
        >{#each ZONES as z (z)}<option value={z}></option>{/each}</datalist
      >
      <div class="grid gap-1">
        Status
        <Choice
          options={STATUS}
          value={p.status}
          label="Status"
          stay
          choose={(v) => set('status', v, false)}
        />
      </div>
    </div>
  </section>
{/if}
