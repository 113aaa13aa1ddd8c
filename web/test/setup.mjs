// What a browser brings: a page, storage, a database. Registered before any test is loaded.
import 'fake-indexeddb/auto'
import { register } from 'node:module'
import { Window } from 'happy-dom'

register('./loader.mjs', import.meta.url)

const window = new Window({ url: 'http://127.0.0.1/' })
for (const name of Object.getOwnPropertyNames(window)) {
  if (name in globalThis || name.startsWith('_')) continue
  Object.defineProperty(globalThis, name, { get: () => window[name], configurable: true })
}
for (const name of [
  'window',
  'document',
  'localStorage',
  'sessionStorage',
  'navigator',
  'location',
  'addEventListener',
  'removeEventListener',
  'dispatchEvent',
  'Event',
  'CustomEvent',
  'KeyboardEvent',
  'MouseEvent',
  'EventTarget',
  'Element',
  'Node',
  'HTMLElement',
])
  Object.defineProperty(globalThis, name, {
    value:
      typeof window[name] === 'function' && /^[a-z]/.test(name)
        ? window[name].bind(window)
        : name === 'window'
          ? window
          : window[name],
    configurable: true,
    writable: true,
  })

// Nothing moves in a test: what is animated is at its end at once.
window.Element.prototype.animate = () => {
  const animation = { cancel() {}, onfinish: null }
  queueMicrotask(() => animation.onfinish?.())
  return animation
}

// Questions to the farm end in the test's own wire; without one there is no signal.
const NodeRequest = Request
globalThis.Request = class extends NodeRequest {
  constructor(input, init) {
    super(typeof input === 'string' ? new URL(input, 'http://127.0.0.1/') : input, init)
  }
}
globalThis.fetch = (input, init) =>
  globalThis.wire ? globalThis.wire(new globalThis.Request(input, init)) : Promise.reject(new TypeError('no wire'))
