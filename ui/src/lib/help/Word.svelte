<script lang="ts">
  import Explain from '$lib/parts/Explain.svelte'
  import words from './words.json'

  /** A word of the glossary in a client's sentence, explained where it stands. It is as high as a finger needs and takes no more room
   * than its line. */
  let { term, said }: { term: keyof typeof words; said: string } = $props()
</script>

<Explain text="{term}: {words[term]}" class="-my-3 inline-block py-3 [font-size:inherit] text-lead"
  ><span data-term={term}>{said}</span></Explain
>
