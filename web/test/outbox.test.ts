import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'
import { Outbox, type Item } from '../src/api/outbox.svelte'
import { house } from '../src/ui/house.svelte'

declare global {
  var wire: ((request: Request) => Promise<Response>) | undefined
}

// A farm as the outbox meets it: who is signed in, what arrived, and a wire that can be cut before or after it.
const farm = {
  signedIn: 'ola',
  cut: '' as '' | 'before' | 'after',
  arrived: [] as string[],
  refuse: {} as Record<string, { status: number; detail: string }>,
}

globalThis.wire = async (request) => {
  const path = new URL(request.url).pathname
  if (farm.cut === 'before') throw new TypeError('no network')
  const json = (body: unknown, status = 200) =>
    new Response(JSON.stringify(body), {
      status,
      headers: { 'Content-Type': 'application/json', 'Fjell-Asked': request.headers.get('Fjell-Asked') ?? '' },
    })
  if (path === '/api/me')
    return farm.signedIn ? json({ account: { id: farm.signedIn }, farms: [] }) : json({ detail: 'sign in' }, 401)
  const body = request.method === 'POST' ? ((await request.json()) as { id?: string; readings?: { id: string }[] }) : {}
  const ids = body.readings?.map((r) => r.id) ?? [body.id ?? path.split('/').at(-1)!]
  const refused = ids.map((id) => farm.refuse[id]).find(Boolean)
  if (refused && !body.readings) return json({ detail: refused.detail, errors: [] }, refused.status)
  farm.arrived.push(...ids.filter((id) => !farm.refuse[id]).map((id) => `${request.method} ${id} by ${farm.signedIn}`))
  if (farm.cut === 'after') throw new TypeError('the answer was lost')
  return json({ refused: ids.flatMap((id, index) => (farm.refuse[id] ? [{ index, why: farm.refuse[id].detail }] : [])), kept: 1 })
}

let outbox: Outbox
beforeEach(async () => {
  Object.assign(farm, { signedIn: 'ola', cut: '', arrived: [], refuse: {} })
  house.person = 'ola'
  outbox = new Outbox()
  await outbox.open()
  for (const i of [...outbox.items]) await outbox.settle(i, false)
})

const measurement = (id: string) => ({ farm: 'f', id, kind: 'measurement', body: { id, paddock_id: 'p' } }) as unknown as Item
const reading = (id: string) => ({ farm: 'f', id, kind: 'reading', body: { id, paddock_id: 'p' } }) as unknown as Item

test('what is held goes when there is a signal, in its order, and is gone from here', async () => {
  farm.cut = 'before'
  await outbox.hold(measurement('a'))
  await outbox.hold(measurement('b'))
  await outbox.send()
  assert.equal(outbox.waiting, 2)
  assert.equal(outbox.reached, false)
  farm.cut = ''
  await outbox.send()
  assert.deepEqual(farm.arrived, ['POST a by ola', 'POST b by ola'])
  assert.equal(outbox.items.length, 0)
})

test('a walk goes under the name of who walked, whoever is signed in on the phone', async () => {
  farm.cut = 'before'
  await outbox.hold(measurement('of-ola'))
  await outbox.send()
  farm.cut = ''
  farm.signedIn = house.person = 'kari'
  await outbox.hold(measurement('of-kari'))
  await outbox.send()
  assert.deepEqual(farm.arrived, ['POST of-kari by kari'])
  assert.equal(outbox.waiting, 0, 'kari has nothing that waits')
  assert.equal(outbox.items.length, 1, 'and ola’s is still here')
  farm.signedIn = house.person = 'ola'
  await outbox.send()
  assert.deepEqual(farm.arrived, ['POST of-kari by kari', 'POST of-ola by ola'])
})

test('another page of this browser signed somebody else in: nothing goes under the wrong name', async () => {
  farm.signedIn = 'kari'
  await outbox.hold(measurement('a'))
  await outbox.send()
  assert.deepEqual(farm.arrived, [])
  assert.equal(outbox.items.length, 1)
})

test('without a session nothing goes, and that is said', async () => {
  farm.signedIn = ''
  await outbox.hold(measurement('a'))
  await outbox.send()
  assert.equal(outbox.signedOut, true)
  assert.equal(outbox.waiting, 1)
})

test('taken back before it was sent, the farm never hears of it', async () => {
  farm.cut = 'before'
  await outbox.hold(measurement('a'))
  await outbox.send()
  farm.cut = ''
  farm.signedIn = ''
  await outbox.takeBack('f', 'measurement', 'a', 'p')
  assert.equal(outbox.items.length, 0)
  assert.deepEqual(farm.arrived, [])
})

test('taken back after an answer was lost, it is withdrawn at the farm too', async () => {
  farm.cut = 'after'
  await outbox.hold(measurement('a'))
  await outbox.send()
  assert.equal(outbox.items.length, 1, 'nobody knows')
  farm.cut = 'before'
  await outbox.takeBack('f', 'measurement', 'a', 'p')
  assert.equal(outbox.items[0]!.kind, 'withdrawal')
  farm.cut = ''
  farm.refuse.a = { status: 404, detail: 'there is no such measurement' }
  await outbox.send()
  assert.equal(outbox.items.length, 0, 'and where it never arrived there is nothing to withdraw')
})

