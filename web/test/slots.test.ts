import assert from 'node:assert/strict'
import { before, test } from 'node:test'
import { minutesOf, nearestSlot, stepSlot, wallClock } from '../src/places/moves/slots'
import { house } from '../src/ui/house.svelte'
import { setClock } from '../src/ui/time.svelte'

before(() => {
  setClock('2026-06-10T10:00:00Z', true, 'Europe/Oslo')
  house.farm = { moving: { minutes: [480, 1080], weekdays: [1, 2, 3, 4, 5, 6, 7], away: [] } } as never
})
const at = (iso: string) => new Date(iso)
const iso = (d: Date) => d.toISOString().slice(0, 16)

test('a dragged move lands on the nearest move hour of the farm', () => {
  assert.equal(iso(nearestSlot(at('2026-06-10T08:30:00Z'))), '2026-06-10T06:00') // 08:00 in Oslo
  assert.equal(iso(nearestSlot(at('2026-06-10T12:00:00Z'))), '2026-06-10T16:00')
  assert.equal(iso(nearestSlot(at('2026-06-10T23:30:00Z'))), '2026-06-11T06:00')
})

test('a nudge goes to the next move hour, over the night and back', () => {
  const evening = at('2026-06-10T16:00:00Z')
  assert.equal(iso(stepSlot(evening, 1)), '2026-06-11T06:00')
  assert.equal(iso(stepSlot(evening, -1)), '2026-06-10T06:00')
  assert.equal(iso(stepSlot(stepSlot(evening, 3), -3)), iso(evening))
})

test('move hours keep to the clock on the wall when it changes', () => {
  const before = at('2026-10-24T16:00:00Z') // 18:00, summer time
  assert.equal(iso(stepSlot(before, 2)), '2026-10-25T17:00') // 18:00 again, an hour later by the sun
})

test('nobody is dragged into days on which nobody moves stock', () => {
  const farm = house.farm
  house.farm = {
    moving: { minutes: [480, 1080], weekdays: [1, 2, 3, 4, 5], away: [{ from_on: '2026-06-18', until_on: '2026-06-19' }] },
  } as never
  assert.equal(iso(nearestSlot(at('2026-06-13T09:00:00Z'))), '2026-06-12T16:00') // a Saturday: Friday evening is nearer
  assert.equal(iso(nearestSlot(at('2026-06-14T20:00:00Z'))), '2026-06-15T06:00')
  assert.equal(iso(stepSlot(at('2026-06-17T16:00:00Z'), 1)), '2026-06-22T06:00') // over two days away and a weekend
  assert.equal(iso(stepSlot(at('2026-06-22T06:00:00Z'), -1)), '2026-06-17T16:00')

  // Two long spans on end: the hour before them and the one after them are found all the same, and with none at all nothing breaks.
  const moving = (house.farm as unknown as { moving: { weekdays: number[]; away: { from_on: string; until_on: string }[] } })
    .moving
  moving.away = [
    { from_on: '2026-06-13', until_on: '2026-10-10' },
    { from_on: '2026-10-11', until_on: '2027-02-07' },
  ]
  assert.equal(iso(stepSlot(at('2026-06-12T16:00:00Z'), 1)), '2027-02-08T07:00')
  assert.equal(iso(nearestSlot(at('2026-06-20T09:00:00Z'))), '2026-06-12T16:00')
  moving.weekdays = []
  assert.equal(iso(nearestSlot(at('2026-06-20T09:00:00Z'))), '2026-06-20T09:00')
  house.farm = farm
})

test('hours are written as a clock shows them', () => {
  assert.equal(wallClock(485), '08:05')
  assert.equal(minutesOf('18:30'), 1110)
  for (const m of [0, 61, 1439]) assert.equal(minutesOf(wallClock(m)), m)
})
