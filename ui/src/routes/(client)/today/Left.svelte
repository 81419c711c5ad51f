<script lang="ts">
  import { inWords } from '$lib/format'
  import type { Play } from '$lib/offline/db'
  import { playedOf } from '$lib/practice/plays'

  /** A session that was begun on this phone and not ended: go on with it, or hand in what was done. */
  let { play, same, handOver }: { play: Play; same: boolean; handOver: () => void } = $props()
</script>

<h1 class="mt-1 text-display">You were in the middle</h1>
<p class="mt-1">
  {inWords(playedOf(play))} of {inWords(play.session.seconds)} are kept on this phone.{same
    ? ''
    : ' Your session has changed meanwhile, so hand in what you did first.'}
</p>
{#if same}<a href="/practice?part={play.part.part}" class="mt-4 act min-h-thumb w-full text-huge"
    >Go on at {inWords(play.at)}</a
  >{/if}
<button class="mt-3 act min-h-hand w-full text-head {same ? 'act-quiet' : ''}" onclick={handOver}
  >Hand in what was done</button
>
