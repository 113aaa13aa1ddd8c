import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'

// The page as a browser keeps it: steps, each with its hash and its state, and one that is shown.
const turn = () => new Promise((resolve) => setTimeout(resolve, 20))
const page = location
const steps: { hash: string; state: unknown }[] = [{ hash: '', state: null }]
let shown = 0
let backs = 0
const heard = () => setTimeout(() => ((page.hash = steps[shown]!.hash), dispatchEvent(new Event('hashchange'))))
Object.defineProperty(globalThis, 'history', {
  value: {
    get state() {
      return steps[shown]!.state
    },
    get length() {
      return steps.length
    },
    replaceState(state: unknown, _: string, url?: string) {
      steps[shown] = { hash: url ?? steps[shown]!.hash, state: structuredClone(state) }
      if (url) page.hash = url
    },
    back() {
      backs++
      if (shown) shown--
      heard()
    },
  },
})
Object.defineProperty(globalThis, 'location', {
  value: {
    get hash() {
      return steps[shown]!.hash
    },
    set hash(to: string) {
      steps.splice(shown + 1)
      steps.push({ hash: to.startsWith('#') ? to : `#${to}`, state: null })
      shown++
      heard()
    },
  },
})
const { address } = await import('../src/ui/address')

let farm = 0
beforeEach(async () => {
  location.hash = `/f/farm/moves${++farm}`
  await turn()
  backs = 0
})
const query = () => location.hash.split('?')[1] ?? ''

test('what opens stands in the address, beside what was there', async () => {
  address.show({ as: 'list' })
  await turn()
  address.show({ visit: 'a.b' })
  await turn()
  assert.equal(query(), 'as=list&visit=a.b')
  assert.equal(address.get('visit'), 'a.b')
  assert.equal(address.get('other'), '')
})

test('closing what was just opened is the step back, not another step on', async () => {
  address.show({ visit: 'a' })
  await turn()
  address.show({ visit: '' })
  assert.equal(backs, 1)
})

test('another thing chosen first makes closing a step of its own', async () => {
  address.show({ visit: 'a' })
  await turn()
  address.show({ visit: 'b' })
  await turn()
  address.show({ visit: '' })
  await turn()
  assert.equal(backs, 0)
  assert.equal(query(), '')
})

test('what is opened while the browser steps back follows it', async () => {
  address.show({ visit: 'a' })
  await turn()
  address.show({ visit: '' })
  address.show({ do: 'rules' })
  await turn()
  await turn()
  assert.equal(query(), 'do=rules')
})

test('the same in other words is no step', async () => {
  address.show({ visit: 'a' })
  await turn()
  const length = history.length
  address.set({ visit: 'pin' })
  await turn()
  assert.equal(query(), 'visit=pin')
  assert.equal(history.length, length)
  address.show({ visit: '' })
  assert.equal(backs, 1, 'it still closes by the step back')
})

test('going on to a place again is no step back: closing there stays there', async () => {
  address.show({ mob: 'a' })
  await turn()
  location.hash = `/f/farm/moves${farm}` // a link to where the page was before
  await turn()
  location.hash = '/f/farm/today'
  await turn()
  location.hash = `/f/farm/moves${farm}`
  await turn()
  address.show({ mob: 'b' })
  await turn()
  address.show({ mob: '' })
  await turn()
  assert.equal(location.hash, `#/f/farm/moves${farm}`)
  assert.equal(backs, 1)
})

test('a key that leads to another place waits for a step back that is under way, and is not lost with it', async () => {
  const closed = location.hash
  address.show({ visit: 'a.b' })
  await turn()
  address.show({ visit: '' }) // the step back: the browser takes it in its own time
  address.go(`/f/farm/stock${farm}`)
  assert.equal(location.hash, closed, 'not before the step back')
  await turn()
  await turn()
  assert.equal(location.hash, `#/f/farm/stock${farm}`)
  history.back()
  await turn()
  assert.equal(location.hash, closed, 'and back leads to the place as it was closed')
})
