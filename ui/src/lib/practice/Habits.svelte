<script lang="ts">
  import { count, type Day } from '$lib/offline/days.svelte'
  import { handIn, put } from '$lib/offline/queue.svelte'

  /** Small tasks through the day, each with its counter. */
  let { day }: { day: Day } = $props()

  async function tick(habit: Day['habits'][number], amount: 1 | -1) {
    await put({
      kind: 'habit',
      id: crypto.randomUUID(),
      assignment_id: habit.assignment_id,
      exercise_id: habit.exercise_id,
      amount,
      said_at: new Date().toISOString()
    })
    void handIn()
  }
</script>

<section class="mt-7">
  <h2 class="text-big">Through the day</h2>
  <ul class="mt-1">
    {#each day.habits as h (h.assignment_id + h.exercise_id)}
      {@const done = count(day, h)}
      <li class="grid grid-cols-[1fr_auto] items-center gap-x-3 border-b border-rule py-2">
        <div><b>{h.name}</b>, {h.often}</div>
        <div class="flex items-center gap-2">
          <button
            class="size-[48px] rounded border-firm border-edge text-huge disabled:opacity-30"
            disabled={!done}
            onclick={() => tick(h, -1)}
            aria-label="take one back: {h.name}">−</button
          >
          <span class="w-[54px] text-center text-head" aria-live="polite"
            ><b>{done}</b> <span class="text-base text-soft">of {h.times}</span></span
          >
          <button
            class="size-[56px] rounded border-firm border-action bg-action text-title text-sheet"
            onclick={() => tick(h, 1)}
            aria-label="done once: {h.name}">+</button
          >
        </div>
        <p class="col-span-2 mt-1 text-lead leading-snug">{h.say}</p>
      </li>
    {/each}
  </ul>
</section>
