<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, signedOut } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { queries } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  // The session ended while somebody was at work. They sign in here, over the form that they were filling in; until then the
  // farm cannot be read.
  let email = $state('')
  let password = $state('')
  const write = new Write()

  onMount(() => {
    const ended = () => (house.signedOut = house.farm !== null)
    addEventListener(signedOut, ended)
    return () => removeEventListener(signedOut, ended)
  })

  async function enter(e: SubmitEvent) {
    e.preventDefault()
    const before = house.person
    const went = await write.send(() => ask(api.POST('/api/sign-in', { body: { email, password } })))
    if (!went) return
    password = ''
    house.signedOut = false
    const me = await ask(api.GET('/api/me'))
    if (me.account.id !== before) {
      queries.clear()
      location.hash = '/'
    }
    void outbox.send()
  }
</script>

{#if house.signedOut}
  <div class="fixed inset-0 z-[70] overflow-y-auto bg-page">
    <form class="mx-auto flex max-w-[420px] flex-col gap-4 p-6 pt-[12vh]" onsubmit={enter}>
      <h1>You were signed out</h1>
      <p class="text-soft">Sign in here: what you were typing waits behind this page, and nothing is lost.</p>
      <TextField label="E-mail" type="email" bind:value={email} error={write.at('email')} autocomplete="email" />
      <TextField
        label="Password"
        type="password"
        bind:value={password}
        error={write.at('password')}
        autocomplete="current-password"
      />
      <Refused refusal={write.refusal} shown={['email', 'password']} />
      <Button kind="main" type="submit" disabled={write.busy} wide>Sign in and go on</Button>
    </form>
  </div>
{/if}
