<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { longDate } from '$lib/format'
  import { align, fit, layout, matrix, STAGE, turned, type Points } from '$lib/sittings/geometry'

  /** A letter as it is read; what the coach wrote and what the records say look alike to the client, and are told apart for the coach. */
  let {
    letter,
    missing = '',
    apart = false
  }: {
    letter: Schemas['LetterView']
    /** Why its photographs are not shown, as in: need a connection; empty when they are. */
    missing?: string
    /** Whether what cannot be edited is marked. */
    apart?: boolean
  } = $props()

  /** Level and to one size, by the first of the two. */
  function place(pair: Schemas['LetterPair'], photo: Schemas['LetterPhotograph']) {
    const target = layout(pair.before.points as Points)
    return (target && align(photo.points as Points, target)) || fit(photo.width, photo.height)
  }
</script>

<article class="text-pretty">
  <p class="text-soft">{letter.practice}, {longDate(letter.written)}</p>
  <h2 class="mt-3 text-huge">{letter.title}</h2>
  <p class="mt-3">{letter.greeting}</p>
  {#each letter.passages as passage, i (i)}
    <section class="mt-4 {apart && passage.told !== 'coach' ? 'border-l-2 border-rule pl-3' : ''}">
      {#if passage.heading}<h3 class="text-head">{passage.heading}</h3>{/if}
      {#each passage.paragraphs as said, n (n)}<p class="mt-1.5">{said}</p>{/each}
      {#each passage.pairs as pair, n (n)}
        <figure class="mt-3">
          {#if !missing}
            <div class="grid max-w-card grid-cols-2 gap-2">
              {#each [pair.before, pair.after] as photo, side (side)}
                <div>
                  <svg
                    viewBox="0 0 {STAGE.w} {STAGE.h}"
                    class="block w-full bg-band"
                    role="img"
                    aria-label="{pair.view}, {longDate(pair.days[side] ?? '')}"
                  >
                    <g transform={matrix(place(pair, photo))}
                      ><image
                        href="/api/photographs/{photo.id}.jpg"
                        width={photo.width}
                        height={photo.height}
                        transform={turned(photo)}
                      /></g
                    >
                  </svg>
                  <p class="text-small text-soft">{longDate(pair.days[side] ?? '')}</p>
                </div>
              {/each}
            </div>
          {:else}<p class="text-soft">
              {pair.view}, {pair.days.map((d) => longDate(d)).join(' and ')}: the photographs need a
              connection.
            </p>{/if}
          <figcaption>
            {#each pair.sentences as said, k (k)}<p class="mt-1.5">{said}</p>{/each}
            {#if pair.alike}<p class="mt-1 text-small text-soft">{pair.alike}</p>{/if}
          </figcaption>
        </figure>
      {/each}
    </section>
  {/each}
  <p class="mt-6">{letter.signed}</p>
</article>
