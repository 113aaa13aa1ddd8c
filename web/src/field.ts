import { registerSW } from 'virtual:pwa-register'
import core from './core/core.wasm?url'
import { signedOut } from './api/client'
import { outbox } from './api/outbox.svelte'
import { refresh } from './api/queries.svelte'
import { signal } from './api/signal.svelte'
import { forgetDrafts } from './ui/draft.svelte'

// Work without a signal: the page and what the field needs are kept by a service worker, and what was entered there is
// sent when the farm can be reached.

export const fieldCache = 'field'

export function prepareField() {
  if (!('serviceWorker' in navigator)) signal.keepsNothing = 'browsers keep pages only over HTTPS'
  else if (import.meta.env.PROD)
    registerSW({
      immediate: true,
      onRegisterError: () => (signal.keepsNothing = 'the browser does not trust the certificate of this server'),
    })
  outbox.start()
  // A session that ended elsewhere: nothing of the farm stays to be read, what was being typed does.
  addEventListener(signedOut, () => void forgetKept())
  // Once the signal is back, what is shown is asked for again by itself.
  addEventListener('online', () => void refresh())
  setInterval(() => {
    if (signal.keptSince) void refresh()
  }, againMs)
}

const againMs = 10_000

/** Forgets what was kept of a person's farms and what they were typing; called as they sign out. What is held for the farm stays. */
export async function forgetField() {
  forgetDrafts()
  await forgetKept()
}

/** Forgets what only somebody who is signed in may read; the sums are anybody's. */
async function forgetKept() {
  kept.clear()
  if (!('caches' in globalThis)) return
  const cache = await caches.open(fieldCache)
  for (const asked of await cache.keys())
    if (!anybodys.includes(new URL(asked.url).pathname)) await cache.delete(asked, { ignoreVary: true })
}

const anybodys = ['/api/house', '/api/reference', '/api/sums']

const places = [
  'today',
  'cautions',
  'jobs',
  'looks',
  'treatments',
  'tallies',
  'trainings',
  'plan',
  'moves',
  'walk',
  'mobs',
  'ridge',
  'land',
  'swards',
  'demand',
]

/**
 * Lets the service worker keep what every place needs in the field, so that one visit is enough for all of them to open without a
 * signal. Done once for a farm while the page is open, when there is nothing else to do.
 */
export function keepPlaces(farm: string) {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD || kept.has(farm)) return
  kept.add(farm)
  setTimeout(async () => {
    await controlled()
    const asked = ['/api/me', ...anybodys, `/api/farms/${farm}`]
    for (const url of [...asked, ...places.map((place) => `/api/farms/${farm}/${place}`), core])
      await fetch(url).catch(() => kept.delete(farm))
  }, idleMs)
}

/** Resolves once the service worker answers this page: at a first visit it takes over some moments after the page has opened. */
async function controlled() {
  await navigator.serviceWorker.ready
  if (!navigator.serviceWorker.controller)
    await new Promise((resolve) => navigator.serviceWorker.addEventListener('controllerchange', resolve, { once: true }))
}

const idleMs = 3000
const kept = new Set<string>()
