import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'
import { flushSync } from 'svelte'
import { Draft, forgetDrafts } from '../src/ui/draft.svelte'
import { house } from '../src/ui/house.svelte'
import { form } from './form.svelte'

beforeEach(() => {
  localStorage.clear()
  house.person = 'ola'
})

/** A form that is open: its text, its draft, and how it is closed. */
function open(version = 1, name = 'Cows') {
  return form(name, (read, write) => new Draft('mob.1', version, read, write))
}

test('what is typed stands again after the form was closed, however it was closed', () => {
  const first = open()
  assert.equal(first.draft.restored, false)
  first.typed.name = 'Cows and calves'
  flushSync()
  first.close()
  const again = open()
  assert.equal(again.typed.name, 'Cows and calves')
  assert.equal(again.draft.restored, true)
  again.draft.anew()
  flushSync()
  assert.equal(again.typed.name, 'Cows')
  again.close()
  assert.equal(open().draft.restored, false, 'it was begun anew')
})

test('what was kept leaves no draft', () => {
  const f = open()
  f.typed.name = 'Heifers'
  flushSync()
  f.draft.done()
  f.close()
  assert.equal(localStorage.length, 0)
})

test('a form that only was looked at leaves no draft', () => {
  const f = open()
  flushSync()
  f.close()
  assert.equal(localStorage.length, 0)
})

test('text rests on the version it was typed over: another hand is not written over unseen', () => {
  const first = open(3)
  first.typed.name = 'Heifers'
  flushSync()
  first.close()
  const again = open(4, 'Old cows')
  assert.equal(again.typed.name, 'Heifers')
  assert.equal(again.draft.version, 3, 'the farm will say that there is another')
  again.draft.over({ version: 4, record: null })
  assert.equal(again.draft.version, 4)
})

test('a draft is its writer’s', () => {
  const first = open()
  first.typed.name = 'Heifers'
  flushSync()
  first.close()
  house.person = 'kari'
  assert.equal(open().typed.name, 'Cows')
  forgetDrafts()
  house.person = 'ola'
  assert.equal(open().typed.name, 'Cows', 'forgotten as somebody signed out')
})

test('a half-written draft opens nothing', () => {
  localStorage.setItem('fjell.draft.ola..mob.1', '{"version":1,"ty')
  assert.equal(open().typed.name, 'Cows')
})
