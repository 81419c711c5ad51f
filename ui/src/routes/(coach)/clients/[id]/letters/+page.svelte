<script lang="ts">
  import WhenField from '$lib/parts/WhenField.svelte'
  import { goto } from '$app/navigation'
  import { page } from '$app/state'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { longDate, shortDay } from '$lib/format'
  import LetterPaper from '$lib/results/LetterPaper.svelte'
  import ClientHead from '../ClientHead.svelte'

  /** Letters to a client, and to a clinician: the coach chooses the time and the photographs and writes own words; what was counted and
   * measured is said by the records. What is seen at the right is what is sent. */
  const id = page.params.id ?? ''
  let view = $state.raw<Schemas['LettersView'] | null>(null)
  let open = $state.raw<Schemas['OpenLetter'] | null>(null)
  let draft = $state<Schemas['LetterDraft'] | null>(null)
  let problem = $state('')
  let told = $state('')
  let byMail = $state(false)
  let sending = $state(false)
  let asked = 0

  const say = (why: string) => (problem = why)
  async function list() {
    await attempt(say, async () => {
      view = await ask(api.GET('/api/clients/{client_id}/letters', { params: { path: { client_id: id } } }))
    })
  }
  async function look(letter: string) {
    problem = told = ''
    await attempt(say, async () => {
      open = await ask(api.GET('/api/letters/{letter_id}', { params: { path: { letter_id: letter } } }))
      draft = open.row.sent_at ? null : structuredClone(open.draft)
      byMail = false
    })
    await goto(`?letter=${letter}`, { replaceState: true, keepFocus: true, noScroll: true })
  }
  onMount(async () => {
    await list()
    const wanted = page.url.searchParams.get('letter')
    const begin = page.url.searchParams.get('begin')
    if (wanted) await look(wanted)
    else if (begin) await write(begin)
    else if (view?.letters[0]) await look(view.letters[0].id)
  })
  async function write(kind: string) {
    await attempt(say, async () => {
      const made = await ask(
        api.POST('/api/clients/{client_id}/letters', { params: { path: { client_id: id } }, body: { kind } })
      )
      await list()
      await look(made.id)
    })
  }
  let waiting: ReturnType<typeof setTimeout> | undefined
  /** Keep what was chosen or written, a moment after the last key; the answer is the letter as it reads now. */
  function keep(after = 500) {
    clearTimeout(waiting)
    told = ''
    waiting = setTimeout(() => void save(), after)
  }
  async function save() {
    const at = open
    if (!at || !draft) return
    const mine = ++asked
    problem = ''
    await attempt(say, async () => {
      const answer = await ask(
        api.PUT('/api/letters/{letter_id}', {
          params: { path: { letter_id: at.row.id } },
          body: $state.snapshot(draft)!
        })
      )
      if (mine === asked && open?.row.id === at.row.id) {
        open = answer
        told = 'Kept.'
      }
    })
  }
  const chosen = (p: Schemas['LetterPairChoice']) =>
    draft?.pairs.some((x) => x.view === p.view && x.before === p.before && x.after === p.after) ?? false
  function toggle(p: Schemas['LetterPairChoice']) {
    if (!draft) return
    draft.pairs = chosen(p)
      ? draft.pairs.filter((x) => !(x.view === p.view && x.after === p.after && x.before === p.before))
      : [...draft.pairs, p]
    keep(0)
  }
  async function send() {
    const at = open
    if (!at) return
    clearTimeout(waiting)
    sending = true
    await save()
    if (!problem)
      await attempt(say, async () => {
        await ask(
          api.POST('/api/letters/{letter_id}/sent', {
            params: { path: { letter_id: at.row.id } },
            body: { by_mail: byMail }
          })
        )
        await list()
        await look(at.row.id)
        window.scrollTo(0, 0)
      })
    sending = false
  }
  async function drop() {
    const at = open
    if (!at) return
    await attempt(say, async () => {
      await ask(api.DELETE('/api/letters/{letter_id}/draft', { params: { path: { letter_id: at.row.id } } }))
      open = draft = null
      await list()
      await goto('?', { replaceState: true })
    })
  }
  const standing = (l: Schemas['LetterRow']) =>
    l.sent_at
      ? `sent ${shortDay(l.sent_at.slice(0, 10))}${l.opened_at ? ', read' : ''}${l.by_mail ? ', by mail too' : ''}`
      : `draft, ${shortDay(l.changed_at.slice(0, 10))}`
  const clinician = $derived(open?.row.kind === 'clinician')
</script>

