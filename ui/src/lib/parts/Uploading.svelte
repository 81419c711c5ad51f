<script lang="ts">
  import { deliver, drop, uploads, type Target } from './uploads.svelte'

  /** Every file on its way, with its progress or what to do. */
  let { to, arrived }: { to: Target; arrived: () => Promise<void> } = $props()
</script>

{#each uploads.list as u (u.id)}
  <div class="mt-2 flex flex-wrap items-center gap-3 text-row" role="status">
    <span class="max-w-aside truncate">{u.name}</span>
    {#if u.problem}
      <span class="text-stop">{u.problem}</span>
      <button class="link" onclick={() => deliver(to, u, arrived)}>Send again</button>
      <button class="link" onclick={() => drop(u)}>Leave it</button>
    {:else}<progress max="1" value={u.sent} aria-label="Sending {u.name}"></progress><span class="text-soft"
        >sending {Math.round(u.sent * 100)} %</span
      >{/if}
  </div>
{/each}
