import assert from 'node:assert/strict'
import { afterEach, test } from 'node:test'
import { flushSync, mount, unmount } from 'svelte'
import { bound } from './form.svelte'
import YearDay from '../src/ui/YearDay.svelte'

let app: ReturnType<typeof mount> | null = null
afterEach(() => {
  if (app) void unmount(app)
  app = null
})

function chosen(value: string) {
  const got = bound({ value })
  app = mount(YearDay, {
    target: document.body,
    props: {
      label: 'From',
      get value() {
        return got.value
      },
      set value(v: string) {
        got.value = v
      },
    },
  })
  flushSync()
  const [day, month] = [...document.querySelectorAll('select')] as [HTMLSelectElement, HTMLSelectElement]
  const choose = (select: HTMLSelectElement, to: string) => {
    select.value = to
    select.dispatchEvent(new Event('change', { bubbles: true }))
    flushSync()
  }
  return { day, month, choose, now: () => got.value }
}

test('a day of the year is chosen by day and month, and stays within its month', () => {
  const f = chosen('06-20')
  assert.equal(f.day.value, '20')
  assert.equal(f.month.value, '06')
  assert.equal(f.day.options.length, 30)
  f.choose(f.day, '30')
  assert.equal(f.now(), '06-30')
  f.choose(f.month, '02')
  assert.equal(f.now(), '02-29')
  assert.equal(f.day.options.length, 29)
  f.choose(f.month, '12')
  assert.equal(f.now(), '12-29')
  assert.equal(f.day.options.length, 31)
})

test('none is chosen until somebody does', () => {
  const f = chosen('')
  assert.equal(f.day.value, '')
  assert.equal(f.month.value, '')
  f.choose(f.month, '11')
  assert.equal(f.now(), '11-01')
})
