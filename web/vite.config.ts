import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

// The API runs on its own during development; make dev says where.
const api = process.env.FJELL_API ?? 'http://127.0.0.1:8080'

// In the field the page itself and the last answers of these routes are kept; what is entered there waits in the
// outbox. Core is kept once a place that computes has asked for it.
const keptInTheField =
  /\/api\/(me|house|reference|sums|farms\/[0-9a-f-]{36}(\/(today|plan|moves|walk|mobs|ridge|land|swards|demand|cautions|jobs|looks|treatments|tallies|trainings))?)$/

export default defineConfig({
  plugins: [
    tailwindcss(),
    svelte(),
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: false,
      manifest: {
        name: 'Fjell',
        short_name: 'Fjell',
        description: 'Paddocks, moves and what stands out there',
        theme_color: '#0F4C5C',
        background_color: '#F3F1EA',
        display: 'standalone',
        start_url: '/',
        icons: [{ src: '/mark.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        globPatterns: ['**/*.{html,css,js,svg,woff2}'],
        navigateFallback: null,
        inlineWorkboxRuntime: true,
        cleanupOutdatedCaches: true,
        clientsClaim: true,
        skipWaiting: true,
        runtimeCaching: [
          {
            urlPattern: ({ request }) => request.mode === 'navigate',
            handler: 'NetworkFirst',
            options: { cacheName: 'page', networkTimeoutSeconds: 4, precacheFallback: { fallbackURL: 'index.html' } },
          },
          {
            urlPattern: /\/assets\/core-.*\.wasm$/,
            handler: 'CacheFirst',
            options: { cacheName: 'core', expiration: { maxEntries: 2 } },
          },
          {
            urlPattern: keptInTheField,
            handler: 'NetworkFirst',
            options: { cacheName: 'field', networkTimeoutSeconds: 6, cacheableResponse: { statuses: [200] } },
          },
        ],
      },
    }),
  ],
  build: { outDir: '../internal/httpapi/dist', emptyOutDir: false, target: 'es2022' },
  server: { proxy: { '/api': api } },
})
