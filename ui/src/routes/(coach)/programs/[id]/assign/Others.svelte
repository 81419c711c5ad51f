<script lang="ts">
  import type { Plan } from './plan.svelte'

  /** Who starts together with the program's own client. */
  let { plan, changed }: { plan: Plan; changed: () => void } = $props()
  let find = $state('')
  const rest = $derived(
    plan.people.filter(
      (p) => p.id !== plan.program?.client_id && p.name.toLowerCase().includes(find.trim().toLowerCase())
    )
  )
</script>

<details class="border-t border-rule pt-2" open={plan.others.length > 0}>
  <summary class="font-bold"
    >Start with others too{plan.others.length ? ` (${plan.others.length})` : ''}</summary
  >
  <p class="mt-1 text-small text-soft">Each gets a copy of their own, in their own time zone.</p>
  <input
    class="mt-2 field min-h-chip"
    placeholder="Find a client"
    aria-label="Find a client"
    bind:value={find}
  />
  <ul class="mt-1 max-h-[190px] overflow-y-auto">
    {#each rest as p (p.id)}
      <li>
        <label class="flex min-h-chip items-center gap-2 text-row"
          ><input type="checkbox" value={p.id} bind:group={plan.others} onchange={changed} />{p.name}</label
        >
      </li>
    {/each}
  </ul>
  {#if plan.others.length}
    <label class="mt-2 grid gap-1 text-row"
      >Name of the group<input
        class="field min-h-touch"
        required
        maxlength="80"
        placeholder="such as Winter beginners"
        bind:value={plan.group}
      /></label
    >
  {/if}
</details>
