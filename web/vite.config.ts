import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'

// The API runs on its own during development; make dev says where.
const api = process.env.FJELL_API ?? 'http://127.0.0.1:8080'

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: { outDir: '../internal/httpapi/dist', emptyOutDir: false, target: 'es2022' },
  server: { proxy: { '/api': api } },
})
