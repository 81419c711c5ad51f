<script lang="ts">
  import Word from '$lib/help/Word.svelte'
  import { atClock, clock, inWords } from '$lib/format'
  import type { Days } from '$lib/offline/db'
  import { begun, done, type Day, type Session } from '$lib/offline/days.svelte'
  import { queue } from '$lib/offline/queue.svelte'
  import { heldBack } from '$lib/practice/held'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'

  /** The session that is due: how long it really takes, start, what is new, and what is in it. */
  let { view, day, part, session }: { view: Days; day: Day; part: Day['parts'][number]; session: Session } =
    $props()
  /** What is folded away is drawn when it is opened. */
  let looking = $state(false)
  const longest = $derived(Math.max(30, ...session.items.map((i) => i.train.total_s)))
  const other = $derived(day.parts.find((p) => p.part !== part.part))
  /** The morning's session, when its time is past and the evening's is offered first. */
  const instead = $derived(
    part.part === 'evening' && other?.session && !done(view, day, other) ? other : null
  )
  /** A part of it was done and handed in, here or on another device. */
  const started = $derived(begun(view, day, part))
  /** What waits because of something that was told on this phone and has not arrived yet. */
  const waits = $derived(
    heldBack(
      view,
      session,
      queue.waiting.map((w) => w.entry)
    )
  )
  /** What is left out by its reason, so that several for one reason are one sentence. */
  const leftOut = $derived.by(() => {
    const told = [...waits].map(([id, why]) => ({
      name: session.items.find((i) => i.exercise === id)?.name ?? id,
      reason: why
    }))
    const out: Record<string, string[]> = {}
    for (const x of [...told, ...session.left_out]) (out[x.reason] ??= []).push(x.name)
    return Object.entries(out)
  })
  const listed = (names: string[]) => `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`
</script>

<h1 class="mt-1 text-display">
  {Math.ceil(session.seconds / 60)} minutes {part.part === 'evening'
    ? 'this evening'
    : 'this morning'}{part.at ? `, at ${atClock(part.at)}` : ''}
</h1>
<p class="mt-1">
  {session.items.length} exercises, {inWords(session.seconds)} exactly.
  {#if other && done(view, day, other)}The other session of today is done.{:else if other && !instead}A second
    session is due {other.part === 'evening' ? 'this evening' : 'this morning'}{other.at
      ? `, at ${atClock(other.at)}`
      : ''}.{/if}
</p>
{#if started}
  <a href="/practice?part={part.part}" class="mt-4 act min-h-thumb w-full text-huge"
    >Go on at {inWords(started.at_s)}</a
  >
  <p class="mt-2 text-lead text-soft">
    You have done {inWords(started.at_s)} of {inWords(session.seconds)}; it is handed in and counts. The rest
    is due today, if you like. Nothing has to be made up.
  </p>
{:else}<a href="/practice?part={part.part}" class="mt-4 act min-h-thumb w-full text-huge">Start</a>{/if}
{#if instead}
  <a
    href="/practice?part={instead.part}"
    class="mt-1 flex min-h-press items-center justify-center text-sub link"
    >Or do the {instead.part} session now; there is no need to make it up</a
  >
{/if}
{#if session.changed.length}
  <p class="mt-4 border-l-4 border-action pl-3">
    <b>New since last time.</b>
    {session.changed.slice(0, 3).join(' ')}
    {#if session.changed.length > 3}And {session.changed.length - 3} more; practice shows each.{/if}
  </p>
{/if}
{#each leftOut as [why, names] (why)}
  <p class="mt-4 border-l-4 border-stop pl-3">
    {names.length === 1
      ? `${names[0]} is left out: ${why}.`
      : `${listed(names)} are left out, each because ${why}.`}
  </p>
{/each}
<details class="mt-5" bind:open={looking}>
  <summary class="min-h-touch py-2 link">What is in it</summary>
  <ol class="mt-1">
    {#each looking ? session.items : [] as item, i (i)}
      <li class="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3 border-b border-rule py-2">
        <span>{item.name}</span><span class="text-right text-base text-soft">{clock(item.seconds)}</span>
        <span class="col-span-2 text-lead text-soft">{item.dose}</span>
        <span class="col-span-2"
          ><PulseTrain
            train={item.train}
            width={250}
            height={16}
            seconds={longest}
            label="pulse train of {item.name}"
          /></span
        >
        {#if item.eased_for}<span class="col-span-2 text-lead"
            ><Word term="Eased" said="Eased" />, for {item.eased_for.toLowerCase()}{item.eased
              ? `: ${item.eased}`
              : ''}</span
          >{/if}
      </li>
    {/each}
  </ol>
  <p class="mt-3 text-lead text-soft">
    Pain means stop. More than planned is not better. Clean hands, breathe, no clenching.
  </p>
</details>
