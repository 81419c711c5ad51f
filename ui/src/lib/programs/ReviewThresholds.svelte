<script lang="ts">
  import NumberField from '$lib/parts/NumberField.svelte'
  import { onMount } from 'svelte'
  import { api, ask, type Schemas } from '$lib/api/client'
  import type { SheetEditor } from './editor.svelte'

  /** The program's own thresholds of the weekly review; an empty field follows the practice. */
  let { editor }: { editor: SheetEditor } = $props()
  let known = $state<Schemas['ThresholdView'][]>([])
  let problem = $state('')
  onMount(async () => {
    try {
      known = (await ask(api.GET('/api/settings/review'))).thresholds
    } catch {
      problem = 'The thresholds of the practice could not be read; what is written here stays.'
    }
  })
  const share = (key: string) => key.endsWith('_share')
  const shown = (key: string, value: number) => (share(key) ? Math.round(100 * value) : value)

  function set(key: string, text: string) {
    const rest = Object.fromEntries(Object.entries(editor.document.review).filter(([k]) => k !== key))
    const value = Number(text)
    editor.setFrame({
      review: text.trim() === '' ? rest : { ...rest, [key]: share(key) ? value / 100 : value }
    })
  }
</script>

<details class="text-row">
  <summary class="link"
    >Thresholds of the weekly review: {Object.keys(editor.document.review).length
      ? 'this program has its own'
      : 'as in the practice'}</summary
  >
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  <div class="mt-1 grid grid-cols-2 gap-x-4 gap-y-1">
    {#each known as t (t.key)}<label class="grid grid-cols-[1fr_76px] items-center gap-2"
        ><span>{t.name}{share(t.key) ? ', %' : ''}</span><NumberField
          class="!min-h-chip"
          min={shown(t.key, t.least)}
          max={shown(t.key, t.most)}
          step={share(t.key) ? 1 : 0.5}
          placeholder={String(shown(t.key, t.value))}
          value={t.key in editor.document.review ? shown(t.key, editor.document.review[t.key] ?? 0) : ''}
          onchange={(e) => set(t.key, e.currentTarget.value)}
        /></label
      >{/each}
  </div>
</details>
