<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, words, type Schemas } from '$lib/api/client'
  import { clock, longDay } from '$lib/format'
  import Logo from '$lib/parts/Logo.svelte'
  import { handIn, waiting } from '$lib/practice/outbox'
  import { leave } from '$lib/session.svelte'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'

  let today = $state<Schemas['TodayView'] | null>(null)
  let problem = $state('')
  let refused = $state<string[]>([])
  let open = $state(0)

  onMount(async () => {
    refused = await handIn()
    open = waiting().length
    try {
      today = await ask(api.GET('/api/today'))
    } catch (error) {
      problem = words(error)
    }
  })
  const longest = $derived(Math.max(30, ...(today?.session?.items.map((i) => i.train.total_s) ?? [])))
</script>

<svelte:head><title>Today · Dimbo</title></svelte:head>
<main class="mx-auto max-w-[560px] px-5 pt-4 pb-10 text-[18px]">
  <header class="flex items-center justify-between">
    <Logo /><button class="min-h-[44px] text-[16px] link" onclick={leave}>Sign out</button>
  </header>
  {#if problem}<p role="alert" class="mt-4 text-stop">{problem}</p>{/if}
  {#if open}<p role="status" class="mt-4 border-l-4 border-mark-watch pl-3">
      {open} finished session{open === 1 ? ' waits' : 's wait'} on this phone and will be handed in when there is
      a connection.
    </p>{/if}
  {#each refused as text (text)}<p role="alert" class="mt-4 text-stop">
      A session could not be kept: {text}
    </p>{/each}
  {#if today}
    <p class="mt-5 text-soft">{longDay(today.day)}</p>
    {#if today.halt}
      <p
        role="alert"
        class="mt-2 border-[4px] border-stop bg-sheet p-4 text-[22px] leading-[1.25] font-bold text-stop"
      >
        {today.halt}
      </p>
      <p class="mt-3">Nothing is planned until then, and nothing has to be made up.</p>
    {:else if today.session && !today.done_at}
      <h1 class="mt-1 text-[34px]">
        {Math.ceil(today.session.seconds / 60)} minutes {today.session.part === 'evening'
          ? 'this evening'
          : 'today'}
      </h1>
      <p class="mt-1">
        {today.session.items.length} exercises, {clock(today.session.seconds)} to the second. Week {today
          .session.week}, {today.done} of {today.planned} done.
      </p>
      <a href="/practice" class="mt-5 act min-h-[72px] w-full text-[24px]">Start</a>
      {#if today.changed.length}
        <section class="mt-6">
          <h2 class="text-[21px]">New since last time</h2>
          <ul class="mt-1">
            {#each today.changed as c (c)}<li class="border-b border-rule py-1.5 text-[17px]">{c}</li>{/each}
          </ul>
        </section>
      {/if}
      {#if today.session.left_out.length}<p class="mt-4 border-l-4 border-stop pl-3">
          Left out until your coach decides: {today.session.left_out.join(', ')}.
        </p>{/if}
      <section class="mt-6">
        <h2 class="text-[21px]">In this order</h2>
        <ol class="mt-1">
          {#each today.session.items as item, i (i)}
            <li class="grid grid-cols-[1fr_auto] items-center gap-x-3 border-b border-rule py-2">
              <span>{item.name}</span><span class="dose text-[17px]">{item.dose}</span>
              <PulseTrain
                train={item.train}
                width={250}
                height={16}
                seconds={longest}
                label="pulse train of {item.name}"
              /><span class="text-right text-[15px] text-soft">{clock(item.seconds)}</span>
              {#if item.eased_for}<span class="col-span-2 text-[16px]"
                  >Eased, for {item.eased_for.toLowerCase()}: {item.eased}</span
                >{/if}
            </li>
          {/each}
        </ol>
      </section>
      <p class="mt-5 text-[16px] text-soft">
        Pain means stop. More than planned is not better. Clean hands, breathe, no clenching.
      </p>
    {:else if today.done_at}
      <h1 class="mt-1 text-[34px]">Done for today</h1>
      <p class="mt-2">Your coach has it. Nothing more is planned today; resting is part of the plan.</p>
      {#if today.next_day}<p class="mt-2">Next: {longDay(today.next_day)}.</p>{/if}
    {:else if today.title}
      <h1 class="mt-1 text-[34px]">A rest day</h1>
      <p class="mt-2">
        No session is planned. {today.next_day
          ? `Next: ${longDay(today.next_day)}.`
          : 'This program is at its end; your coach plans what comes next.'} There is nothing to make up.
      </p>
    {:else}
      <h1 class="mt-1 text-[34px]">Welcome, {today.name.split(' ')[0]}</h1>
      <p class="mt-2">
        Your coach at {today.practice_name} has not assigned a program yet. It appears here when it begins.
      </p>
    {/if}
    {#if today.habits.length}
      <section class="mt-6">
        <h2 class="text-[21px]">Through the day</h2>
        <ul class="mt-1">
          {#each today.habits as h (h.name)}
            <li class="border-b border-rule py-2">
              <b>{h.name}</b>, {h.often}.<span class="block text-[17px]">{h.say}</span>
            </li>
          {/each}
        </ul>
      </section>
    {/if}
    <p class="mt-8">
      <a href="/agreements" class="inline-flex min-h-[44px] items-center text-[16px] link"
        >What you agreed to</a
      >
    </p>
  {:else if !problem}<p class="mt-6 text-soft">Reading your day …</p>{/if}
</main>
