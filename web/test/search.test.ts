import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'
import { Search } from '../src/places/moves/search.svelte'
import { house } from '../src/ui/house.svelte'

interface Round {
  id: string
  search_id: string
  round: number
}

// A farm as a search meets it: the rounds that arrived, what each comes to, and a wire that can be cut after it.
const farm = { rounds: [] as Round[], spared: 400, cut: '' as '' | 'after', written: 0, dropped: [] as string[] }

globalThis.wire = async (request) => {
  const json = (body: unknown, status = 200) =>
    new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
  if (request.method === 'DELETE') {
    farm.dropped.push(new URL(request.url).pathname.split('/').at(-1)!)
    return json({})
  }
  const body = (await request.json()) as Round
  if (farm.written-- > 0)
    return json({ detail: 'look again', errors: [{ location: 'body.search', message: 'look again', value: null }] }, 422)
  farm.rounds.push(body)
  if (farm.cut === 'after') throw new TypeError('the answer was lost')
  return json({ search: { rounds_in_all: 3, rounds: body.round + 1, spared_kg: farm.spared * (body.round + 1) } })
}

let search: Search
beforeEach(() => {
  Object.assign(farm, { rounds: [], spared: 400, cut: '', written: 0, dropped: [] })
  house.notice = null
  search = new Search()
})
const asked = () => farm.rounds.map((r) => r.round)

test('a search goes through its rounds under one name, says what it spares, and is taken back whole', async () => {
  await search.start('f')
  assert.deepEqual(asked(), [0, 1, 2])
  assert.equal(new Set(farm.rounds.map((r) => r.search_id)).size, 1)
  assert.equal(new Set(farm.rounds.map((r) => r.id)).size, 3)
  assert.match(house.notice!.text, /now spares 1.200.kg/)
  await house.takeBack()
  assert.deepEqual(farm.dropped, [farm.rounds[0]!.search_id])
})

test('stopped, it begins no further round, and what is there is the plan', async () => {
  const going = search.start('f')
  search.stop()
  await going
  assert.deepEqual(asked(), [0])
  assert.equal(search.done, null)
})

test('a round whose answer was lost is asked again as it was', async () => {
  farm.cut = 'after'
  await search.start('f')
  assert.match(house.notice!.text, /do not know whether it arrived/)
  farm.cut = ''
  await search.start('f')
  assert.deepEqual(asked(), [0, 0, 1, 2])
  assert.deepEqual(farm.rounds[1], farm.rounds[0], 'the same press, the same search')
})

test('a round that somebody wrote into is begun again, but not for ever', async () => {
  farm.written = 2
  await search.start('f')
  assert.deepEqual(asked(), [0, 1, 2])
  farm.rounds = []
  farm.written = 100
  await search.start('f')
  assert.deepEqual(asked(), [])
  assert.equal(farm.written, 94, 'six times in all')
})

test('where nothing better is found there is nothing to take back', async () => {
  farm.spared = 1
  await search.start('f')
  assert.match(house.notice!.text, /the plan stays/)
  assert.equal(house.notice!.undo, undefined)
})
