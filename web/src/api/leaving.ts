import { api, ask, Refusal } from './client'

// Signing out. Only the server can end a session; where it does not answer the device remembers that this is owed, and nothing is
// asked in the session's name until it has been done.

const mark = 'fjell.leaving'

/** Signs out, now or as soon as there is a signal. */
export async function signOut() {
  try {
    await ask(api.POST('/api/sign-out'))
    localStorage.removeItem(mark)
  } catch (error) {
    if (!(error instanceof Refusal) || error.definite) throw error
    localStorage.setItem(mark, 'yes')
  }
}

/** Whether a session is still to be ended. */
export const signOutOwed = () => localStorage.getItem(mark) !== null

let ending: Promise<void> | null = null

/** Ends the session that somebody signed out of without a signal, once for all who wait for it; fails as long as there is none. */
function leave(): Promise<void> {
  ending ??= fetch('/api/sign-out', { method: 'POST' })
    .then((answer) => {
      if (answer.status >= 500) throw new Error('the session is not ended yet')
      localStorage.removeItem(mark)
    })
    .finally(() => (ending = null))
  return ending
}

const anybodys = ['/api/house', '/api/sums', '/api/reference', '/api/sign-out', '/api/forgotten']

/**
 * Has every question wait for a session that is still to be ended, signing in too: an old session that ended after a new one began
 * would take the new one with it. Called once.
 */
export function endWhatIsOwed() {
  api.use({
    async onRequest({ schemaPath }) {
      if (signOutOwed() && !anybodys.includes(schemaPath)) await leave()
    },
  })
}
