<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, Refusal } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { queries, useHouse, useSums } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { wayBack } from '../../ui/way'
  import Skyline from './Skyline.svelte'

  const house = useHouse()
  const sums = useSums()
  let making = $state(false)
  let email = $state('')
  let name = $state('')
  let password = $state('')
  let refusal = $state<Refusal | null>(null)
  let busy = $state(false)

  const first = ['demand', 'forage-mass', 'feed', 'stay', 'strip', 'rotation']

  async function enter(e: SubmitEvent) {
    e.preventDefault()
    await run(() =>
      making
        ? ask(api.POST('/api/sign-up', { body: { email, name, password } }))
        : ask(api.POST('/api/sign-in', { body: { email, password } })),
    )
  }

  async function demo(farm: string) {
    const h = house.data
    if (!h) return
    await run(async () => {
      await ask(api.POST('/api/sign-in', { body: { email: h.demo_email, password: h.demo_password } }))
      const me = await ask(api.GET('/api/me'))
      const chosen = me.farms.find((f) => f.name === farm)
      return chosen ? `/f/${chosen.id}/today` : '/'
    })
  }

  async function run(work: () => Promise<unknown>) {
    busy = true
    refusal = null
    try {
      const to = await work()
      queries.clear()
      await push(typeof to === 'string' ? to : wayBack())
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
    } finally {
      busy = false
    }
  }
</script>

<main class="flex min-h-full max-md:flex-col">
  <section class="relative flex flex-1 flex-col justify-between overflow-hidden bg-surface max-md:min-h-[300px]">
    <div class="z-10 p-12 max-md:p-6">
      <div class="flex items-center gap-3">
        <img src="/mark.svg" alt="" width="56" height="40" /><span class="text-3xl font-bold">Fjell</span>
      </div>
      <h1 class="mt-8 max-w-xl !text-[44px] max-md:!text-[30px]">Where do they go next, and will it last?</h1>
      <p class="mt-4 max-w-xl text-lg text-soft">
        Divide your pasture, walk it, plan the moves. Fjell does the sums, shows the working, warns early and keeps the book.
      </p>
      <h2 class="mt-10">Do a sum now, no account needed</h2>
      <ul class="mt-3 grid grid-cols-3 gap-2.5 max-lg:grid-cols-2">
        {#each (sums.data ?? []).filter((s) => first.includes(s.key)) as s (s.key)}
          <li>
            <a
              href="#/sums/{s.key}"
              class="flex h-full min-h-20 flex-col justify-center rounded-xl border border-line bg-surface/90 px-4 py-2 hover:border-tarn"
            >
              <span class="font-semibold text-tarn">{s.label}</span><span class="text-sm text-soft">{s.question}</span>
            </a>
          </li>
        {/each}
      </ul>
      <a href="#/sums" class="mt-3 inline-flex min-h-11 items-center font-semibold text-tarn underline underline-offset-4"
        >All {sums.data?.length ?? ''} sums</a
      >
    </div>
    <Skyline />
  </section>

  <section class="flex w-[440px] shrink-0 flex-col justify-center gap-5 p-10 max-md:w-full max-md:p-6">
    {#if outbox.items.length}
      <p class="rounded-xl bg-now-wash px-4 py-3 text-now-ink" role="status">
        {outbox.items.length === 1 ? 'One thing waits' : `${outbox.items.length} things wait`} on this device to go to the farm, under
        the name of who entered them.
      </p>
    {/if}
    <h2 class="!text-2xl">{making ? 'A new account' : 'Sign in'}</h2>
    <form class="flex flex-col gap-4" onsubmit={enter}>
      {#if making}<TextField label="Your name" bind:value={name} error={refusal?.at('name')} autocomplete="name" />{/if}
      <TextField label="E-mail" type="email" bind:value={email} error={refusal?.at('email')} autocomplete="email" />
      <TextField
        label="Password"
        type="password"
        bind:value={password}
        error={refusal?.at('password')}
        hint={making ? 'At least ten letters; a short sentence is easy to remember.' : undefined}
        autocomplete={making ? 'new-password' : 'current-password'}
      />
      <Refused {refusal} shown={['name', 'email', 'password']} />
      <Button kind="main" type="submit" disabled={busy} wide>{making ? 'Make the account' : 'Sign in'}</Button>
    </form>
    <Button kind="quiet" onclick={() => ((making = !making), (refusal = null))}>
      {making ? 'I have an account' : 'Make a new account'}
    </Button>
    {#if house.data?.demo_email}
      <div class="rounded-2xl border border-line bg-surface p-5">
        <h3>Look around first</h3>
        <p class="mt-1 text-soft">Two made-up farms in mid-June, two seasons behind them. Change what you like.</p>
        {#each house.data.demo_farms as f (f.name)}
          <p class="mt-3 mb-1.5 text-[15px] text-soft">{f.about}</p>
          <Button onclick={() => demo(f.name)} disabled={busy} wide>Open {f.name}</Button>
        {/each}
      </div>
    {/if}
  </section>
</main>
