import { router } from 'svelte-spa-router'

// What is open in a place (a section, a chosen thing, a sheet) stands in the page's address: the back button walks through it
// and a link leads to it.

type Changes = Record<string, string>

/** Where this page has been, by the number of each step; the browser keeps the number with the step. */
const trail: (string | undefined)[] = []
let at = -1
note()
addEventListener('hashchange', () => {
  note()
  backing = false
  for (const then of meanwhile.splice(0)) then()
})

// The browser takes a step back in its own time: what is asked meanwhile follows it.
let backing = false
const meanwhile: (() => void)[] = []

function note() {
  const state = history.state as { step?: number } | null
  if (state?.step === undefined) {
    at++ // a step that was not taken before: those that lay ahead are gone
    trail.length = at
    history.replaceState({ ...state, step: at }, '')
  } else at = state.step
  trail[at] = here()
}

function here(): string {
  return location.hash.slice(1)
}

function changed(changes: Changes): string {
  const [path, query] = here().split('?')
  const asked = new URLSearchParams(query)
  for (const [key, value] of Object.entries(changes)) {
    if (value) asked.set(key, value)
    else asked.delete(key)
  }
  return path + (asked.size ? `?${asked}` : '')
}

export const address = {
  /** What the address says of a key; nothing where it does not name it. */
  get(key: string): string {
    return new URLSearchParams(router.querystring ?? '').get(key) ?? ''
  },

  /** Opens or closes: a step that the back button takes back. Closing what was just opened is that step back. */
  show(changes: Changes) {
    if (backing) return void meanwhile.push(() => address.show(changes))
    const to = changed(changes)
    if (to === here()) return
    if (trail[at - 1] !== to) location.hash = to
    else {
      backing = true
      history.back()
    }
  },

  /** Goes to another place: a step that the back button takes back. */
  go(path: string) {
    if (backing) return void meanwhile.push(() => address.go(path))
    location.hash = path
  },

  /** Says the same in other words, such as the new id of what is chosen: no step of its own. */
  set(changes: Changes) {
    const to = changed(changes)
    if (to === here()) return
    history.replaceState(history.state, '', `#${to}`)
    dispatchEvent(new Event('hashchange'))
  },
}
