<script lang="ts">
  import { isSenior } from '$lib/people/session.svelte'
  import type { Schemas } from '$lib/api/client'
  import { clock } from '$lib/format'
  import Shown from '$lib/exercises/Shown.svelte'
  import Note from '$lib/parts/Note.svelte'
  import Figure from '$lib/signature/Figure.svelte'
  import type { FigureData } from '$lib/signature/figure'
  import { onNeck, type Fills, type Side } from '$lib/signature/face-map'
  import FaceMap from '$lib/signature/FaceMap.svelte'
  import PulseTrain from '$lib/signature/PulseTrain.svelte'

  /** One exercise: how it is done, what is said, how its dose climbs, and what to mind. */
  let {
    card,
    copy,
    edit,
    retire
  }: { card: Schemas['CardView']; copy: () => void; edit: () => void; retire: (is: boolean) => void } =
    $props()

  let mirror = $state(false)
  let side = $state<Side>('right')
  let rung = $state(0)
  let played = $state<number | null>(null)
  const fills = $derived.by((): Fills => {
    const both = (share: number) => ({ right: share, left: share })
    return Object.fromEntries([
      ...card.helpers.map((m) => [m.id, both(0.35)]),
      ...card.prime_movers.map((m) => [m.id, both(1)])
    ])
  })
  const longest = $derived(Math.max(10, ...card.rungs.map((r) => r.train.total_s)))
  const shown = $derived(card.rungs[Math.min(rung, card.rungs.length - 1)])
  const timed = $derived((shown?.train.total_s ?? 0) > 0)

  $effect(() => {
    void card.id
    rung = 0
    played = null
  })
  /** The cursor runs along the train in real time. */
  $effect(() => {
    if (played === null || !shown) return
    const began = performance.now() - played * 1000
    const total = shown.train.total_s
    let frame = 0
    const step = () => {
      const now = (performance.now() - began) / 1000
      if (now >= total) played = null
      else {
        cursor = now
        frame = requestAnimationFrame(step)
      }
    }
    frame = requestAnimationFrame(step)
    return () => cancelAnimationFrame(frame)
  })
  let cursor = $state(0)
  /** Cautions of the table by what they would do. */
  const held = $derived(
    (
      [
        ['lock', 'Locked until a clearance'],
        ['ease', 'The eased version'],
        ['remind', 'Remember']
      ] as const
    )
      .map(([effect, says]) => ({
        effect,
        says,
        names: card.cautions.filter((c) => c.effect === effect).map((c) => c.about.toLowerCase())
      }))
      .filter((h) => h.names.length)
  )
  const weights = { lock: 'stop', ease: 'watch', remind: 'remark' } as const
</script>

