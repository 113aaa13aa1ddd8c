import assert from 'node:assert/strict'
import { test } from 'node:test'
import { found, Seen } from '../src/ui/seen.svelte'

const box = (height: number) => {
  const div = document.createElement('div')
  Object.defineProperty(div, 'clientHeight', { value: height })
  document.body.append(div)
  return div
}
const scroll = (div: HTMLElement, to: number) => {
  div.scrollTop = to
  div.dispatchEvent(new Event('scroll'))
}

test('of many rows those in sight are drawn, and the rest leaves its room', () => {
  const seen = new Seen(() => 400, 40)
  const div = box(800)
  const away = seen.within(div)
  assert.equal(seen.from, 0)
  assert.ok(seen.to >= 20 && seen.to < 60, String(seen.to))
  scroll(div, 8000) // row 200 is the first in sight
  assert.ok(seen.from <= 200 && seen.from > 150 && seen.to >= 220 && seen.to < 260)
  assert.equal(seen.before + (seen.to - seen.from) * 40 + seen.after, 400 * 40, 'the page is as long as all of it')
  scroll(div, 400 * 40)
  assert.equal(seen.to, 400)
  assert.equal(seen.after, 0)
  seen.show(10)
  assert.ok(seen.from <= 10 && seen.to > 10, 'a row that is asked for is brought into sight')
  away()
})

test('what lies over the first row counts, and few rows are all drawn', () => {
  const seen = new Seen(
    () => 12,
    54,
    () => 130,
  )
  const away = seen.within(box(300))
  assert.deepEqual([seen.from, seen.to, seen.before, seen.after], [0, 12, 0, 0])
  away()
})

test('a search finds by any part of the name, and nothing typed finds all', () => {
  const list = ['Heia 1', 'Heia 2', 'Tjern 1']
  assert.deepEqual(
    found(list, ' heia ', (x) => x),
    ['Heia 1', 'Heia 2'],
  )
  assert.deepEqual(
    found(list, '', (x) => x),
    list,
  )
})
