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

/** Ends the session that somebody signed out of without a signal; fails as long as there is none. */
async function leave() {
  const answer = await fetch('/api/sign-out', { method: 'POST' })
  if (answer.status >= 500) throw new Error('the session is not ended yet')
  localStorage.removeItem(mark)
}

const enters = ['/api/sign-in', '/api/sign-up']
const anybody = ['/api/house', '/api/sums', '/api/reference', '/api/sign-out', '/api/forgotten']

/** Has every question wait for a session that is still to be ended; called once. */
export function endWhatIsOwed() {
  api.use({
    async onRequest({ schemaPath }) {
      if (signOutOwed() && ![...enters, ...anybody].includes(schemaPath)) await leave()
    },
    onResponse({ response, schemaPath }) {
      if (response.ok && enters.includes(schemaPath)) localStorage.removeItem(mark) // another session took its place
    },
  })
}
