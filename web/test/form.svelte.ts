import { flushSync } from 'svelte'
import type { Draft } from '../src/ui/draft.svelte'

/** A form with one field, for tests of what happens to what is typed. */
export function form(
  name: string,
  draftOf: (read: () => { name: string }, write: (d: { name: string }) => void) => Draft<{ name: string }>,
) {
  const typed = $state({ name })
  let draft!: Draft<{ name: string }>
  const close = $effect.root(() => {
    draft = draftOf(
      () => ({ name: typed.name }),
      (d) => (typed.name = d.name),
    )
  })
  flushSync()
  return { typed, draft, close }
}

/** What a component binds to, told of every change. */
export function bound<T extends object>(start: T): T {
  const now = $state(start)
  return now
}