<svelte:head><title>Letters{view ? ` to ${view.client_name}` : ''} · Dimbo</title></svelte:head>
<main class="mx-auto max-w-frame px-6 pt-3 pb-14">
  {#if view}
    <div class="flex items-end gap-4">
      <div class="grow print:hidden"><ClientHead name={view.client_name} {id} place="letters" /></div>
      <div class="flex gap-3 pb-1">
        <button class="act act-quiet" onclick={() => write('clinician')}>To a clinician</button>
        <button class="act" onclick={() => write('report')}>New letter</button>
      </div>
    </div>
    {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
    <div class="mt-3 grid grid-cols-[190px_330px_minmax(0,1fr)] gap-6 max-lg:grid-cols-1 print:block">
      <nav aria-label="Letters">
        <ul>
          {#each view.letters as l (l.id)}
            <li>
              <button
                class="block w-full border-b border-rule py-2 text-left {open?.row.id === l.id
                  ? 'font-bold'
                  : ''}"
                aria-current={open?.row.id === l.id}
                onclick={() => look(l.id)}
                ><span class="block leading-snug">{l.title}</span><span
                  class="block text-small font-normal text-soft">{standing(l)}</span
                ></button
              >
            </li>
          {:else}
            <li class="text-row text-soft">
              None yet. A letter is put together from the records; you choose the photographs and add your own
              words.
            </li>
          {/each}
        </ul>
      </nav>
      {#if open && draft}
        <form
          class="grid content-start gap-3"
          onsubmit={(e) => e.preventDefault()}
          aria-label="What you choose and write"
        >
          <div class="grid grid-cols-2 gap-3">
            <label class="grid gap-1"
              >From<WhenField bind:value={draft.first} onchange={() => keep(0)} /></label
            >
            <label class="grid gap-1">to<WhenField bind:value={draft.last} onchange={() => keep(0)} /></label>
          </div>
          {#if clinician}
            <label class="grid gap-1"
              >To whom<input
                class="field"
                placeholder="To whom it may concern,"
                bind:value={draft.words.addressee}
                oninput={() => keep()}
              /></label
            >
          {/if}
          <label class="grid gap-1"
            >{clinician ? 'Why you write' : 'Opening'}<textarea
              class="field"
              rows="3"
              bind:value={draft.words.opening}
              oninput={() => keep()}></textarea></label
          >
          {#if !clinician}
            <fieldset>
              <legend>Photographs</legend>
              {#if !open.may_compare}<p class="text-small text-stop">
                  {view.client_name} has not agreed that comparisons are made for them; with photographs it cannot
                  be sent.
                </p>{/if}
              <ul class="max-h-[240px] overflow-y-auto">
                {#each open.offered as o (`${o.choice.view}${o.choice.after}`)}
                  <li class="border-b border-rule py-1.5">
                    <label class="flex gap-2 text-row"
                      ><input
                        type="checkbox"
                        class="mt-1"
                        checked={chosen(o.choice)}
                        onchange={() => toggle(o.choice)}
                      /><span
                        >{o.view_name}, {o.days.map((d) => shortDay(d)).join(' and ')}<span
                          class="block text-small text-soft"
                          >{o.sentences[0] ?? 'nothing is measured on this view'}</span
                        ></span
                      ></label
                    >
                  </li>
                {:else}
                  <li class="text-small text-soft">No two sittings can be compared; the letter says so.</li>
                {/each}
              </ul>
            </fieldset>
          {/if}
          <label class="grid gap-1"
            >{clinician ? 'Anything to add' : 'From you'}<textarea
              class="field"
              rows="4"
              bind:value={draft.words.adds}
              oninput={() => keep()}></textarea></label
          >
          {#if !clinician}
            <label class="grid gap-1"
              >What comes next<textarea
                class="field"
                rows="3"
                bind:value={draft.words.next_steps}
                oninput={() => keep()}></textarea></label
            >
          {/if}
          {#if !clinician && open.address}<label class="flex items-center gap-2"
              ><input type="checkbox" bind:checked={byMail} /> also as a file by mail, to {open.address}</label
            >{/if}
          <div class="flex items-center gap-3">
            <button class="act" type="button" disabled={sending} onclick={send}
              >{sending ? 'Sending …' : clinician ? 'Finish it' : 'Send it'}</button
            >
            <button class="text-row link" type="button" onclick={drop}>Throw the draft away</button>
            <span role="status" class="text-small text-soft">{told}</span>
          </div>
          <p class="text-small text-soft">
            {clinician
              ? 'Finished, it is kept as it is and can be printed; the client sees it too.'
              : 'It goes to the client’s pages and stays as it was sent.'} What stands beside a line comes from
            the records and cannot be edited.
          </p>
        </form>
      {:else if open}
        <div class="text-row print:hidden">
          <p>
            Sent by {open.row.by_name} on {longDate((open.row.sent_at ?? '').slice(0, 10))}. It stays as it
            was sent.
          </p>
          {#if open.row.has_pdf}<p class="mt-2">
              <a class="act act-quiet" href="/api/letters/{open.row.id}.pdf" download>On paper (PDF)</a>
            </p>{:else}<p class="mt-2 text-soft">
              Its photographs were deleted when the client took back that they are kept, and the paper with
              them.
            </p>{/if}
          <p class="mt-3"><a class="link" href="/clients/{id}#new-program">Go on to the next program</a></p>
        </div>
      {:else}<div></div>{/if}
      <div class="min-w-0">
        {#if open}
          <div class="max-w-[68ch] border border-ink bg-sheet px-8 py-7 print:border-0 print:px-0">
            <LetterPaper
              letter={open.letter}
              apart={!open.row.sent_at}
              missing={open.row.has_pdf || !open.row.sent_at ? '' : 'are no longer kept'}
            />
          </div>
        {/if}
      </div>
    </div>
  {:else if problem}<p role="alert" class="text-stop">{problem}</p>{:else}<p class="text-soft">
      Reading the letters …
    </p>{/if}
</main>
