<script lang="ts">
  import { invalidateAll } from '$app/navigation'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import GroupRow from '$lib/desk/GroupRow.svelte'
  import JoinGroup from '$lib/desk/JoinGroup.svelte'
  import Write from '$lib/desk/Write.svelte'
  import { addDays, clock, share, shortDay } from '$lib/format'
  import Mark from '$lib/parts/Mark.svelte'
  import { offer } from '$lib/parts/undo.svelte'

  /** The course of a group: the next class, then dose, days and feel of each on one ruler, who is behind or ahead, and messages. */
  let { data } = $props()
  const g = $derived(data.group)
  let told = $state('')
  let problem = $state('')
  let chosen = $state<string[]>([])
  let writing = $state(false)
  let joining = $state(false)
  let text = $state('')
  const WIDE = 430
  const behind = $derived(g.members.filter((m) => m.behind))
  const weeks = $derived(Array.from({ length: g.weeks }, (_, i) => i + 1))
  const week = $derived(WIDE / Math.max(g.weeks, 1))
  const size = (w: Schemas['GroupWeek']) =>
    w.right_s + w.left_s > 0 ? Math.max(w.right_s, w.left_s) : w.hands_on_s / 2
  const most = $derived(Math.max(1, ...g.members.flatMap((m) => m.weeks.map(size))))
  /** What the fullest day of the member's present week asks for. */
  const now = (m: Schemas['GroupMember']) => {
    const at = Math.floor((Date.parse(m.today) - Date.parse(g.first_day)) / (7 * 86_400_000)) + 1
    return m.weeks.find((w) => w.week === at)
  }
  const felt = (m: Schemas['GroupMember']) => m.weeks.findLast((w) => w.effort !== null)

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
  async function takeOut(m: Schemas['GroupMember']) {
    problem = ''
    const params = { path: { group_id: g.id, assignment_id: m.assignment_id } }
    await attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.DELETE('/api/groups/{group_id}/members/{assignment_id}', { params }))
        chosen = chosen.filter((c) => c !== m.client_id)
        await invalidateAll()
        offer(`${m.name} is out of the group; the own program goes on.`, async () => {
          await ask(api.PUT('/api/groups/{group_id}/members/{assignment_id}', { params }))
          await invalidateAll()
        })
      }
    )
  }
</script>

