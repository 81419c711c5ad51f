import { sveltekit } from '@sveltejs/kit/vite'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig, loadEnv } from 'vite'

export default defineConfig(({ mode }) => {
  const { DIMBO_PORT = '8420' } = loadEnv(mode, '.', 'DIMBO_')
  const server = `http://127.0.0.1:${DIMBO_PORT}`
  return {
    plugins: [tailwindcss(), sveltekit()],
    server: { proxy: { '/api': server, '/calendar': server } }
  }
})
