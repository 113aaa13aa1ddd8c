import assert from 'node:assert/strict'
import { test } from 'node:test'
import { Refusal } from '../src/api/client'
import { Trial } from '../src/api/trial.svelte'

interface Card {
  name: string
  anyway?: boolean
}
const later = <T>(value: T, ms: number) => new Promise<T>((done) => setTimeout(() => done(value), ms))

test('cards are switched off and on, taken back, and put down anew', () => {
  const t = new Trial<Card, string>()
  const [hay, head] = [{ name: 'hay' }, { name: 'head' }]
  t.add(hay)
  t.add(head)
  t.toggle(hay)
  assert.deepEqual(t.on, [head])
  t.toggle(hay)
  assert.deepEqual(t.on, [hay, head])
  t.toggle(head)
  t.anyway()
  assert.deepEqual(t.cards, [{ name: 'hay', anyway: true }, head], 'what lies there is meant, not what is switched off')
  t.drop(head)
  t.add(head)
  assert.equal(t.on.length, 2, 'a card that comes back is on')
  t.toggle(head)
  t.put([hay])
  assert.deepEqual(t.on, [hay])
})

test('of two askings the later one counts, an answer stands while it is refused, and nothing comes of nothing', async () => {
  const t = new Trial<Card, string>()
  await Promise.all([t.ask(() => later('old', 30)), t.ask(() => later('new', 1))])
  assert.equal(t.answer, 'new')
  const no = new Refusal(422, 'no', [], true)
  await t.ask(() => Promise.reject(no))
  assert.equal(t.refusal, no)
  await t.ask(() => Promise.reject(new TypeError('fetch failed')))
  assert.equal(t.refusal, null)
  assert.equal(t.silent, true)
  const late = t.ask(() => later('x', 20).then(() => Promise.reject(no)))
  await t.ask(null)
  await late
  assert.equal(t.answer, null)
  assert.equal(t.refusal, null, 'an old refusal comes to nothing')
  assert.equal(t.silent, false)
})
