import { QueryClient } from '@tanstack/svelte-query'
import assert from 'node:assert/strict'
import { test } from 'node:test'
import { flushSync, mount } from 'svelte'
import Finder from '../src/ui/Finder.svelte'
import { house } from '../src/ui/house.svelte'
import Within from './Within.svelte'

test('the finder goes by keys to what its words name', async () => {
  const client = new QueryClient({ defaultOptions: { queries: { gcTime: 0, staleTime: Infinity, retry: false } } })
  client.setQueryData(
    ['sums'],
    [
      { key: 'strip', label: 'Strip grazing', question: 'How far?' },
      { key: 'stay', label: 'How long it lasts', question: 'How long?' },
    ],
  )
  house.finderShown = true
  mount(Within, { target: document.body, props: { client, of: Finder } })
  flushSync()
  const input = document.querySelector<HTMLInputElement>('[role=combobox]')!
  assert.equal(document.querySelectorAll('[role=option]').length, 2)
  input.value = 'lasts'
  input.dispatchEvent(new Event('input', { bubbles: true }))
  flushSync()
  assert.equal(document.querySelectorAll('[role=option]').length, 1)
  assert.equal(document.getElementById(input.getAttribute('aria-activedescendant')!)!.getAttribute('aria-selected'), 'true')
  input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
  for (let i = 0; i < 50 && location.hash !== '#/sums/stay'; i++) await new Promise((resolve) => setTimeout(resolve, 10))
  assert.equal(location.hash, '#/sums/stay')
  house.finderShown = false
  client.clear()
})
