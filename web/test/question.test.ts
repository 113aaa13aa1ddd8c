import assert from 'node:assert/strict'
import { test } from 'node:test'
import { Refusal } from '../src/api/client'
import { Question } from '../src/api/question.svelte'

const later = <T>(value: T, ms: number) => new Promise<T>((done) => setTimeout(() => done(value), ms))

test('of two askings the later one counts, whichever answer comes first', async () => {
  const q = new Question<string>()
  const slow = q.ask(() => later('old', 30))
  const fast = q.ask(() => later('new', 1))
  await Promise.all([slow, fast])
  assert.equal(q.answer, 'new')
  const late = q.ask(() => later('x', 30).then(() => Promise.reject(new Error('gone'))))
  await q.ask(() => Promise.resolve('newer'))
  await late
  assert.equal(q.answer, 'newer', 'an old failure takes nothing away')
  assert.equal(q.refusal, null)
})

test('a refusal stands at its field, or beside where its field is not shown, and takes the answer away', async () => {
  const q = new Question<string>()
  await q.ask(() => Promise.resolve('so much'))
  const no = new Refusal(422, 'no', [{ field: 'now.rest_days', message: 'Must be 1 to 400' }], false)
  await q.ask(() => Promise.reject(no))
  assert.equal(q.answer, null)
  assert.equal(q.at('rest_days'), 'Must be 1 to 400')
  assert.equal(q.beside('rest_days'), '', 'it stands at its field')
  assert.equal(q.beside('stay_days'), 'Must be 1 to 400', 'nobody would see it else')
  await q.ask(() => Promise.reject(new TypeError('fetch failed')))
  assert.match(q.beside(), /No signal/)
  await q.ask(() => Promise.resolve('again'))
  assert.equal(q.beside(), '')
  assert.equal(q.answer, 'again')
})
