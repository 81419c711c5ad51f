<script lang="ts">
  import { goto } from '$app/navigation'
  import { Command, Dialog } from 'bits-ui'
  import { onDestroy } from 'svelte'
  import { api, ask, attempt, type Schemas } from '../api/client'
  import { shortDay } from '../format'

  /** Everything by its words, from anywhere: clients, programs, exercises, templates, messages, notes and the places. */
  let { open = $bindable(false), places }: { open?: boolean; places: { href: string; name: string }[] } =
    $props()
  type Hit = Schemas['HitView']
  const KINDS: [Hit['kind'], string][] = [
    ['client', 'Clients'],
    ['program', 'Programs'],
    ['exercise', 'Exercises'],
    ['template', 'Templates'],
    ['message', 'Messages'],
    ['note', 'Notes']
  ]
  const HREFS: Record<Hit['kind'], (id: string) => string> = {
    client: (id) => `/clients/${id}`,
    program: (id) => `/programs/${id}`,
    exercise: (id) => `/exercises#${id}`,
    template: (id) => `/templates/${id}`,
    message: (id) => `/clients/${id}#words`,
    note: (id) => `/clients/${id}/intake#notes`
  }
  const PAUSE_MS = 140
  const id = $props.id()
  let words = $state('')
  let found = $state<Schemas['FoundView'] | null>(null)
  let problem = $state('')
  let busy = $state(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  let asked = 0
  onDestroy(() => clearTimeout(timer))

  const near = $derived(
    words.trim() ? places.filter((p) => p.name.toLowerCase().includes(words.trim().toLowerCase())) : places
  )
  function typed() {
    clearTimeout(timer)
    problem = ''
    if (!words.trim()) {
      found = null
      busy = false
      return
    }
    busy = true
    const mine = ++asked
    timer = setTimeout(async () => {
      await attempt(
        (why) => (problem = why),
        async () => {
          const answer = await ask(
            api.GET('/api/search', { params: { query: { words: words.slice(0, 100) } } })
          )
          if (mine === asked) found = answer
        }
      )
      if (mine === asked) busy = false
    }, PAUSE_MS)
  }
  async function take(href: string) {
    open = false
    words = ''
    found = null
    await goto(href)
  }
  const row =
    'flex min-h-chip cursor-pointer items-baseline gap-x-3 px-3 py-1 data-selected:bg-band outline-none'
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-ink/40" />
    <Dialog.Content
      class="fixed top-[8vh] left-1/2 z-50 w-[92vw] max-w-column-wide -translate-x-1/2 border border-ink bg-sheet outline-none"
    >
      <Dialog.Title class="sr-only">Search everything</Dialog.Title>
      <Command.Root shouldFilter={false} label="Search everything" loop>
        <Command.Input
          class="min-h-press w-full border-b border-ink bg-sheet px-4 text-sub outline-none placeholder:text-soft"
          placeholder="Client, program, exercise, template, message, note"
          aria-label="Search everything"
          aria-controls="{id}-found"
          bind:value={words}
          oninput={typed}
        />
        <Command.List id="{id}-found" aria-label="Found" class="max-h-[64vh] overflow-y-auto py-2">
          {#each KINDS as [kind, name] (kind)}
            {@const hits = found?.hits.filter((h) => h.kind === kind) ?? []}
            {#if hits.length}
              <Command.Group>
                <Command.GroupHeading class="px-3 pt-2 text-small font-bold text-soft"
                  >{name}{#if found?.more[kind]}, {found.more[kind]} more: write more of it{/if}</Command.GroupHeading
                >
                <Command.GroupItems>
                  {#each hits as h, n (`${kind}${h.id}${n}`)}
                    <Command.Item
                      value={`${kind} ${h.id} ${n}`}
                      onSelect={() => take(HREFS[kind](h.id))}
                      class={row}
                      ><span class="shrink-0 font-semibold">{h.name}</span><span
                        class="min-w-0 truncate text-row text-soft">{h.beside}</span
                      >{#if h.at}<span class="ml-auto shrink-0 text-small text-soft"
                          >{shortDay(h.at.slice(0, 10))}</span
                        >{/if}</Command.Item
                    >
                  {/each}
                </Command.GroupItems>
              </Command.Group>
            {/if}
          {/each}
          {#if near.length}
            <Command.Group>
              <Command.GroupHeading class="px-3 pt-2 text-small font-bold text-soft"
                >Go to</Command.GroupHeading
              >
              <Command.GroupItems>
                {#each near as p (p.href)}<Command.Item
                    value={`place ${p.href}`}
                    onSelect={() => take(p.href)}
                    class={row}>{p.name}</Command.Item
                  >{/each}
              </Command.GroupItems>
            </Command.Group>
          {/if}
          {#if problem}<p role="alert" class="px-3 py-2 text-stop">{problem}</p>
          {:else if words.trim() && !busy && !found?.hits.length && !near.length}<p
              class="px-3 py-2 text-soft"
            >
              Nothing here is called or says “{words.trim()}”.
            </p>{/if}
        </Command.List>
        <p class="border-t border-rule px-3 py-1.5 text-small text-soft" aria-live="polite">
          {busy
            ? 'Looking …'
            : found
              ? `${found.hits.length} found. Arrows choose, Enter opens, Escape closes.`
              : 'Arrows choose, Enter opens, Escape closes.'}
        </p>
      </Command.Root>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
