import { registerSW } from 'virtual:pwa-register'
import { outbox } from './api/outbox.svelte'

// Work without a signal: the page and what the field needs are kept by a service worker, and what was entered there is
// sent when the farm can be reached.

export const fieldCache = 'field'

export function prepareField() {
  if ('serviceWorker' in navigator && import.meta.env.PROD) registerSW({ immediate: true })
  outbox.start()
}

/** Forgets what was kept of a person's farms; called as they sign out. */
export async function forgetField() {
  if ('caches' in globalThis) await caches.delete(fieldCache)
}