test('a refused reading is the one that is named', async () => {
  farm.refuse.b = { status: 422, detail: 'lies in the future' }
  farm.cut = 'before'
  for (const id of ['a', 'b', 'c']) await outbox.hold(reading(id))
  await outbox.send()
  farm.cut = ''
  await outbox.send()
  assert.deepEqual(
    outbox.troubled.map((t) => [t.id, t.problem]),
    [['b', 'lies in the future']],
  )
  assert.equal(outbox.waiting, 0)
})

test('what was refused stays until somebody settles it', async () => {
  farm.refuse.a = { status: 422, detail: 'mass must be at most 20 000' }
  await outbox.hold(measurement('a'))
  await outbox.send()
  assert.equal(outbox.troubled[0]!.problem, 'Mass must be at most 20 000.')
  await outbox.send()
  assert.equal(outbox.items.length, 1, 'and is not sent over and over')
  farm.refuse = {}
  await outbox.settle(outbox.troubled[0]!, true)
  assert.equal(outbox.items.length, 0)
})

test('a closed browser loses nothing', async () => {
  farm.cut = 'before'
  await outbox.hold(measurement('a'))
  await outbox.send()
  farm.cut = ''
  const opened = new Outbox()
  await opened.open()
  assert.equal(opened.waiting, 1)
  await opened.send()
  assert.deepEqual(farm.arrived, ['POST a by ola'])
})

const move = (id: string): Item => ({
  farm: 'f',
  id,
  kind: 'move',
  says: 'Ewes to Heia 2',
  body: { id, mob_id: 'm', moved_at: '2026-06-10T06:00:00Z' },
})

test('a move at the gate waits for a signal, keeps its order and counts once', async () => {
  farm.cut = 'before'
  await outbox.hold(move('m1'))
  await outbox.hold(move('m2'))
  await outbox.send()
  assert.equal(outbox.waiting, 2)
  farm.cut = 'after' // the first arrives, and its answer is lost
  await outbox.send()
  farm.cut = ''
  await outbox.send()
  assert.deepEqual([...new Set(farm.arrived)], ['POST m1 by ola', 'POST m2 by ola'])
  assert.equal(outbox.items.length, 0)
})

test('a move that may have arrived is taken back at the farm too; one that never left is only forgotten', async () => {
  farm.cut = 'before'
  await outbox.hold({ ...move('m3'), tried: true } as Item)
  await outbox.takeBack('f', 'move', 'm3')
  farm.cut = ''
  await outbox.send()
  assert.deepEqual(farm.arrived, ['DELETE m3 by ola'])
})

test('what the farm finds strange in a move is asked, and goes as it was confirmed', async () => {
  farm.refuse.m4 = { status: 422, detail: 'Heia 2 is closed' }
  await outbox.hold(move('m4'))
  await outbox.send()
  assert.equal(outbox.troubled[0]!.problem, 'Heia 2 is closed.')
  farm.refuse = {}
  await outbox.settle(outbox.troubled[0]!, true)
  assert.deepEqual(farm.arrived, ['POST m4 by ola'])
})

const record = (route: string, id: string, body: object = {}) =>
  ({ route, body: { id, ...body } }) as unknown as Extract<Item, { kind: 'record' }>['body']
const heldRecord = (r: Extract<Item, { kind: 'record' }>['body'], tried: boolean) =>
  ({ farm: 'f', id: r.body.id, kind: 'record', body: r, says: 'a look', tried }) as unknown as Item

test('looks, jobs and treatments wait for a signal and go to their own routes, in their order', async () => {
  farm.cut = 'before'
  for (const [route, id] of [
    ['looks', 'a'],
    ['jobs', 'b'],
    ['jobs/done', 'c'],
    ['treatments', 'd'],
  ] as const)
    await outbox.hold(heldRecord(record(route, id, { job_id: 'b' }), false))
  await outbox.send()
  assert.equal(outbox.waiting, 4)
  farm.cut = ''
  await outbox.send()
  assert.deepEqual(
    farm.arrived,
    ['a', 'b', 'c', 'd'].map((id) => `POST ${id} by ola`),
  )
})

test('a record taken back before it left is only forgotten; one that may have arrived is taken back at the farm', async () => {
  farm.cut = 'before'
  const never = record('looks', 'never')
  await outbox.hold(heldRecord(never, false))
  await outbox.takeRecordBack('f', never)
  const lost = record('looks', 'lost')
  farm.cut = 'after'
  await outbox.hold(heldRecord(lost, true))
  await outbox.send()
  farm.cut = ''
  farm.arrived = []
  await outbox.takeRecordBack('f', lost)
  assert.ok(!farm.arrived.some((a) => a.includes('never')))
  assert.ok(farm.arrived.includes('DELETE lost by ola'))
  assert.equal(outbox.items.length, 0)
})

test('a job that was done and is taken back is the job, not the word that it was done', async () => {
  const done = record('jobs/done', 'word', { job_id: 'job' })
  await outbox.takeRecordBack('f', done)
  assert.deepEqual(farm.arrived, ['DELETE job by ola'])
})
