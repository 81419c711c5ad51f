<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Unreached from '$lib/messages/Unreached.svelte'

  /** Reminders in the practice's own words, quiet hours, and everything that the messenger carried. */
  let own = $state<Schemas['RemindingView'] | null>(null)
  let letters = $state<Schemas['PostedView'][]>([])
  let text = $state('')
  let first = $state('21:30')
  let last = $state('07:00')
  let problem = $state('')
  let saved = $state('')
  let only = $state<'' | Schemas['PostedView']['state']>('')

  onMount(async () => {
    await attempt(
      (why) => (problem = why),
      async () => {
        own = await ask(api.GET('/api/reminding'))
        text = own.text
        first = own.quiet.first.slice(0, 5)
        last = own.quiet.last.slice(0, 5)
        letters = await ask(api.GET('/api/outbox'))
      }
    )
  })

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    problem = saved = ''
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.PUT('/api/reminding', { body: { quiet: { first, last }, text } }))
        saved = 'Kept. It holds for the next reminder.'
      }
    )
  }
  const sample = $derived(
    (text.trim() || own?.shipped_text || '')
      .replaceAll('{name}', 'Mara')
      .replaceAll('{minutes}', '14')
      .replaceAll('{time}', '07:30')
      .replaceAll('{practice}', 'your practice')
  )
  const states = {
    waiting: ['on its way', 'text-watch'],
    delivered: ['arrived', 'text-fine'],
    failed: ['did not arrive', 'text-stop'],
    withheld: ['held back', 'text-soft']
  } as const
  const shown = $derived(letters.filter((x) => !only || x.state === only))
  const when = new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit'
  })
</script>

<svelte:head><title>Messenger · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-desk grid-cols-[360px_minmax(0,1fr)] gap-x-12 px-6 pt-5 pb-12">
  <form class="grid content-start gap-4" onsubmit={keep}>
    <h1>Messenger</h1>
    <p class="text-row">
      A session gets one reminder at most, and none once it is done, paused or locked. A client can end them
      by the link in each.
    </p>
    <label class="grid gap-1"
      ><b>Reminder in your own words</b><textarea
        class="field min-h-lines py-2"
        maxlength="400"
        placeholder={own?.shipped_text}
        bind:value={text}></textarea></label
    >
    <p class="text-small text-soft">
      {#each own?.places ?? [] as place (place)}<code class="mr-2">&#123;{place}&#125;</code>{/each} are filled
      in.
    </p>
    <p class="border-l-4 border-rule pl-3 text-row italic">{sample}</p>
    <fieldset>
      <legend class="font-bold">Quiet hours, by the client’s clock</legend>
      <div class="mt-1 flex items-center gap-3">
        <label>from <input class="field w-[136px]" type="time" required bind:value={first} /></label>
        <label>to <input class="field w-[136px]" type="time" required bind:value={last} /></label>
      </div>
    </fieldset>
    {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
    <div class="flex items-center gap-4">
      <button class="act">Keep</button>{#if saved}<span role="status" class="text-row">{saved}</span>{/if}
    </div>
  </form>
  <section>
    <div class="grid gap-3 text-row has-[p]:mb-5"><Unreached /></div>
    <div class="flex items-baseline gap-5">
      <h2>Outbox</h2>
      <label class="text-row"
        >show <select class="border-b border-ink bg-transparent" bind:value={only}>
          <option value="">all</option>
          {#each Object.entries(states) as [key, [name]] (key)}<option value={key}>{name}</option>{/each}
        </select></label
      >
    </div>
    <table class="mt-2 w-full text-row">
      <thead class="text-left text-small text-soft"
        ><tr
          ><th class="w-[112px] font-normal">when</th><th class="w-[190px] font-normal">to</th><th
            class="font-normal">what</th
          ><th class="w-[210px] font-normal">state</th></tr
        ></thead
      >
      <tbody>
        {#each shown as x (x.id)}
          <tr class="border-t border-rule align-top">
            <td class="py-1.5">{when.format(new Date(x.due_at))}</td>
            <td class="py-1.5 pr-3 break-all">{x.address || 'no address'}</td>
            <td class="py-1.5 pr-4"
              ><b>{x.subject}</b><span class="line-clamp-2 text-soft">{x.body.split('\n\n')[0]}</span></td
            >
            <td class="py-1.5"
              ><span class="font-bold {states[x.state][1]}"
                >{states[x.state][0]}{x.way === 'device' ? ' as a notice' : ''}</span
              >{#if x.problem}<span class="block text-small"
                  >{x.problem}{x.tries > 1 ? ` Tried ${x.tries} times.` : ''}</span
                >{/if}</td
            >
          </tr>
        {:else}<tr><td colspan="4" class="py-3 text-soft">Nothing was sent yet.</td></tr>{/each}
      </tbody>
    </table>
  </section>
</main>
