import assert from 'node:assert/strict'
import { readFile } from 'node:fs/promises'
import { afterEach, before, beforeEach, test } from 'node:test'
import { flushSync, mount, unmount } from 'svelte'
import type { Schemas } from '../src/api/client'
import { outbox } from '../src/api/outbox.svelte'
import { core } from '../src/core/core'
import Measure from '../src/places/walk/Measure.svelte'
import { house } from '../src/ui/house.svelte'
import { setClock } from '../src/ui/time.svelte'

// The keypad against the real core: what the phone shows is what the farm would compute.
before(() => {
  globalThis.wire = async (request: Request) => {
    if (!request.url.endsWith('core.wasm')) throw new TypeError('no network')
    return new Response(new Uint8Array(await readFile(new URL(request.url.replace(/^http:\/\/127.0.0.1/, 'file://')))))
  }
})

const stop = (name: string) =>
  ({
    paddock_id: `01a21457-757f-7672-90a3-00000000000${name.length}`,
    name,
    sward_id: 'ryegrass_white_clover',
    sward_name: 'Ley',
    zones: [],
    avoid: ['gates'],
    plate_unsuited: '',
    stick_unsuited: '',
    plate_line: { name: 'Ley', slope_kg_per_cm: 200, intercept_kg: 500 },
    stop_height_cm: 4,
    mass: { forage_mass_kg_dm_ha: 2000, half_width_kg_dm_ha: 300, guessed: false },
  }) as unknown as Schemas['WalkStop']

let app: ReturnType<typeof mount> | null = null
let left = 0
function open(stops = [stop('Heia'), stop('Tjern')], at = 0) {
  app = mount(Measure, { target: document.body, props: { farm: 'farm', stops, at, ongo: () => {}, onleave: () => left++ } })
  flushSync()
}
const text = () => document.body.textContent!.replace(/[\s\u00a0\u202f]+/g, ' ')
function tap(label: string) {
  const button = [...document.querySelectorAll('button')].find((b) => b.textContent!.trim().startsWith(label))
  assert.ok(button, `no button ${label}: ${text()}`)
  button.click()
  flushSync()
}
async function until(what: () => boolean, message: string) {
  for (let i = 0; i < 200 && !what(); i++) {
    await new Promise((resolve) => setTimeout(resolve, 10))
    flushSync()
  }
  assert.ok(what(), `${message}: ${text()}`)
}
function enter(figure: string) {
  for (const digit of figure) tap(digit)
  tap(`Keep ${figure}`)
}

beforeEach(async () => {
  localStorage.clear()
  house.person = 'ola'
  setClock('2026-06-10T10:00:00Z', true, 'Europe/Oslo')
  for (const i of [...outbox.items]) await outbox.settle(i, false)
  left = 0
})
afterEach(async () => {
  if (app) await unmount(app)
  app = null
  document.body.innerHTML = ''
})

test('readings become the mass that core says, and every one is held at once', async () => {
  open()
  tap('No guess')
  for (const r of ['7', '8', '9', '8']) enter(r)
  const said = await core<Schemas['View']>('measure', {
    method: 'plate',
    sward_id: 'ryegrass_white_clover',
    readings: [7, 8, 9, 8],
    slope_kg_per_cm: 200,
    intercept_kg: 500,
  })
  assert.equal(Math.round(said.mass.value), 2100)
  await until(() => text().includes('Done here: 2 100'), 'the answer of core')
  await until(() => outbox.items.filter((i) => i.kind === 'reading').length === 4, 'four readings held')
  assert.ok(outbox.items.every((i) => i.person === 'ola'))
})

test('a reading far from the rest is asked about, and dropped readings leave the mean', async () => {
  open()
  tap('No guess')
  for (const r of ['8', '9', '8', '9', '8', '9', '8', '90']) enter(r)
  await until(() => text().includes('90 cm: far from the rest'), 'the slip is named')
  tap('Drop')
  await until(() => text().includes('Done here: 2 186'), 'the mean without it')
})

test('closing and opening again loses nothing; two taps on Done hold one measurement', async () => {
  open()
  tap('No guess')
  enter('7')
  enter('9')
  await unmount(app!)
  document.body.innerHTML = ''
  open()
  await until(() => text().includes('Done here: 2 100'), 'both readings are there again')
  const done = [...document.querySelectorAll('button')].find((b) => b.textContent!.includes('Done here'))!
  done.click()
  done.click()
  await until(() => outbox.items.some((i) => i.kind === 'measurement'), 'held')
  assert.equal(outbox.items.filter((i) => i.kind === 'measurement').length, 1)
})

test('readings of yesterday are never mixed into the mean of today', async () => {
  open()
  tap('No guess')
  enter('7')
  await unmount(app!)
  document.body.innerHTML = ''
  setClock('2026-06-11T10:00:00Z', true, 'Europe/Oslo')
  open()
  assert.match(text(), /1 reading of yesterday/)
  tap('8')
  assert.ok(
    [...document.querySelectorAll('button')].find((b) => b.textContent!.includes('Keep 8'))!.disabled,
    'no reading beside them',
  )
  tap('take back')
  tap('Finish as of')
  await until(() => text().includes('Done here: 1 900'), 'finished as of then')
  tap('Done here')
  await until(() => outbox.items.some((i) => i.kind === 'measurement'), 'held')
  const held = outbox.items.find((i) => i.kind === 'measurement')!
  assert.equal((held.body as { measured_at: string }).measured_at, '2026-06-10T10:00:00.000Z')
})
