import { sveltekit } from '@sveltejs/kit/vite'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [tailwindcss(), sveltekit()],
  server: {
    proxy: Object.fromEntries(
      ['/api', '/calendar'].map((path) => [path, `http://127.0.0.1:${process.env['DIMBO_PORT'] ?? 8420}`])
    )
  }
})
