import createClient from 'openapi-fetch'
import type { components, paths } from './schema'
import { signal } from './signal.svelte'

export type Schemas = components['schemas']

/** One field a person must look at again, and why. */
export interface FieldProblem {
  field: string
  message: string
}

/** A record as somebody else stored it meanwhile. */
export interface Stored {
  version: number
  record: Record<string, unknown> | null
}

/** A request that was refused, in words a grazier understands, with the fields it is about. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: FieldProblem[],
    /** true when the figures are possible but strange and are taken once confirmed */
    readonly unusual: boolean,
    /** what stands there now, where another hand was faster */
    readonly stored: Stored | null = null,
  ) {
    super(message)
  }

  /** Whether it is known that nothing was kept: an answer came, and it was no. */
  get definite(): boolean {
    return this.status >= 400 && this.status < 500
  }

  /** The sentence for a form field, if the refusal is about it. */
  at(field: string): string | undefined {
    return this.fields.find((f) => f.field === field || f.field.endsWith('.' + field))?.message
  }
}

export const api = createClient<paths>({ baseUrl: '' })

// A write carries a key of its own, which stays the same until its outcome is known: pressed again after an answer that
// was lost, it counts once.
const keyHeader = 'Idempotency-Key'
/** The headers of a write that makes no record of its own; the client fills them in. */
export const pressed = { [keyHeader]: '' } as const
const keys = new Map<string, string>()
const marks = new WeakMap<Request, string>()

api.use({
  async onRequest({ request, schemaPath }) {
    if (request.method === 'GET') signal.asks(request)
    if (request.method === 'GET' || !schemaPath.startsWith('/api/farms/{farm}')) return
    const json = request.headers.get('Content-Type')?.includes('json')
    const mark = [request.method, request.url, request.headers.get('If-Match'), json ? await request.clone().text() : ''].join(
      '\n',
    )
    const key = keys.get(mark) ?? newId()
    keys.set(mark, key)
    request.headers.set(keyHeader, key)
    marks.set(request, mark)
  },
  onResponse({ request, response }) {
    signal.came(request, response)
    const mark = marks.get(request)
    if (mark !== undefined && response.status < 500) keys.delete(mark)
  },
})

/** The event by which the page hears that the session has ended. */
export const signedOut = 'signedout'

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Waits for an answer and throws a Refusal if it is none. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Refusal(0, 'No signal: Fjell does not answer.', [], false)
  }
  if (answer.response.ok) return answer.data as T
  if (answer.response.status === 401 && !answer.response.url.endsWith('/api/sign-in')) dispatchEvent(new Event(signedOut))
  const problem = (answer.error ?? {}) as {
    detail?: string
    type?: string
    errors?: { location?: string; message?: string; value?: unknown }[]
  }
  if (answer.response.status === 412) {
    const stored = problem.errors?.find((e) => e.location === 'stored')?.value as Stored | undefined
    throw new Refusal(412, 'Somebody changed this meanwhile. What you typed is still here.', [], false, stored ?? null)
  }
  const fields = (problem.errors ?? []).map((e) => ({
    field: (e.location ?? '').replace(/^body\.?/, ''),
    message: sentence(e.message ?? ''),
  }))
  const detail = fields.length
    ? fields.map((f) => f.message).join(' ')
    : sentence(problem.detail ?? `Refused (${answer.response.status})`)
  throw new Refusal(answer.response.status, detail, fields, problem.type === 'urn:fjell:unusual')
}

function sentence(text: string): string {
  const t = text.trim()
  if (!t) return t
  return t.charAt(0).toUpperCase() + t.slice(1) + (/[.?!]$/.test(t) ? '' : '.')
}

/** A new id, time-ordered (UUID version 7): whoever creates a record names it, so that sending twice is harmless. */
export function newId(): string {
  const raw = crypto.getRandomValues(new Uint8Array(16))
  let ms = performance.timeOrigin + performance.now()
  for (let i = 5; i >= 0; i--) {
    raw[i] = ms % 256
    ms = Math.floor(ms / 256)
  }
  raw[6] = (raw[6]! & 0x0f) | 0x70
  raw[8] = (raw[8]! & 0x3f) | 0x80
  const hex = [...raw].map((b) => b.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}
