<script lang="ts">
  import { momentAt } from '$lib/format'
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import Logo from '$lib/parts/Logo.svelte'

  /** What would have arrived: the mail that the demo's stand-in server took in. */
  let letters = $state<Schemas['ArrivedView'][] | null>(null)
  let notices = $state<Schemas['NoticeView'][]>([])
  let problem = $state('')
  const read = () =>
    attempt(
      (why) => (problem = why),
      async () => {
        letters = await ask(api.GET('/api/stand-in-mail'))
        notices = await ask(api.GET('/api/stand-in-notices'))
      }
    )
  onMount(() => {
    void read()
    const again = setInterval(() => void read(), 5000)
    return () => clearInterval(again)
  })
  /** A text in pieces, links apart. */
  const pieces = (text: string) => text.trim().split(/(https?:\/\/\S+)/)
</script>

<svelte:head><title>Mail of the demo · Dimbo</title></svelte:head>
<main class="mx-auto grid max-w-page gap-4 px-6 py-8">
  <a href="/sign-in"><Logo /></a>
  <h1>What would have arrived</h1>
  <p class="text-soft">
    The demo sends its mail to a stand-in on this machine, and nowhere else. Letters leave once a minute; some
    are put off at first, as by a real mailbox.
  </p>
  {#if problem}<p role="alert" class="text-stop">{problem}</p>{/if}
  {#if notices.length}
    <section aria-label="Notices on devices">
      <h2>On devices</h2>
      <ul class="mt-2 grid gap-2">
        {#each notices.slice(0, 12) as n, k (k)}<li class="border border-rule bg-sheet px-4 py-2">
            <a class="link" href={n.opens}>{n.title}</a>
            {n.body} <span class="text-row text-soft">{momentAt(n.at)}</span>
          </li>{/each}
      </ul>
    </section>
    <h2>By mail</h2>
  {/if}
  {#each letters ?? [] as x, n (n)}
    <article class="border border-rule bg-sheet p-4">
      <h2 class="text-sub">{x.subject}</h2>
      <p class="text-row text-soft">to {x.to}, {momentAt(x.at)}</p>
      <p class="mt-2 break-words whitespace-pre-line">
        {#each pieces(x.text) as piece, k (k)}{#if piece.startsWith('http')}<a class="link" href={piece}
              >{piece}</a
            >{:else}{piece}{/if}{/each}
      </p>
    </article>
  {:else}{#if !problem}<p role="status" class="text-soft">
        {letters ? 'Nothing yet.' : 'Looking …'}
      </p>{/if}{/each}
</main>
