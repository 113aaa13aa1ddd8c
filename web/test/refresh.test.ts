import assert from 'node:assert/strict'
import { test } from 'node:test'
import { QueryObserver } from '@tanstack/query-core'
import { queries, refresh } from '../src/api/queries.svelte'

test('a first answer that was asked for before a write is not taken for one from after it', async () => {
  const asked: ((answer: string) => void)[] = []
  const observer = new QueryObserver(queries, {
    queryKey: ['a place'],
    queryFn: () => new Promise<string>((answer) => asked.push(answer)),
  })
  const stop = observer.subscribe(() => {})
  try {
    assert.equal(asked.length, 1)
    const refreshed = refresh() // the write is done
    await new Promise((r) => setTimeout(r, 20))
    assert.equal(asked.length, 2, 'it is asked again')
    asked[0]!('before the write')
    asked[1]!('after it')
    await refreshed
    assert.equal(observer.getCurrentResult().data, 'after it')
  } finally {
    stop()
    queries.clear()
  }
})
