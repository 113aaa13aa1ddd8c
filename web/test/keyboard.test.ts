import assert from 'node:assert/strict'
import { afterEach, test } from 'node:test'
import { createRawSnippet, flushSync, mount, unmount } from 'svelte'
import Panel from '../src/ui/Panel.svelte'
import Tabs from '../src/ui/Tabs.svelte'
import { closes } from '../src/ui/closers'

const apps: ReturnType<typeof mount>[] = []
afterEach(async () => {
  for (const app of apps.splice(0)) await unmount(app)
  document.body.innerHTML = ''
})
const key = (on: EventTarget, name: string) => {
  const e = new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true })
  on.dispatchEvent(e)
  flushSync()
  return e
}
const turn = () => new Promise((resolve) => setTimeout(resolve, 10))

test('Esc closes what was opened last, then what was opened before it', async () => {
  const closed: string[] = []
  const forget = [closes(() => (closed.push('panel'), forget[0]!())), closes(() => (closed.push('working'), forget[1]!()))]
  key(document.body, 'Escape')
  await turn()
  assert.deepEqual(closed, ['working'])
  key(document.body, 'Escape')
  await turn()
  key(document.body, 'Escape')
  await turn()
  assert.deepEqual(closed, ['working', 'panel'])
})

test('Esc that somebody else heard, or an open dialog, closes no panel', async () => {
  let closed = 0
  const forget = closes(() => closed++)
  const heard = (e: Event) => e.preventDefault()
  document.body.addEventListener('keydown', heard)
  key(document.body, 'Escape')
  await turn()
  document.body.removeEventListener('keydown', heard)
  document.body.innerHTML = '<dialog open></dialog>'
  key(document.body, 'Escape')
  document.body.innerHTML = ''
  await turn()
  assert.equal(closed, 0)
  forget()
})

test('a panel takes the keyboard to its heading and gives it back', async () => {
  document.body.innerHTML = '<button>Open</button><div></div>'
  const button = document.querySelector('button')!
  button.focus()
  const children = createRawSnippet(() => ({ render: () => '<h2>Ewes</h2>' }))
  const app = mount(Panel, { target: document.querySelector('div')!, props: { onclose: () => {}, children } })
  flushSync()
  assert.equal(document.activeElement!.textContent, 'Ewes')
  await unmount(app)
  assert.equal(document.activeElement, button)
})

test('tabs are walked by arrows, and only the chosen one is reached by Tab', () => {
  const chosen: string[] = []
  const props = $props('Round')
  apps.push(mount(Tabs, { target: document.body, props }))
  flushSync()
  const tabs = [...document.querySelectorAll<HTMLElement>('[role=tab]')]
  assert.deepEqual(
    tabs.map((t) => t.tabIndex),
    [0, -1, -1],
  )
  key(tabs[0]!, 'ArrowRight')
  key(tabs[0]!, 'ArrowLeft')
  key(tabs[0]!, 'End')
  assert.ok(!key(tabs[0]!, 'x').defaultPrevented, 'other keys are the page’s')
  assert.deepEqual(chosen, ['Growth', 'Eye', 'Eye'])

  function $props(current: string) {
    return { label: 'Parts', tabs: ['Round', 'Growth', 'Eye'], current, panel: 'part', onchoose: (t: string) => chosen.push(t) }
  }
})
