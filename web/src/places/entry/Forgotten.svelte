<script lang="ts">
  import { api, ask } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'

  // A forgotten password: by mail where this installation sends any, through an owner of the farm in any case.
  let { mail }: { mail: boolean } = $props()
  let email = $state('')
  let sent = $state(false)
  const write = new Write()

  const send = () => write.send(() => ask(api.POST('/api/forgotten', { body: { email } })), { then: () => (sent = true) })
</script>

<details>
  <summary class="min-h-11 cursor-pointer py-2 font-semibold text-tarn">I have forgotten my password</summary>
  {#if sent}
    <p role="status">If {email} has an account, a link to a new password is on its way there. It is good for an hour.</p>
  {:else if mail}
    <form class="flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void send())}>
      <TextField label="Your e-mail" type="email" bind:value={email} error={write.at('email')} autocomplete="email" />
      <Refused refusal={write.refusal} shown={['email']} />
      <Button type="submit" disabled={write.busy}>Send me a link</Button>
    </form>
  {/if}
  <p class="mt-2 text-soft">
    {mail ? 'Or ask' : 'Ask'} an owner of your farm: beside your name, on the page Farm, they make a link by which you choose a new
    one.
  </p>
</details>
