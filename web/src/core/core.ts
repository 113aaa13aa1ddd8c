import { Refusal } from '../api/client'
import { house } from '../ui/house.svelte'
import './wasm_exec.js'
import address from './core.wasm?url'

// Core, compiled for the browser: Walk and Pocket compute with it, so that they need no signal. It is loaded with these
// places, and kept by the service worker.

interface GoRuntime {
  importObject: WebAssembly.Imports
  run(instance: WebAssembly.Instance): Promise<void>
}
declare global {
  var Go: new () => GoRuntime
  var fjellCore: ((name: string, body: string) => string) | undefined
}

interface Answer {
  value?: unknown
  problem?: { field: string; message: string; message_imperial: string }
}

let loading: Promise<void> | null = null

/** Loads core once; places that compute call it as they open. */
export function loadCore(): Promise<void> {
  loading ??= start().catch((error: unknown) => {
    loading = null
    throw error
  })
  return loading
}

async function start() {
  const go = new Go()
  const response = await fetch(address)
  if (!response.ok) throw new Error(`core did not load: ${response.status}`)
  const { instance } = await WebAssembly.instantiate(await response.arrayBuffer(), go.importObject)
  void go.run(instance)
  ready = true
}

let ready = false

/** Whether core is here: until it is, the first sums are asked of the server. */
export function coreIsHere(): boolean {
  return ready
}

/** Does one thing by name; throws a Refusal that names the field, as the API does. */
export async function core<T>(name: string, body: unknown): Promise<T> {
  await loadCore()
  const answer = JSON.parse(globalThis.fjellCore!(name, JSON.stringify(body))) as Answer
  if (!answer.problem) return answer.value as T
  const { field } = answer.problem
  const message = house.system === 'imperial' ? answer.problem.message_imperial : answer.problem.message
  const said = message.charAt(0).toUpperCase() + message.slice(1) + (/[.?!]$/.test(message) ? '' : '.')
  throw new Refusal(422, said, [{ field, message: said }], false)
}
