<script lang="ts">
  import { createQuery } from '@tanstack/svelte-query'
  import { push } from 'svelte-spa-router'
  import { api, ask } from '../../api/client'
  import { queries, useMe } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import EntryForm from './EntryForm.svelte'

  // Where a link leads that somebody was given: to a farm, or to a new password.
  let { params }: { params: { token: string } } = $props()

  const link = createQuery(() => ({
    queryKey: ['link', params.token],
    queryFn: () => ask(api.GET('/api/links/{token}', { params: { path: { token: params.token } } })),
    retry: false,
    refetchOnWindowFocus: false,
  }))
  const me = useMe()
  const write = new Write()
  let making = $state(true)
  let password = $state('')
  const at = $derived({ params: { path: { token: params.token } } })

  async function join() {
    let farm = ''
    const went = await write.send(() => ask(api.POST('/api/links/{token}/join', at)), { then: (to) => (farm = to.farm_id) })
    if (!went) return
    queries.clear()
    await push(`/f/${farm}/today`)
  }

  async function choose() {
    const went = await write.send(() => ask(api.POST('/api/links/{token}/password', { ...at, body: { password } })), {
      say: 'Your new password holds. Sign in with it.',
    })
    if (!went) return
    queries.clear()
    await push('/sign-in')
  }
</script>

<main class="mx-auto flex max-w-[480px] flex-col gap-5 p-8 pt-[8vh] max-md:p-5">
  <div class="flex items-center gap-3">
    <img src="/mark.svg" alt="" width="48" height="34" /><span class="text-2xl font-bold">Fjell</span>
  </div>
  {#if link.data?.kind === 'join'}
    <h1>{link.data.by} asks you to join {link.data.farm_name}</h1>
    <p class="text-soft">
      As {link.data.role}. The link is for one person, and good until {sayDay(new Date(link.data.ends_at))}.
    </p>
    {#if me.data}
      <p>You are signed in as <strong>{me.data.account.name}</strong>, {me.data.account.email}.</p>
      <Refused refusal={write.refusal} shown={[]} />
      <Button kind="main" onclick={() => void join()} disabled={write.busy} wide>Join {link.data.farm_name}</Button>
    {:else}
      <EntryForm bind:making onentered={join} />
      <Refused refusal={write.refusal} shown={[]} />
    {/if}
  {:else if link.data}
    <h1>A new password</h1>
    <p class="text-soft">For {link.data.email}. You will be signed out everywhere else.</p>
    <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void choose())}>
      <TextField
        label="New password"
        type="password"
        bind:value={password}
        error={write.at('password')}
        hint="At least ten letters; a short sentence is easy to remember."
        autocomplete="new-password"
      />
      <Refused refusal={write.refusal} shown={['password']} />
      <Button kind="main" type="submit" disabled={write.busy} wide>Choose it</Button>
    </form>
  {:else if link.error}
    <h1>This link leads nowhere</h1>
    <p>{link.error.message}</p>
    <a href="#/" class="inline-flex min-h-11 items-center font-semibold text-tarn underline underline-offset-4">To Fjell</a>
  {:else}
    <Loading error={null} what="the link" />
  {/if}
</main>
