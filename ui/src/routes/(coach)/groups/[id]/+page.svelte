<script lang="ts">
  import { api, ask } from '$lib/api/client'
  import Write from '$lib/desk/Write.svelte'
  import { addDays, daysBetween, share, shortDay, weekDay } from '$lib/format'
  import Mark from '$lib/parts/Mark.svelte'

  /** Those who started together on one ruler: who is behind and why, and one message to all or to some. */
  let { data } = $props()
  const g = $derived(data.group)
  let told = $state('')
  let chosen = $state<string[]>([])
  let writing = $state(false)
  let text = $state('')
  const wide = 540
  const day = $derived(wide / Math.max(7 * g.weeks, 1))
  const x = (iso: string) => daysBetween(g.first_day, iso) * day
  const behind = $derived(g.members.filter((m) => m.behind))
  const weeks = $derived(Array.from({ length: g.weeks }, (_, i) => i + 1))

  function write(to: string[]) {
    chosen = to
    text = ''
    writing = true
  }
  async function send(message: string, body: string) {
    const { count } = await ask(
      api.POST('/api/groups/{group_id}/messages', {
        params: { path: { group_id: g.id } },
        body: { id: message, clients: chosen, text: body, written_at: new Date().toISOString() }
      })
    )
    told = `Written to ${count} ${count === 1 ? 'client' : 'clients'}; each reads it as their own.`
  }
</script>

<svelte:head><title>{g.name} · Dimbo</title></svelte:head>
<main class="mx-auto max-w-desk px-6 pt-5 pb-16">
  <div class="flex items-end gap-4">
    <div>
      <h1>{g.name}</h1>
      <p class="mt-1 text-soft">
        {g.members.length} started on {shortDay(g.first_day)}. {g.middle === null
          ? 'Nobody has begun yet.'
          : `In the middle ${Math.round(100 * g.middle)} % of the days are done; ${behind.length ? `${behind.length} ${behind.length === 1 ? 'is' : 'are'} behind` : 'nobody is behind'}.`}
      </p>
    </div>
    <div class="ml-auto flex gap-3">
      {#if behind.length}<button class="act act-quiet" onclick={() => write(behind.map((m) => m.client_id))}
          >Write to those behind</button
        >{/if}
      <button class="act" onclick={() => write(chosen.length ? chosen : g.members.map((m) => m.client_id))}
        >{chosen.length ? `Write to ${chosen.length}` : 'Write to all'}</button
      >
    </div>
  </div>
  {#if told}<p role="status" class="mt-2 text-fine">{told}</p>{/if}
  <table class="mt-5 w-full text-row">
    <thead class="text-left text-small text-soft"
      ><tr class="align-bottom"
        ><th class="w-[28px]"></th><th class="w-[210px] font-normal">client</th><th class="font-normal"
          ><svg width={wide} height="18" class="block overflow-visible" aria-hidden="true"
            >{#each weeks as n (n)}<text
                x={(n - 1) * 7 * day + 2}
                y="13"
                class="font-head text-small font-bold"
                fill="var(--color-ink)">{weeks.length <= 16 || n % 4 === 1 ? n : ''}</text
              >{/each}</svg
          ></th
        ><th class="w-[136px] font-normal">whole course</th><th class="w-[92px] font-normal">last 7 days</th
        ><th class="w-[180px] font-normal"></th></tr
      ></thead
    >
    <tbody>
      {#each g.members as m (m.client_id)}
        <tr class="border-t border-rule">
          <td
            ><input
              type="checkbox"
              class="size-[18px]"
              value={m.client_id}
              bind:group={chosen}
              aria-label="Choose {m.name}"
            /></td
          >
          <td class="py-1.5"
            ><a class="font-semibold hover:underline" href="/clients/{m.client_id}">{m.name}</a>{m.ended
              ? ', ended'
              : ''}</td
          >
          <td>
            <svg
              width={wide}
              height="34"
              role="img"
              class="block overflow-visible"
              aria-label="{m.name}: {m.days
                .filter((d) => d.state !== 'future')
                .map((d) => `${weekDay(d.day)} ${d.state}`)
                .join(', ')}"
            >
              {#each weeks as n (n)}<path d="M{(n - 1) * 7 * day} 0V34" stroke="var(--color-rule)" />{/each}
              <path d="M0 9H{wide}" stroke="var(--color-ink)" stroke-width=".7" />
              {#each m.days as d (d.day)}
                {@const w = Math.min(day * 0.7, 8)}
                {@const at = x(d.day) + (day - w) / 2}
                {#if d.state !== 'paused' && d.state !== 'extra'}<rect
                    x={at}
                    y="9"
                    width={w}
                    height="22"
                    fill="none"
                    stroke={d.state === 'future' ? 'var(--color-rule)' : 'var(--color-faint)'}
                    stroke-width=".8"
                  />{/if}
                {#if d.share > 0}<rect
                    x={at}
                    y="9"
                    width={w}
                    height={22 * d.share}
                    fill="var(--color-ink)"
                  />{/if}
                {#if d.over_share > 0.02}<rect
                    x={at}
                    y={9 - Math.max(2, 8 * Math.min(d.over_share, 1))}
                    width={w}
                    height={Math.max(2, 8 * Math.min(d.over_share, 1))}
                    fill="var(--color-mark-watch)"
                  />{/if}
              {/each}
              {#if x(m.today) >= 0 && x(m.today) <= wide}<path
                  d="M{x(m.today) + day / 2} 0V34"
                  stroke="var(--color-action)"
                  stroke-width="1.5"
                />{/if}
            </svg>
          </td>
          <td
            >{share(m.whole.done)} of {m.whole.planned}{m.whole.planned
              ? `, ${Math.round((100 * m.whole.done) / m.whole.planned)} %`
              : ''}</td
          >
          <td>{share(m.last_week.done)} of {m.last_week.planned}</td>
          <td
            >{#if m.behind}<span class="flex gap-2 text-watch"
                ><Mark weight="watch" /><span>{m.behind}</span></span
              >{/if}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="mt-3 max-w-[80ch] text-small text-soft">
    {g.rule} The weeks are those from {shortDay(g.first_day)} to {shortDay(
      addDays(g.first_day, 7 * g.weeks - 1)
    )}.
  </p>
  <Write
    bind:open={writing}
    to={chosen.length === g.members.length
      ? 'all of them'
      : chosen.length === 1
        ? (g.members.find((m) => m.client_id === chosen[0])?.name.split(' ')[0] ?? '')
        : `${chosen.length} of them`}
    bind:text
    unread={g.members.filter((m) => !m.has_account && chosen.includes(m.client_id)).map((m) => m.name)}
    {send}
  />
</main>