<svelte:head><title>{g.name} · Dimbo</title></svelte:head>
<main class="mx-auto max-w-frame px-6 pt-3 pb-16">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
    <div>
      <h1 class="text-huge">{g.name}</h1>
      <p class="text-soft">
        {g.members.length} since {shortDay(g.first_day)}. {g.middle === null
          ? 'Nobody has begun yet.'
          : `In the middle ${Math.round(100 * g.middle)} % of the days are done; ${behind.length ? `${behind.length} ${behind.length === 1 ? 'is' : 'are'} behind` : 'nobody is behind'}.`}
      </p>
    </div>
    <div class="ml-auto flex flex-wrap gap-3">
      <button class="act min-h-chip text-row act-quiet" onclick={() => (joining = true)}>Add somebody</button>
      {#if behind.length}<button
          class="act min-h-chip text-row act-quiet"
          onclick={() => write(behind.map((m) => m.client_id))}>Write to those behind</button
        >{/if}
      <button
        class="act min-h-chip text-row"
        onclick={() => write(chosen.length ? chosen : g.members.map((m) => m.client_id))}
        >{chosen.length ? `Write to ${chosen.length}` : 'Write to all'}</button
      >
    </div>
  </div>
  {#if told}<p role="status" class="mt-2 text-fine">{told}</p>{/if}
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
  <section class="mt-3 border-l-4 border-action bg-sheet px-4 py-2">
    <h2 class="text-sub">In the next class</h2>
    <ul class="mt-1 text-row">
      {#each g.next_class as line (line)}<li class="py-0.5">{line}</li>{:else}<li class="text-soft">
          Nothing stands out of the last seven days. Practise the week as it stands.
        </li>{/each}
    </ul>
  </section>
  <div class="relative overflow-x-auto">
    <table class="mt-4 w-full text-row">
      <thead class="text-left text-small text-soft"
        ><tr class="align-bottom"
          ><th class="w-[28px]"><span class="sr-only">choose</span></th><th class="w-[190px] font-normal"
            >client</th
          ><th class="font-normal"
            ><span class="sr-only">weeks of the group: dose above, days, effort and soreness below</span><svg
              width={WIDE}
              height="18"
              class="block overflow-visible"
              aria-hidden="true"
              >{#each weeks as n (n)}<text
                  x={(n - 1) * week + 2}
                  y="13"
                  class="font-head text-small font-bold"
                  fill="var(--color-ink)">{weeks.length <= 16 || n % 4 === 1 ? n : ''}</text
                >{/each}</svg
            ></th
          ><th class="w-[112px] font-normal">dose this week</th><th class="w-[80px] font-normal">felt</th><th
            class="w-[128px] font-normal">done</th
          ><th class="w-[84px] font-normal">photographs</th><th class="font-normal"
            ><span class="sr-only">behind or ahead</span></th
          ></tr
        ></thead
      >
      <tbody>
        {#each g.members as m (m.assignment_id)}
          {@const dose = now(m)}
          {@const last = felt(m)}
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
            <td class="py-1.5 pr-2"
              ><a class="font-semibold hover:underline" href="/clients/{m.client_id}">{m.name}</a><span
                class="block text-small text-soft"
                >{m.ended
                  ? 'ended'
                  : m.week < 1
                    ? 'begins soon'
                    : m.week > m.program_weeks
                      ? `${m.program_weeks} weeks done`
                      : `week ${m.week} of ${m.program_weeks}`}{#if !m.ended}<button
                    class="ml-2 link"
                    onclick={() => takeOut(m)}
                    aria-label="take out {m.name}">take out</button
                  >{/if}</span
              ></td
            >
            <td class="py-1"
              ><GroupRow member={m} first={g.first_day} weeks={g.weeks} width={WIDE} {most} /></td
            >
            <td class="pl-3 text-small"
              >{#if dose && dose.right_s + dose.left_s > 0}<span class="block text-side-right"
                  >right {clock(dose.right_s)}</span
                ><span class="block text-side-left">left {clock(dose.left_s)}</span
                >{:else if dose && dose.hands_on_s}hands-on {clock(dose.hands_on_s)}{:else}<span
                  class="text-soft">none</span
                >{/if}</td
            >
            <td class="text-small"
              >{#if last}effort {last.effort}{#if last.soreness !== null}<br />sore {last.soreness}{/if}{:else}<span
                  class="text-soft">not told</span
                >{/if}</td
            >
            <td class="text-small"
              ><b>{share(m.last_week.done)} of {m.last_week.planned}</b> in 7 days<span
                class="block text-soft">{share(m.whole.done)} of {m.whole.planned} in all</span
              ></td
            >
            <td class="text-small"
              >{#if !m.photographs}<span class="text-soft">none</span>{:else if m.photographs <= m.today}<b
                  class="text-watch">due</b
                >{:else}{shortDay(m.photographs)}{/if}</td
            >
            <td class="max-w-label text-small"
              >{#if m.behind || m.ahead}<span class="flex gap-2 text-watch"
                  ><Mark weight="watch" /><span>{m.behind ? `behind: ${m.behind}` : `ahead: ${m.ahead}`}</span
                  ></span
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <p class="mt-3 max-w-[96ch] text-small text-soft">
    Above: planned contraction of each week’s fullest day (hands-on time where nothing contracts). Bars:
    planned and done days. Below: ● effort, ◇ soreness. {g.rule} The weeks are those from {shortDay(
      g.first_day
    )} to {shortDay(addDays(g.first_day, 7 * g.weeks - 1))}.
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
  <JoinGroup bind:open={joining} group={g} done={invalidateAll} />
</main>
