import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'
import { Refusal } from '../src/api/client'
import { queries } from '../src/api/queries.svelte'
import { house } from '../src/ui/house.svelte'

const done: string[] = []
beforeEach(async () => {
  house.steps = null
  for (let i = 0; i < 20; i++) await house.takeBack() // what another test left
  done.length = 0
  house.notice = null
})
const step = (name: string) => house.say(name, () => Promise.resolve(done.push(name)))

test('steps are taken back one by one, the last first', async () => {
  step('one')
  step('two')
  await house.takeBack()
  await house.takeBack()
  await house.takeBack()
  assert.deepEqual(done, ['two', 'one'])
})

test('a step that cannot be taken back now stays, and says why', async () => {
  step('before')
  let closed = true
  house.say('the move', () =>
    closed ? Promise.reject(new Refusal(0, 'No signal.', [], false)) : Promise.resolve(done.push('the move')),
  )
  await house.takeBack()
  assert.equal(house.notice!.text, 'No signal.')
  assert.ok(house.notice!.undo, 'it can be tried again')
  assert.deepEqual(done, [], 'nothing else is taken back in its place')
  closed = false
  await house.takeBack()
  assert.deepEqual(done, ['the move'])
})

test('two taps take back one step', async () => {
  step('one')
  step('two')
  await Promise.all([house.takeBack(), house.takeBack()])
  assert.deepEqual(done, ['two'])
})

test('what the place keeps is taken back after one’s own steps, and done again', async () => {
  house.steps = { undo: async () => done.push('on the land'), redo: async () => done.push('again') }
  step('own')
  await house.takeBack()
  await house.takeBack()
  await house.doAgain()
  assert.deepEqual(done, ['own', 'on the land', 'again'])
})

test('a question waits for its answer', async () => {
  const answer = house.asks('Take back what Ida did?')
  assert.equal(house.question!.text, 'Take back what Ida did?')
  house.question!.answer(false)
  assert.equal(await answer, false)
  assert.equal(house.question, null)
})

test('what went on beside is not said over what somebody did, and is undone after it', async () => {
  const beside = (name: string) => house.mention(name, () => Promise.resolve(done.push(name)))
  beside('found')
  assert.equal(house.notice!.text, 'found', 'where nothing else is said')
  step('moved')
  beside('found more')
  assert.equal(house.notice!.text, 'moved')
  await house.takeBack()
  assert.deepEqual(done, ['moved'], 'undo takes back what is shown')
  await house.takeBack()
  await house.takeBack()
  assert.deepEqual(done, ['moved', 'found more', 'found'])
})

test('a step is said to be taken back once the pages show it', async () => {
  const order: string[] = []
  const asked = queries.invalidateQueries.bind(queries)
  queries.invalidateQueries = () => Promise.resolve(void order.push(`asked anew, ${house.notice?.text ?? 'nothing said'}`))
  step('one')
  house.notice = null
  await house.takeBack()
  assert.deepEqual(order, ['asked anew, nothing said'])
  assert.equal(house.notice!.text, 'Taken back: one')
  queries.invalidateQueries = asked
})
