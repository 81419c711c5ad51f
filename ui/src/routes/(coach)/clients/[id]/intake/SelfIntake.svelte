<script lang="ts">
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { shortDay } from '$lib/format'
  import type { Intake } from '$lib/intake/intake.svelte'
  import Dialog from '$lib/parts/Dialog.svelte'

  /** The client's own intake: a link to send, and what came back, side by side with what stands. */
  let { intake }: { intake: Intake } = $props()
  let sending = $state(false)
  let reviewing = $state(false)
  let link = $state('')
  let days = $state(0)
  let problem = $state('')
  let items = $state<Schemas['ReviewItemView'][]>([])
  let left = $state<string[]>([])
  /** What could not be taken over, and why. */
  let refused = $state<Record<string, string>>({})

  const self = $derived(intake.view?.self_intake)
  const path = $derived({ path: { client_id: intake.client } })
  const SECTIONS: Record<string, string> = {
    profile: 'About them',
    ratings: 'Concerns',
    answers: 'Answers',
    tests: 'Habits',
    cautions: 'Health'
  }

  async function send() {
    sending = true
    problem = ''
    link = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        const made = await ask(api.POST('/api/clients/{client_id}/self-intake', { params: path }))
        link = location.origin + made.path
        days = made.days
        await intake.load()
      }
    )
  }
  async function revoke() {
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.DELETE('/api/clients/{client_id}/self-intake', { params: path }))
        sending = false
        await intake.load()
      }
    )
  }
  async function review() {
    reviewing = true
    problem = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        items = await ask(api.GET('/api/clients/{client_id}/self-intake', { params: path }))
      }
    )
  }
  async function accept(ids: string[]) {
    let told: Schemas['NotTakenView'][] = []
    problem = await intake.run(
      ask(api.POST('/api/clients/{client_id}/self-intake/accept', { params: path, body: { ids } })).then(
        (done) => {
          told = done.refused
          return done.intake
        }
      )
    )
    refused = Object.fromEntries(told.map((r) => [r.id, r.message]))
    if (!problem) await review()
  }
  async function close() {
    problem = await intake.run(ask(api.POST('/api/clients/{client_id}/self-intake/close', { params: path })))
    if (!problem) reviewing = false
  }
  const differing = $derived(items.filter((i) => !i.same))
  const unanswered = $derived(items.filter((i) => i.open && !i.current))
  const waiting = $derived(differing.filter((i) => !left.includes(i.id)))
</script>

{#if self?.state === 'sent in'}
  <button class="act !min-h-chip" onclick={review}>Review what {intake.view?.profile.name} filled in</button>
{:else}
  <button class="act !min-h-chip act-quiet" onclick={self?.state === 'open' ? () => (sending = true) : send}
    >{self?.state === 'open'
      ? self.begun
        ? 'Their intake: begun'
        : 'Their intake: link sent'
      : 'Send the intake form'}</button
  >
{/if}

<Dialog bind:open={sending} title="Intake by {intake.view?.profile.name}">
  {#if link}
    <p>
      Give this link to {intake.view?.profile.name}. It needs no account, ends in {days} days, and closes when it
      is sent in.
    </p>
    <input
      class="mt-3 field"
      readonly
      value={link}
      aria-label="Intake link"
      onfocus={(e) => e.currentTarget.select()}
    />
  {:else if self?.state === 'open'}
    <p>
      A link is open until {shortDay(self.expires_at.slice(0, 10))}; {self.begun
        ? 'it has been begun'
        : 'nothing is written yet'}. A link is shown once only. A new one ends the old one and keeps what was
      written.
    </p>
  {/if}
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  {#if self?.state === 'open'}
    <div class="mt-4 flex gap-3">
      <button class="act" onclick={send}>Make a new link</button>
      <button class="act act-quiet" onclick={revoke}>Take the link back</button>
    </div>
  {/if}
</Dialog>

<Dialog bind:open={reviewing} title="What {intake.view?.profile.name} filled in" width={980}>
  <p class="text-row text-soft">
    Sent in {shortDay(self?.submitted_at?.slice(0, 10) ?? '')}. Consents are the client’s own word and hold
    already. Nothing else holds until you accept it{waiting.length ? `; ${waiting.length} fields wait` : ''}.
  </p>
  {#if unanswered.length}<p class="mt-2 border-l-4 border-mark-watch pl-3">
      <b>{unanswered.length} health questions are not answered.</b> They are marked below; ask them before a program
      is assigned.
    </p>{/if}
  {#if waiting.length > 1}<button
      class="mt-3 act !min-h-chip"
      onclick={() => accept(waiting.map((i) => i.id))}>Accept all {waiting.length}</button
    >{/if}
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  <table class="mt-3 w-full text-row">
    <thead class="text-left text-small text-soft">
      <tr
        ><th class="w-[34%] font-normal">Field</th><th class="font-normal">The client</th><th
          class="font-normal">Stands now</th
        ><th></th></tr
      >
    </thead>
    {#each Object.entries(SECTIONS) as [section, name] (section)}
      {@const list = items.filter((i) => i.section === section)}
      {@const open = list.filter((i) => !i.same && !left.includes(i.id))}
      {#if list.length}
        <tbody>
          <tr class="border-b border-ink">
            <th colspan="3" class="pt-3 text-left font-head text-lead">{name}</th>
            <td class="text-right"
              >{#if open.length > 1}<button
                  class="text-small link"
                  onclick={() => accept(open.map((i) => i.id))}>Accept {open.length}</button
                >{/if}</td
            >
          </tr>
          {#each list as item (item.id)}
            <tr
              class="border-b border-rule align-top {item.same || left.includes(item.id) ? 'text-soft' : ''}"
            >
              <td class="py-1 pr-3 first-letter:uppercase">{item.label}</td>
              <td class="py-1 pr-3 {item.open ? 'text-watch' : item.same ? '' : 'font-bold'}"
                >{item.theirs}{#if item.remark}<span class="block text-small font-normal text-soft"
                    >{item.remark}</span
                  >{/if}{#if refused[item.id]}<span
                    role="alert"
                    class="block text-small font-normal text-stop">{refused[item.id]}</span
                  >{/if}</td
              >
              <td class="py-1 pr-3">{item.current || 'nothing'}</td>
              <td class="py-1 text-right whitespace-nowrap">
                {#if item.open}{item.current ? '' : 'to ask'}{:else if item.same && item.remark}<button
                    class="link"
                    onclick={() => accept([item.id])}>Note it</button
                  >{:else if item.same}accepted{:else if left.includes(item.id)}kept as it was{:else}
                  <button class="link" onclick={() => accept([item.id])}>Accept</button>
                  <button class="ml-3 link" onclick={() => (left = [...left, item.id])}>Keep mine</button>
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      {/if}
    {/each}
  </table>
  <button class="mt-4 act" onclick={close}>The review is done</button>
</Dialog>
