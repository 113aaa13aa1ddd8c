import { replace } from 'svelte-spa-router'

// A link to a place survives signing in.
const key = 'fjell.way'

/** Goes to the sign-in page and remembers where somebody wanted to go. */
export function toSignIn() {
  sessionStorage.setItem(key, location.hash.slice(1))
  void replace('/sign-in')
}

/** Where somebody wanted to go before they had to sign in. */
export function wayBack(): string {
  const way = sessionStorage.getItem(key)
  sessionStorage.removeItem(key)
  return way || '/'
}
