import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** One field a person must look at again, and why. */
export interface FieldProblem {
  field: string
  message: string
}

/** A request that was refused, in words a grazier understands, with the fields it is about. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: FieldProblem[],
    /** true when the figures are possible but strange and are taken once confirmed */
    readonly unusual: boolean,
  ) {
    super(message)
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
const keys = new Map<string, string>()
const marks = new WeakMap<Request, string>()

api.use({
  async onRequest({ request, schemaPath }) {
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
    const mark = marks.get(request)
    if (mark !== undefined && response.status < 500) keys.delete(mark)
  },
})

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
    throw new Refusal(
      0,
      'No answer from Fjell. Look at the connection and try again: if it did arrive, it will not count twice.',
      [],
      false,
    )
  }
  if (answer.response.ok) return answer.data as T
  const problem = (answer.error ?? {}) as { detail?: string; type?: string; errors?: { location?: string; message?: string }[] }
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
