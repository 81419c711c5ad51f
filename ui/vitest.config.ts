import { svelte } from '@sveltejs/vite-plugin-svelte'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

/** Tests of TypeScript that needs no page: what is read of `$lib` is the product's own. */
export default defineConfig({
  plugins: [svelte()],
  resolve: { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) }, conditions: ['browser'] },
  test: { include: ['src/**/*.test.ts'], environment: 'node' }
})
