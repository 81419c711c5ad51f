import adapter from '@sveltejs/adapter-static'

/** A single-page application: every address is answered by index.html. */
export default {
  kit: {
    adapter: adapter({ pages: 'build', fallback: 'index.html', precompress: true }),
    output: { bundleStrategy: 'split' }
  },
  compilerOptions: { runes: true }
}
