<script lang="ts">
  import { api, ask } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  // Signing in, or making an account first.
  interface Props {
    /** an account is made */
    making?: boolean
    onentered: () => unknown
  }
  let { making = $bindable(false), onentered }: Props = $props()

  let email = $state('')
  let name = $state('')
  let password = $state('')
  const write = new Write()

  const enter = () =>
    write.send<unknown>(
      () =>
        making
          ? ask(api.POST('/api/sign-up', { body: { email, name, password } }))
          : ask(api.POST('/api/sign-in', { body: { email, password } })),
      { then: onentered },
    )
</script>

<h2 class="!text-2xl">{making ? 'A new account' : 'Sign in'}</h2>
<form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void enter())}>
  {#if making}<TextField label="Your name" bind:value={name} error={write.at('name')} autocomplete="name" />{/if}
  <TextField label="E-mail" type="email" bind:value={email} error={write.at('email')} autocomplete="email" />
  <TextField
    label="Password"
    type="password"
    bind:value={password}
    error={write.at('password')}
    hint={making ? 'At least ten letters; a short sentence is easy to remember.' : undefined}
    autocomplete={making ? 'new-password' : 'current-password'}
  />
  <Refused refusal={write.refusal} shown={['name', 'email', 'password']} />
  <Button kind="main" type="submit" disabled={write.busy} wide>{making ? 'Make the account' : 'Sign in'}</Button>
</form>
<Button kind="quiet" onclick={() => ((making = !making), (write.refusal = null))}>
  {making ? 'I have an account' : 'Make a new account'}
</Button>
