import assert from 'node:assert/strict'
import { afterEach, before, test } from 'node:test'
import { api, ask } from '../src/api/client'
import { endWhatIsOwed, signOut, signOutOwed } from '../src/api/leaving'

declare global {
  var wire: ((request: Request) => Promise<Response>) | undefined
}

before(endWhatIsOwed)
afterEach(() => {
  globalThis.wire = undefined
  localStorage.clear()
})

/** A server that notes what it is asked, in order, and when it has answered. */
function server(answer: (path: string) => Promise<Response> | Response) {
  const asked: string[] = []
  globalThis.wire = async (request) => {
    const path = new URL(request.url).pathname
    asked.push(path)
    const given = await answer(path)
    asked.push(`${path} answered`)
    return given
  }
  return asked
}
const ok = () => new Response('{}', { status: 200, headers: { 'Content-Type': 'application/json' } })
const gone = () => Promise.reject(new TypeError('no network'))
const signIn = () => ask(api.POST('/api/sign-in', { body: { email: 'a@example.org', password: 'long enough' } }))

test('without an answer signing out is owed, and nothing is asked in the name of the session until it is done', async () => {
  server(gone)
  await signOut()
  assert.ok(signOutOwed())
  await assert.rejects(ask(api.GET('/api/me')))

  const asked = server(ok)
  await ask(api.GET('/api/me'))
  assert.deepEqual(asked, ['/api/sign-out', '/api/sign-out answered', '/api/me', '/api/me answered'])
  assert.ok(!signOutOwed())
})

test('somebody signs in while the old session is being ended: it ends once, and before the new one begins', async () => {
  localStorage.setItem('fjell.leaving', 'yes')
  const asked = server((path) => (path === '/api/sign-out' ? new Promise((done) => setTimeout(() => done(ok()), 20)) : ok()))
  await Promise.all([ask(api.GET('/api/me')), signIn()])
  assert.deepEqual(asked.slice(0, 2), ['/api/sign-out', '/api/sign-out answered'])
  assert.equal(asked.filter((a) => a === '/api/sign-out').length, 1)
})

test('an answer that it failed leaves it owed; one that there is no such session does not', async () => {
  localStorage.setItem('fjell.leaving', 'yes')
  server(() => new Response('', { status: 503 }))
  await assert.rejects(ask(api.GET('/api/me')))
  assert.ok(signOutOwed())
  server((path) => (path === '/api/sign-out' ? new Response('', { status: 401 }) : ok()))
  await ask(api.GET('/api/me'))
  assert.ok(!signOutOwed())
})
