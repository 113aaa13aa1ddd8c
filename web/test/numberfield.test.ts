import assert from 'node:assert/strict'
import { afterEach, test } from 'node:test'
import { flushSync, mount, unmount } from 'svelte'
import NumberField from '../src/ui/NumberField.svelte'
import { house } from '../src/ui/house.svelte'

let app: ReturnType<typeof mount> | null = null
afterEach(() => {
  if (app) void unmount(app)
  app = null
  house.loose = 'metric'
})

function field(value: number | null, unit = 'kg_ha') {
  const got = { value }
  app = mount(NumberField, {
    target: document.body,
    props: {
      label: 'Grass standing',
      unit,
      get value() {
        return got.value
      },
      set value(v: number | null) {
        got.value = v
      },
    },
  })
  flushSync()
  const input = document.querySelector('input')!
  const type = (text: string) => {
    input.value = text
    input.dispatchEvent(new Event('input', { bubbles: true }))
    flushSync()
  }
  return { got, input, type, text: () => document.body.textContent!.replace(/\s+/g, ' ') }
}

test('a number with a comma is read back, and the other reading is a press away', () => {
  const f = field(null)
  f.type('1,500')
  assert.equal(f.got.value, 1500)
  assert.match(f.text(), /Read as 1 500\./)
  const other = document.querySelector('button')!
  assert.match(other.textContent!, /It is 1.5/)
  other.click()
  flushSync()
  assert.equal(f.got.value, 1.5)
  assert.equal(document.querySelector('button'), null)
})

test('what is no number is said at its field, and is no figure', () => {
  const f = field(1800)
  f.type('abc')
  assert.equal(f.got.value, null)
  assert.match(f.text(), /“abc” is not a number\./)
  assert.equal(f.input.getAttribute('aria-invalid'), 'true')
  f.type('1900')
  assert.equal(f.got.value, 1900)
  assert.doesNotMatch(f.text(), /not a number/)
})

test('units change what is shown, never what is stored', () => {
  house.loose = 'imperial'
  const f = field(25.4, 'cm')
  assert.equal(f.input.value, '10')
  f.type('4')
  assert.ok(Math.abs(f.got.value! - 10.16) < 1e-9)
})
