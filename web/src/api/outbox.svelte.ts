import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { api, ask, Refusal, type Schemas } from './client'
import { post, unpost, type RecordOf } from './record'
import { house } from '../ui/house.svelte'
import { now } from '../ui/time.svelte'
import { refresh } from './queries.svelte'
import { signal } from './signal.svelte'

// What was entered in the field and is not yet with the farm. It is held in the browser's own database until the farm
// has answered, in the order in which it was entered; ids are made here, so that sending twice is harmless. Each thing carries
// the person who entered it and goes only under their name: a phone may be shared.

export type Item = {
  key?: number
  farm: string
  id: string
  /** the account of who entered it */
  person?: string
  /** since when it is held here, by the clock on the wall */
  held_at?: string
  problem?: string
  unusual?: boolean
  /** it was sent, and no answer came: it may be at the farm */
  tried?: boolean
} & (
  | { kind: 'reading'; body: Schemas['ReadingInput'] }
  | { kind: 'measurement'; body: Schemas['NewMeasurement'] }
  | {
      kind: 'photo'
      body: { stop: string; paddock: string; taken_at: string; blob: Blob; stage?: Schemas['NewLook']['stage']; point?: string }
    }
  | { kind: 'move'; body: Schemas['NewMove']; says: string } // says who went where, for whoever looks at what is held
  | { kind: 'call'; body: Schemas['NewGateCall']; says: string }
  | { kind: 'record'; body: RecordOf; says: string }
  | { kind: 'unrecord'; body: RecordOf } // taken back after it may have arrived
  | { kind: 'withdrawal'; body: { of?: 'measurement' | 'move'; paddock_id?: string } } // of what has its id
)

interface Held extends DBSchema {
  items: { key: number; value: Item }
}

const atOnce = 200
const everyMs = 10_000

export class Outbox {
  /** things held here, not yet with the farm */
  items = $state<Item[]>([])
  /** false since the farm last did not answer */
  reached = $state(true)
  /** the session ended while things were held */
  signedOut = $state(false)
  #db: Promise<IDBPDatabase<Held>> | null = null
  #sending: Promise<void> | null = null

  /** what is held for the person whose hands these are */
  get own(): Item[] {
    return this.items.filter((i) => (i.person ?? house.person) === house.person)
  }

  get waiting(): number {
    return this.own.filter((i) => !i.problem).length
  }

  get troubled(): Item[] {
    return this.own.filter((i) => i.problem)
  }

  /** Opens the store and begins to send; called once. */
  start() {
    void this.open().then(() => this.send())
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

  /** Reads what is held here. */
  async open() {
    this.items = await (await this.#open()).getAll('items')
  }

  /** Holds a thing and begins to send it. */
  async hold(item: Item) {
    const db = await this.#open()
    const kept = $state.snapshot(item) as Item
    kept.person = house.person
    kept.held_at = now().toISOString()
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
    if (next.kind === 'measurement' || next.kind === 'move' || next.kind === 'call') next.body.confirmed = true
    if (next.kind === 'record') Object.assign(next.body.body, { confirmed: true }) // only what knows of it is asked about
    await db.put('items', next)
    await this.open()
    await this.send()
  }

  /** Takes a measurement or a move back: out of what is held here or, where it is or may be with the farm, from there too. */
  async takeBack(farm: string, of: 'measurement' | 'move', id: string, paddock?: string) {
    await this.send()
    const held = this.items.find((i) => (i.kind === of || (i.kind === 'call' && of === 'measurement')) && i.id === id)
    if (held) await this.#remove([held])
    if (held && !held.tried) return
    await this.hold({ farm, id, kind: 'withdrawal', body: { of, paddock_id: paddock } })
    await this.send()
  }

  /** Takes a record back: out of what is held here or, where it is or may be with the farm, from there too. */
  async takeRecordBack(farm: string, record: RecordOf) {
    await this.send()
    const held = this.items.find((i) => i.kind === 'record' && i.id === record.body.id)
    if (held) await this.#remove([held])
    if (held && !held.tried) return
    await this.hold({ farm, id: record.body.id, kind: 'unrecord', body: record })
    await this.send()
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
    const elsewhere = new Set<string>() // farms that its person is no longer on
    const open = (i: Item) => !i.problem && !elsewhere.has(i.farm)
    const person = this.items.some(open) ? await this.#signedIn() : null
    if (!person) return
    const mine = (i: Item) => open(i) && (i.person ?? person) === person
    for (;;) {
      const next = this.items.find(mine)
      if (!next) break
      const batch =
        next.kind === 'reading'
          ? this.items.filter((i) => i.kind === 'reading' && i.farm === next.farm && mine(i)).slice(0, atOnce)
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
          if (!error.definite) await this.#tried(batch)
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

  /** Who is signed in at this moment, by the farm's own word; another page of this browser may have changed it. */
  async #signedIn(): Promise<string | null> {
    try {
      const me = await ask(api.GET('/api/me'))
      this.reached = signal.clockIsLive
      this.signedOut = false
      return signal.clockIsLive ? me.account.id : null
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.reached = error.status !== 0
      this.signedOut = error.status === 401
      return null
    }
  }

  async #tried(batch: Item[]) {
    const db = await this.#open()
    for (const i of batch) {
      const stored = await db.get('items', i.key!)
      if (stored) await db.put('items', { ...stored, tried: true })
      i.tried = true
    }
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
    } else if (first.kind === 'call') {
      await ask(api.POST('/api/farms/{farm}/gate-calls', { params: { path }, body: first.body }))
    } else if (first.kind === 'move') {
      await ask(api.POST('/api/farms/{farm}/moves', { params: { path }, body: first.body }))
    } else if (first.kind === 'record') {
      await post(first.farm, first.body)
    } else if (first.kind === 'unrecord') {
      try {
        await unpost(first.farm, first.body)
      } catch (error) {
        if (!(error instanceof Refusal) || error.status !== 404) throw error // 404: it never arrived
      }
    } else if (first.kind === 'withdrawal') {
      const at = { params: { path: { ...path, id: first.id } } }
      try {
        if (first.body.of === 'move') await ask(api.DELETE('/api/farms/{farm}/moves/{id}', at))
        else await ask(api.DELETE('/api/farms/{farm}/measurements/{id}', at))
      } catch (error) {
        if (!(error instanceof Refusal) || error.status !== 404) throw error // 404: it never arrived
      }
    } else {
      const { stop, paddock, taken_at, blob, stage, point } = first.body
      await ask(
        api.POST('/api/farms/{farm}/photos', {
          params: { path, query: { id: first.id, stop, paddock, taken_at, stage, point } },
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
