<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { inWords, longDay } from '$lib/format'

  /** What the client reads and gets on the first day, as the phone shows it. */
  let {
    first,
    time,
    remind,
    name,
    words
  }: {
    first: Schemas['FirstSessionView']
    /** Time of day of the session; empty when none is said. */
    time: string
    /** Minutes before it at which a reminder goes. */
    remind: number | null
    name: string
    /** What the coach wrote about a change. */
    words: string
  } = $props()
  const reminded = $derived.by(() => {
    if (remind === null || !time) return ''
    const [h = 0, m = 0] = time.split(':').map(Number)
    const at = (h * 60 + m - remind + 1440) % 1440
    return `${String(Math.floor(at / 60)).padStart(2, '0')}:${String(at % 60).padStart(2, '0')}`
  })
</script>

<section class="mb-5" aria-label="What {name} sees">
  <h2 class="text-base">What {name} sees</h2>
  <div class="mt-1.5 rounded-[14px] border-2 border-ink bg-paper px-3 pt-3 pb-4">
    {#if reminded}<p class="mb-2 rounded border border-edge-soft bg-sheet px-2 py-1 text-note">
        <b>{reminded}</b> Your session is due.
      </p>{/if}
    <p class="text-note text-soft">{longDay(first.day)}</p>
    <p class="font-head text-lead leading-tight font-bold">
      {Math.ceil(first.seconds / 60)} minutes this {first.part}{time ? `, at ${time}` : ''}
    </p>
    <p class="text-note">{first.exercises} exercises, {inWords(first.seconds)} exactly.</p>
    <p class="mt-2 rounded bg-action py-1 text-center text-row font-bold text-sheet" aria-hidden="true">
      Start
    </p>
    {#if words.trim()}<p class="mt-2 border-l-4 border-mark-fine pl-2 text-note">{words}</p>{/if}
  </div>
</section>
