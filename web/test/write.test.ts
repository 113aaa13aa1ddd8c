import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'
import { ask, Refusal } from '../src/api/client'
import { press, Write } from '../src/api/write.svelte'
import { house } from '../src/ui/house.svelte'

const answer = (status: number, body: unknown = {}) =>
  Promise.resolve(
    status < 300
      ? { data: body, response: new Response(null, { status }) }
      : { error: body, response: new Response(null, { status }) },
  )
const lost = () => Promise.reject(new TypeError('failed to fetch'))
const refused = (status: number, detail = 'no') => answer(status, { detail, errors: [] })

beforeEach(() => (house.notice = null))

test('an answer that was lost leaves the id as it is: the same press again is the same record', async () => {
  const write = new Write()
  const ids: string[] = []
  const send = (reply: () => Promise<never>) =>
    write.send(() => {
      ids.push(write.id(), write.id('class'))
      return ask(reply() as never)
    })
  assert.equal(await send(lost as never), false)
  assert.match(write.refusal!.message, /do not know whether it arrived/)
  assert.equal(await send((() => refused(503)) as never), false)
  assert.equal(await send((() => answer(200)) as never), true)
  assert.deepEqual(ids.slice(2, 4), ids.slice(0, 2))
  assert.deepEqual(ids.slice(4, 6), ids.slice(0, 2))
  assert.notEqual(ids[0], ids[1], 'each part has its own')
  assert.notEqual(write.id(), ids[0], 'the next is another')
})

test('a definite refusal starts a new record', async () => {
  const write = new Write()
  const before = write.id()
  await write.send(() => ask(refused(422) as never))
  assert.notEqual(write.id(), before)
})

test('what was changed after an answer was lost is not kept twice, and that is said', async () => {
  const write = new Write()
  await write.send(() => ask(lost() as never))
  await write.send(() => ask(refused(409, 'the same id with other content') as never))
  assert.match(write.refusal!.message, /did arrive the first time/)
  const other = new Write()
  await other.send(() => ask(refused(409, 'the clock runs') as never))
  assert.equal(other.refusal!.message, 'The clock runs.', 'nothing was lost before')
})

test('a second tap sends nothing while the first is on its way', async () => {
  const write = new Write()
  let sent = 0
  let go: (v: unknown) => void = () => {}
  const first = write.send(() => {
    sent++
    return new Promise((resolve) => (go = resolve))
  })
  assert.equal(await write.send(() => Promise.resolve(sent++)), false)
  assert.equal(write.busy, true)
  go(null)
  assert.equal(await first, true)
  assert.equal(sent, 1)
  assert.equal(write.busy, false)
})

test('what somebody else stored meanwhile comes with the refusal', async () => {
  const write = new Write()
  const stored = { version: 4, record: { name: 'Øvre' } }
  await write.send(() =>
    ask(
      answer(412, {
        detail: 'x',
        errors: [
          { location: 'header.If-Match', value: 3 },
          { location: 'stored', value: stored },
        ],
      }) as never,
    ),
  )
  assert.deepEqual(write.stored, stored)
  assert.doesNotMatch(write.refusal!.message, /version/i)
})

test('what is strange is read back as a whole, what is wrong at its field', async () => {
  const write = new Write()
  const errors = [{ location: 'body.live_weight_kg', message: '620 kg ewes?' }]
  await write.send(() => ask(answer(422, { type: 'urn:fjell:unusual', detail: 'x', errors }) as never))
  assert.equal(write.refusal!.unusual, true)
  assert.equal(write.at('live_weight_kg'), undefined)
  write.confirmed = true
  await write.send(() => ask(answer(422, { detail: 'x', errors }) as never))
  assert.equal(write.at('live_weight_kg'), '620 kg ewes?')
  assert.equal(write.confirmed, true, 'what was said stays said until it is kept')
  await write.send(() => ask(answer(200) as never))
  assert.equal(write.confirmed, false)
  assert.equal(write.refusal, null)
})

test('a press that fails says so at the foot, and one that went can be taken back', async () => {
  assert.equal(await press(() => ask(refused(403, 'only owners may') as never)), false)
  assert.equal(house.notice!.text, 'Only owners may.')
  let undone = ''
  await press(() => Promise.resolve('made'), { say: (v) => `${v}.`, undo: async (v) => (undone = v) })
  assert.equal(house.notice!.text, 'made.')
  await house.takeBack()
  assert.equal(undone, 'made')
})

test('a step that cannot be taken back now stays, and can be tried again', async () => {
  let tries = 0
  house.say('Moved.', () => (++tries < 2 ? ask(lost() as never) : Promise.resolve()))
  await house.takeBack()
  assert.match(house.notice!.text, /No signal/)
  assert.ok(house.notice!.undo, 'the button is still there')
  await house.takeBack()
  assert.equal(tries, 2)
  assert.equal(house.notice!.text, 'Taken back: Moved.')
  await house.takeBack()
  assert.equal(tries, 2, 'and only once')
})

test('a fault of the page is shown and not swallowed', async () => {
  const write = new Write()
  await assert.rejects(write.send(() => Promise.reject(new Error('bug'))))
  assert.ok(write.refusal instanceof Refusal)
  assert.equal(write.busy, false)
})
