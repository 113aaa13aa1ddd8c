import assert from 'node:assert/strict'
import { beforeEach, mock, test } from 'node:test'
import { api, ask } from '../src/api/client'
import { signal } from '../src/api/signal.svelte'
import { ago, goOnWithClock, isoDay, moment, now, sayDay, sayMoment, setClock } from '../src/ui/time.svelte'

const at = (iso: string) => Date.parse(iso)
let device = at('2026-06-10T05:30:00Z')

beforeEach(() => {
  localStorage.clear()
  mock.method(Date, 'now', () => device)
})

// A phone that is opened at noon on what it kept at breakfast dated every reading to breakfast.
test('a kept answer does not set the clock back to when it was given', () => {
  device = at('2026-06-10T05:30:00Z')
  setClock('2026-06-10T05:30:10Z', false, 'Europe/Oslo') // the device is ten seconds behind
  device = at('2026-06-10T10:00:00Z')
  goOnWithClock('Europe/Oslo')
  assert.equal(now().toISOString(), '2026-06-10T10:00:10.000Z')
})

test('a device that was never told goes by its own clock', () => {
  device = at('2026-06-10T10:00:00Z')
  setClock('2026-06-10T10:00:00Z', false, 'UTC')
  localStorage.clear()
  goOnWithClock('UTC')
  assert.equal(now().toISOString(), '2026-06-10T10:00:00.000Z')
})

test('a held clock stays held without a signal', () => {
  setClock('2026-06-10T05:30:00Z', true, 'Europe/Oslo')
  device = at('2026-11-01T05:30:00Z')
  goOnWithClock('Europe/Oslo')
  assert.equal(isoDay(now()), '2026-06-10')
})

test('an answer is of now only if it brings back the mark of its own question', async () => {
  let mark: string | null = null
  globalThis.wire = async (request) => {
    mark ??= request.headers.get('Fjell-Asked')
    return new Response('{"farms":[]}', {
      headers: { 'Content-Type': 'application/json', 'Fjell-Asked': mark!, Date: 'Wed, 10 Jun 2026 05:30:00 GMT' },
    })
  }
  await ask(api.GET('/api/me'))
  assert.equal(signal.clockIsLive, true)
  assert.equal(signal.keptSince, null)
  await ask(api.GET('/api/me')) // the same answer again, as a device keeps it
  assert.equal(signal.clockIsLive, false)
  assert.equal(signal.keptSince!.toISOString(), '2026-06-10T05:30:00.000Z')
})

test('a day and an hour at the farm, through the nights in which clocks change', () => {
  setClock('2026-06-10T05:30:00Z', true, 'Europe/Oslo')
  for (const [day, time, utc] of [
    ['2026-06-10', '07:30', '2026-06-10T05:30:00.000Z'],
    ['2026-03-29', '01:59', '2026-03-29T00:59:00.000Z'],
    ['2026-03-29', '03:00', '2026-03-29T01:00:00.000Z'],
    ['2026-10-25', '12:00', '2026-10-25T11:00:00.000Z'],
  ] as const)
    assert.equal(moment(day, time).toISOString(), utc, `${day} ${time}`)
})

test('days are said as people say them', () => {
  setClock('2026-06-10T20:30:00Z', true, 'Europe/Oslo') // half past ten at night
  const say = (iso: string) => sayDay(new Date(iso))
  assert.equal(say('2026-06-10T00:00:00Z'), 'today')
  assert.equal(say('2026-06-10T22:30:00Z'), 'tomorrow', 'past midnight at the farm')
  assert.equal(say('2026-06-09T12:00:00Z'), 'yesterday')
  assert.equal(say('2026-06-12T12:00:00Z'), 'Fri 12 June')
  assert.equal(sayMoment(new Date('2026-06-10T19:00:00Z')), 'tonight')
  assert.equal(sayMoment(new Date('2026-06-11T05:00:00Z')), 'tomorrow, morning')
})

test('how long ago is said by the real clock, whatever the farm has', () => {
  setClock('2026-06-10T05:30:00Z', true, 'Europe/Oslo')
  const before = (minutes: number) => new Date(device - minutes * 60_000)
  assert.equal(ago(before(0.5)), 'just now')
  assert.equal(ago(before(45)), '45 minutes ago')
  assert.equal(ago(before(181)), '3 hours ago')
})