<div class="grid grid-cols-[minmax(0,1fr)_216px] gap-x-7">
  <article class="pt-4">
    <h2 class="text-huge">{card.name}</h2>
    <p class="text-row text-soft">
      {card.family === card.stage ? card.family : `${card.family}, ${card.stage}`}; {card.sides === 'together'
        ? 'both sides together'
        : 'each side apart'}{card.pressure === 'none' ? '' : `; ${card.pressure} pressure`}{card.own
        ? `; your own, version ${card.version}`
        : ''}{card.retired ? '; retired' : ''}
    </p>
    {#if isSenior()}<div class="mt-1 flex gap-5 text-row">
        <button class="link" onclick={copy}>Copy as your own</button>
        <a class="link" href="/api/exercises/{card.id}/file.zip" download>Save as a file</a>
        {#if card.own}
          <button class="link" onclick={edit}>Edit</button>
          <button class="link" onclick={() => retire(!card.retired)}
            >{card.retired ? 'Take back' : 'Retire'}</button
          >
        {/if}
      </div>{/if}
    <p class="mt-2 max-w-[64ch]">{card.purpose}</p>
    <div class="mt-4 grid grid-cols-[300px_minmax(0,1fr)] gap-7">
      <div>
        <div class="h-[350px] border border-rule bg-sheet p-1">
          <Figure figure={card.figure as FigureData} {side} {mirror} label="How {card.name} is done" />
        </div>
        <div class="mt-1 flex flex-wrap gap-x-4 text-small">
          {#if card.figure.view === 'front'}<button class="link" onclick={() => (mirror = !mirror)}
              >{mirror ? 'as in a mirror' : 'facing you'}; turn</button
            >{:else}<span class="text-soft"
              >{card.figure.view === 'behind' ? 'from behind' : 'from the side'}</span
            >{/if}
          {#if card.figure.one_side}<button
              class="link"
              onclick={() => (side = side === 'right' ? 'left' : 'right')}
              ><span class={side === 'right' ? 'text-side-right' : 'text-side-left'}>{side} side</span>; the
              other</button
            >{/if}
        </div>
        {#if card.clip || card.picture}<div class="mt-3">
            <Shown clip={card.clip} picture={card.picture} name={card.name} />
          </div>{/if}
        <ul class="mt-2 text-small text-soft">
          {#each card.figure.words as w (w)}<li>{w}</li>{/each}
        </ul>
        {#if card.prime_movers.length + card.helpers.length}
          <h3 class="mt-4 border-b border-ink">Muscles</h3>
          <div class="mt-2 grid grid-cols-[130px_1fr] gap-3">
            <div class="h-[170px]">
              <FaceMap
                view={card.figure.view === 'behind' ? 'behind' : mirror ? 'mirror' : 'facing'}
                {fills}
                fibres={false}
                headOnly={card.figure.view !== 'behind' && !onNeck(Object.keys(fills))}
                label="muscles of {card.name}"
              />
            </div>
            <p class="text-row">
              {card.prime_movers.map((m) => m.name).join(', ') || 'none trained'}{card.helpers.length
                ? `; helped by ${card.helpers.map((m) => m.name).join(', ')}`
                : ''}
            </p>
          </div>
        {/if}
      </div>
      <div>
        <h3 class="border-b border-ink">Said in this order</h3>
        <ol class="mt-2 space-y-1 text-sub leading-snug">
          {#each card.cues as cue, i (i)}<li class="grid grid-cols-[22px_1fr]">
              <span class="text-soft">{i + 1}</span>{cue}
            </li>{/each}
        </ol>
        <p class="mt-3"><b>Felt at:</b> {card.felt_at}</p>
        <p class="mt-2">{card.position}{card.needs.length ? ` With: ${card.needs.join(', ')}.` : ''}</p>
        {#if card.after.length}<p class="mt-2">
            <b>First:</b>
            {#each card.after as a, i (a.id)}{i ? ', ' : ''}<a class="link" href="#{a.id}">{a.name}</a>{/each}
          </p>{/if}
        <h3 class="mt-4 border-b border-ink">Watch for</h3>
        <dl class="mt-2 space-y-1">
          {#each card.faults as f (f.fault)}<div>
              <dt class="inline font-bold">{f.fault}.</dt>
              <dd class="inline">{f.remedy}</dd>
            </div>{/each}
        </dl>
        <h3 class="mt-4 border-b border-ink">Eased</h3>
        <p class="mt-1.5">{card.eased}</p>
        {#if card.easier}<p class="mt-1.5">
            <span class="dose">{card.easier.dose}</span>
            {card.easier.cues.join(' ')}
          </p>{/if}
      </div>
    </div>
    <div class="mt-6">
      <section>
        <div class="flex items-baseline gap-4 border-b border-ink">
          <h3>Rungs, start to target</h3>
          {#if timed}<button
              class="text-small link"
              onclick={() => {
                cursor = 0
                played = played === null ? 0 : null
              }}
              >{played === null
                ? `play rung ${rung + 1}, ${clock(shown?.train.total_s ?? 0)}`
                : 'stop'}</button
            >{/if}
        </div>
        {#if shown && timed}<div class="my-3">
            <PulseTrain
              train={shown.train}
              width={676}
              height={34}
              cursor={played === null ? null : cursor}
              label="{shown.line}, {clock(shown.train.total_s)}"
            />
          </div>{/if}
        <ol>
          {#each card.rungs as r, i (i)}
            <li>
              <button
                class="grid w-full grid-cols-[22px_140px_1fr_52px] items-center border-b border-rule py-[3px] text-left {i ===
                rung
                  ? 'bg-sheet'
                  : ''}"
                aria-pressed={i === rung}
                onclick={() => {
                  rung = i
                  played = null
                }}
                ><span class="text-small text-soft">{i + 1}</span><span class="dose text-base">{r.line}</span>
                {#if timed}<PulseTrain
                    train={r.train}
                    width={430}
                    height={14}
                    seconds={longest}
                    label={r.line}
                  /><span class="text-right text-small text-soft">{clock(r.train.total_s)}</span>{/if}
              </button>
            </li>
          {/each}
        </ol>
        <p class="mt-2 text-small text-soft">
          Most a day: {card.ceiling_basis === 'times'
            ? `${card.ceiling_s} times`
            : `${clock(card.ceiling_s)} of ${card.ceiling_basis === 'contraction' ? 'contraction' : 'hands-on time'}`}.
          {card.ceiling_why}
          Raised by {card.axes.join(', then ')}.
        </p>
      </section>
    </div>
  </article>
  <aside class="grid content-start gap-3 border-l border-edge-soft pt-5 pl-4" aria-label="Margin">
    <Note weight="stop">{card.stop_rule}</Note>
    {#each card.care as text (text)}<Note weight="remark">{text}</Note>{/each}
    {#each card.school_notes as n (n.school)}<Note weight="remark"><b>{n.school}.</b> {n.note}</Note>{/each}
    <Note weight="remark">Helps with: {card.concerns.map((c) => c.name.toLowerCase()).join('; ')}.</Note>
    {#if card.cautions.length}
      <h3 class="mt-2 border-b border-ink text-row">If the client has</h3>
      {#each held as h (h.effect)}
        <Note weight={weights[h.effect]}><b>{h.says}:</b> {h.names.join('; ')}.</Note>
      {/each}
    {/if}
  </aside>
</div>
