import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { api, ask, Refusal, type Schemas } from './client'
import { refresh } from './queries.svelte'

// What was entered in the field and is not yet with the farm. It is held in the browser's own database until the farm
// has answered, in the order in which it was entered; ids are made here, so that sending twice is harmless.

export type Item = { key?: number; farm: string; id: string; problem?: string; unusual?: boolean } & (
  | { kind: 'reading'; body: Schemas['ReadingInput'] }
  | { kind: 'measurement'; body: Schemas['NewMeasurement'] }
  | { kind: 'photo'; body: { stop: string; paddock: string; taken_at: string; blob: Blob } }
)

interface Held extends DBSchema {
  items: { key: number; value: Item }
}

const atOnce = 200
const everyMs = 10_000

class Outbox {
  /** things held here, not yet with the farm */
  items = $state<Item[]>([])
  /** false since the farm last did not answer */
  reached = $state(true)
  /** the session ended while things were held */
  signedOut = $state(false)
  #db: Promise<IDBPDatabase<Held>> | null = null
  #sending: Promise<void> | null = null

  get waiting(): number {
    return this.items.filter((i) => !i.problem).length
  }

  get troubled(): Item[] {
    return this.items.filter((i) => i.problem)
  }

  /** Opens the store and begins to send; called once. */
  start() {
    void this.#load().then(() => this.send())
    addEventListener('online', () => void this.send())
    setInterval(() => {
      if (this.waiting) void this.send()
    }, everyMs)
  }

  #open() {
    this.#db ??= openDB<Held>('fjell', 1, {
      upgrade: (db) => {
        db.createObjectStore('items', { keyPath: 'key', autoIncrement: true })
      },
    })
    return this.#db
  }

  async #load() {
    this.items = await (await this.#open()).getAll('items')
  }

  /** Holds a thing and begins to send it. */
  async hold(item: Item) {
    const db = await this.#open()
    const kept = $state.snapshot(item) as Item
    if (item.kind === 'photo' && kept.kind === 'photo') kept.body.blob = item.body.blob // a snapshot does not copy blobs
    delete kept.key
    kept.key = await db.add('items', kept)
    this.items.push(kept)
    void this.send()
  }

  /** Lets a thing that the farm refused go, or sends it again as it was confirmed. */
  async settle(item: Item, again: boolean) {
    const db = await this.#open()
    if (!again) {
      await this.#remove([item])
      return
    }
    const next = $state.snapshot(item) as Item
    delete next.problem
    delete next.unusual
    if (next.kind === 'measurement') next.body.confirmed = true
    await db.put('items', next)
    await this.#load()
    await this.send()
  }

  /** Takes a measurement back: out of what is held here or, once it is with the farm, from there. */
  async takeBack(farm: string, id: string) {
    await this.send()
    const held = this.items.find((i) => i.kind === 'measurement' && i.id === id)
    if (held) await this.#remove([held])
    else await ask(api.DELETE('/api/farms/{farm}/measurements/{id}', { params: { path: { farm, id } } }))
  }

  /** Sends what is held, oldest first, until the farm no longer answers. */
  send(): Promise<void> {
    this.#sending ??= this.#run().finally(() => {
      this.#sending = null
    })
    return this.#sending
  }

  async #run() {
    let sentAny = false
    const elsewhere = new Set<string>() // farms of somebody else who used this browser: theirs waits for them
    for (;;) {
      const next = this.items.find((i) => !i.problem && !elsewhere.has(i.farm))
      if (!next) break
      const batch =
        next.kind === 'reading'
          ? this.items.filter((i) => i.kind === 'reading' && i.farm === next.farm && !i.problem).slice(0, atOnce)
          : [next]
      try {
        await this.#post(next, batch)
        this.reached = true
        this.signedOut = false
        await this.#remove(batch.filter((i) => !i.problem))
        sentAny ||= next.kind !== 'reading'
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        if (error.status === 0 || error.status === 401 || error.status >= 500) {
          this.reached = error.status !== 0
          this.signedOut = error.status === 401
          break // it stays held, and is tried again
        }
        if (error.status === 403 || error.status === 404) {
          elsewhere.add(next.farm)
          continue
        }
        await this.#mark(next, error.message, error.unusual)
      }
    }
    if (sentAny) await refresh()
  }

  async #post(first: Item, batch: Item[]) {
    const path = { farm: first.farm }
    if (first.kind === 'reading') {
      const readings = batch.map((i) => i.body as Schemas['ReadingInput'])
      const answer = await ask(api.POST('/api/farms/{farm}/readings', { params: { path }, body: { readings } }))
      for (const r of answer.refused) {
        const item = batch[r.index]
        if (item) await this.#mark(item, r.why, false)
      }
    } else if (first.kind === 'measurement') {
      await ask(api.POST('/api/farms/{farm}/measurements', { params: { path }, body: first.body }))
    } else {
      const { stop, paddock, taken_at, blob } = first.body
      await ask(
        api.POST('/api/farms/{farm}/photos', {
          params: { path, query: { id: first.id, stop, paddock, taken_at } },
          body: blob as unknown as string,
          bodySerializer: (b) => b as unknown as BodyInit,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      )
    }
  }

  async #mark(item: Item, problem: string, unusual: boolean) {
    item.problem = problem
    item.unusual = unusual
    const live = this.items.find((i) => i.key === item.key)
    if (live) {
      live.problem = problem
      live.unusual = unusual
    }
    const db = await this.#open()
    const stored = await db.get('items', item.key!)
    if (stored) await db.put('items', { ...stored, problem, unusual })
  }

  async #remove(gone: Item[]) {
    const db = await this.#open()
    for (const i of gone) await db.delete('items', i.key!)
    const keys = new Set(gone.map((i) => i.key))
    this.items = this.items.filter((i) => !keys.has(i.key))
  }
}

export const outbox = new Outbox()
