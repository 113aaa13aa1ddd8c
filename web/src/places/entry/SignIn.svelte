<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { queries, useHouse, useSums } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { keptCards } from '../../ui/EmergencyCard.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { house as here } from '../../ui/house.svelte'
  import { wayBack } from '../../ui/way'
  import EntryForm from './EntryForm.svelte'
  import Forgotten from './Forgotten.svelte'
  import Skyline from './Skyline.svelte'

  const house = useHouse()
  const sums = useSums()
  const write = new Write()

  const first = ['how-long', 'forage-mass', 'feed', 'stay', 'strip', 'rotation']

  /** What was known and said before is no news to who comes. */
  function fresh() {
    queries.clear()
    here.notice = null
  }

  async function entered() {
    fresh()
    await push(wayBack())
  }

  const demo = (farm: string) =>
    write.send(
      async () => {
        const h = house.data!
        await ask(api.POST('/api/sign-in', { body: { email: h.demo_email, password: h.demo_password } }))
        return ask(api.GET('/api/me'))
      },
      {
        then: async (me) => {
          fresh()
          const chosen = me.farms.find((f) => f.name === farm)
          await push(chosen ? `/f/${chosen.id}/today` : '/')
        },
      },
    )
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

  <section class="flex w-[440px] shrink-0 flex-col gap-5 p-10 max-md:order-first max-md:w-full max-md:p-5">
    <div class="flex items-center gap-3 md:hidden">
      <img src="/mark.svg" alt="" width="42" height="30" /><span class="text-2xl font-bold">Fjell</span>
    </div>
    {#if outbox.items.length}
      <p class="rounded-xl bg-now-wash px-4 py-3 text-now-ink" role="status">
        {outbox.items.length === 1 ? 'One thing waits' : `${outbox.items.length} things wait`} on this device to go to the farm, under
        the name of who entered them.
      </p>
    {/if}
    {#if keptCards().length}
      <a
        href="#/emergency"
        class="flex min-h-14 items-center justify-center gap-2 rounded-xl border-2 border-stop font-semibold text-stop"
        ><Icon name="help" />Emergency card</a
      >
    {/if}
    <EntryForm onentered={entered} />
    <Forgotten mail={house.data?.mail ?? false} />
    {#if house.data?.demo_email}
      <div class="rounded-2xl border border-line bg-surface p-5">
        <h3>Look around first</h3>
        <p class="mt-1 text-soft">Two made-up farms in mid-June, two seasons behind them. Change what you like.</p>
        {#each house.data.demo_farms as f (f.name)}
          <p class="mt-3 mb-1.5 text-[15px] text-soft">{f.about}</p>
          <Button onclick={() => void demo(f.name)} disabled={write.busy} wide>Open {f.name}</Button>
        {/each}
        <Refused refusal={write.refusal} shown={[]} />
      </div>
    {/if}
  </section>
</main>
