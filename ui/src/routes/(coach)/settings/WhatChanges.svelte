<script lang="ts" generics="Body, Found">
  import { isSenior } from '$lib/people/session.svelte'
  import type { Snippet } from 'svelte'
  import type { Preview } from './preview.svelte'

  /** Beside a page of settings: what a change does, before it is kept. */
  let {
    preview,
    changed,
    kept,
    idle,
    keep,
    leave,
    told
  }: {
    preview: Preview<Body, Found>
    changed: boolean
    /** What was said when a change was kept. */
    kept: string
    /** What stands here while nothing is changed. */
    idle: string
    keep: () => unknown
    leave: () => unknown
    told: Snippet<[Found]>
  } = $props()
</script>

<aside
  class="border-l border-edge-soft pl-5 max-lg:border-t max-lg:border-l-0 max-lg:pl-0"
  aria-label="What this changes"
  aria-live="polite"
>
  <div class="sticky top-4">
    <h2>What this changes</h2>
    {#if preview.problem}<p role="alert" class="mt-2 text-stop">{preview.problem}</p>
    {:else if !changed}<p class="mt-2 text-row text-soft">{kept || idle}</p>
    {:else if preview.told}{@render told(preview.told)}
    {:else}<p class="mt-2 text-row text-soft">Looking …</p>{/if}
    {#if changed}<div class="mt-4 flex flex-wrap items-center gap-3">
        {#if isSenior()}<button type="button" class="act" disabled={!preview.told} onclick={keep}
            >Keep it</button
          >
        {:else}<p class="w-full text-row">
            You can look at what it would do. A coach or the owner keeps it.
          </p>{/if}
        <button type="button" class="act act-quiet" onclick={leave}>Leave it</button>
      </div>{/if}
  </div>
</aside>
