<script lang="ts">
  /** Why an exercise is skipped, with large buttons; then practice goes on. */
  let { name, skip, back }: { name: string; skip: (reason: string) => void; back: () => void } = $props()
  const reasons = ['no time', 'too hard today', 'not sure how', 'not now']
</script>

<h1 class="mt-2 text-title">Skip {name}?</h1>
<p class="mt-2 text-big">Say why, and we go on with the next one. Nothing has to be made up.</p>
<div class="mt-5 grid gap-3">
  {#each reasons as reason (reason)}
    <button
      class="min-h-thumb rounded border-2 border-night-soft text-huge font-semibold"
      onclick={() => skip(reason)}>{reason}</button
    >
  {/each}
</div>
<p class="mt-4 text-head text-night-soft">If it hurts, go back and press “It hurts”.</p>
<button class="mt-auto min-h-hand text-big underline" onclick={back}>Go back to it</button>
