<script lang="ts">
  import { sendForm, attempt, type Schemas } from '$lib/api/client'

  /** A program from a file: looked at first, unknown exercises mapped or left out, never over an existing program. */
  let { id, done }: { id: string; done: (id: string) => void } = $props()
  let file = $state<File | null>(null)
  let found = $state.raw<Schemas['FilePreview'] | null>(null)
  let choices = $state<Record<string, string>>({})
  let problem = $state('')
  const MOST = 2_000_000

  async function look(event: Event) {
    const input = event.currentTarget as HTMLInputElement
    file = input.files?.[0] ?? null
    found = null
    problem = ''
    if (!file) return
    if (file.size > MOST) {
      problem = `The file has ${(file.size / 1e6).toFixed(0)} MB; a program is never larger than 2 MB. Choose another file.`
      return
    }
    const form = new FormData()
    form.append('file', file)
    await attempt(
      (why) => (problem = why),
      async () => {
        found = await sendForm<Schemas['FilePreview']>(`/api/clients/${id}/programs/import/preview`, form)
        choices = Object.fromEntries(
          found.unknown.map((u) => [u.id, u.comes ? 'bring' : (u.like[0]?.id ?? '')])
        )
      }
    )
  }
  async function carry() {
    if (!file) return
    const form = new FormData()
    form.append('file', file)
    form.append('choices', JSON.stringify(choices))
    await attempt(
      (why) => (problem = why),
      async () => {
        done((await sendForm<Schemas['Created']>(`/api/clients/${id}/programs/import`, form)).id)
      }
    )
  }
</script>

<label class="grid gap-1"
  >Program as JSON<input
    type="file"
    accept="application/json,.json"
    class="field py-2"
    onchange={look}
  /></label
>
{#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
{#if found}
  <p class="mt-3"><b>{found.title}</b>, {found.weeks} weeks, {found.lines} rows. It becomes a new program.</p>
  {#each found.unknown as u (u.id)}
    <label class="mt-3 grid gap-1"
      >“{u.name}” is not known here ({u.rows}
      {u.rows === 1 ? 'row' : 'rows'})<select class="field" bind:value={choices[u.id]}>
        {#if u.comes}<option value="bring">make it one of your own exercises</option>{/if}
        {#each u.like as c (c.id)}<option value={c.id}>take {c.name}</option>{/each}
        <option value="">leave it out</option>
      </select></label
    >
  {/each}
  <button type="button" class="mt-4 act" onclick={carry}>Make this program</button>
{/if}
