<script lang="ts">
  import type { Bench } from './bench.svelte'
  import Note from '$lib/parts/Note.svelte'

  /** What a careful coach would say beside two sittings, each with its remedy where there is one. */
  let { bench, act }: { bench: Bench; act: (action: string, photograph: string) => void } = $props()
  const name = (id: string) => bench.readings.find((r) => r.id === id)?.name.toLowerCase() ?? id
  const words: Record<string, string> = {
    flip: 'Look at it',
    way: 'Look at it',
    person: 'Look at it',
    view: 'Look at it',
    retake: 'Take it again',
    double: 'Second baseline',
    primary: 'Name them'
  }
</script>

{#if bench.view && !bench.view.may_keep}
  <Note weight="stop"
    >{bench.view.client_name.split(' ')[0]} has not agreed that photographs are kept. {bench.view.consent}
    <a class="link" href="/clients/{bench.client}/intake#consent">Ask for it</a></Note
  >
{/if}
{#if bench.waiting.length}
  <p role="status" class="text-small">
    Measuring {bench.waiting.length} photograph{bench.waiting.length === 1 ? '' : 's'} …
    <progress class="w-full" aria-label="Measuring"></progress>
  </p>
{/if}
{#each bench.view?.comparison.notes ?? [] as note, i (note.id + note.photograph + i)}
  <Note weight={note.weight}
    >{note.text}
    {#if note.action && words[note.action]}<button
        class="link"
        onclick={() => act(note.action, note.photograph)}>{words[note.action]}</button
      >{/if}</Note
  >
{/each}
{#each ['right', 'left'] as const as weak (weak)}
  {@const found = (bench.view?.comparison.bias ?? []).filter((b) => b.take === 'on' && b.side === weak)}
  {#if found.length}<Note weight="remark"
      >The {weak} is less in {found
        .map((b) => name(b.reading))
        .join(', ')
        .replace(/, ([^,]*)$/, ' and $1')}, beyond the noise. Practising the {weak} more is justified.</Note
    >{/if}
{/each}
<Note weight="remark">The client’s right is at your left in every picture. Nothing is retouched.</Note>
{#if bench.view?.outdated}
  <Note weight="remark"
    >{bench.view.outdated} photographs were read by an earlier version of the analysis and are being read again;
    nothing needs to be done. Both results are kept, and sittings are compared only where both were read alike.</Note
  >
{/if}
