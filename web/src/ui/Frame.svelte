<script lang="ts" module>
  /** the place that was last open: every place has a frame of its own */
  let was = ''
</script>

<script lang="ts">
  import { untrack, type Snippet } from 'svelte'
  import { replace } from 'svelte-spa-router'
  import { Refusal, type Schemas } from '../api/client'
  import { outbox } from '../api/outbox.svelte'
  import { useMe } from '../api/queries.svelte'
  import { signal } from '../api/signal.svelte'
  import { keepPlaces } from '../field'
  import Ridge from '../charts/Ridge.svelte'
  import { keepCard } from './EmergencyCard.svelte'
  import { house } from './house.svelte'

  import { phone } from './media.svelte'
  import Loading from './Loading.svelte'
  import Rail from './Rail.svelte'
  import SignalLine from './SignalLine.svelte'
  import { closes } from './closers'
  import { placesFor } from './places'
  import Empty from './Empty.svelte'
  import Button from './Button.svelte'
  import { clock, goOnWithClock, longDay, now, setClock } from './time.svelte'
  import { toSignIn } from './way'
  import WorkingPanel from './WorkingPanel.svelte'

  interface Props {
    farm: string
    current: string
    children: Snippet
    /** measuring is full screen: no ridge, no rail */
    bare?: boolean
  }
  let { farm, current, children, bare = false }: Props = $props()

  const me = useMe()
  const view = $derived(me.data?.farms.find((f) => f.id === farm))

  $effect(() => {
    if (me.error instanceof Refusal && me.error.status === 401 && !house.signedOut) toSignIn()
    if (me.data && !view) void replace('/')
  })
  $effect.pre(() => {
    const farm = view
    const person = me.data?.account.id
    if (farm && person) untrack(() => enter(farm, person))
  })
  /** Everything reads who is here and on which farm from the house. What entering reads itself is no reason to enter again. */
  function enter(farm: Schemas['FarmView'], person: string) {
    house.farm = farm
    house.person = person
    keepCard({
      id: farm.id,
      farm: farm.name,
      place: farm.place,
      longitude: farm.longitude,
      latitude: farm.latitude,
      emergency: farm.emergency,
    })
    void outbox.send()
    if (signal.clockIsLive) {
      setClock(farm.now, farm.clock_held, farm.time_zone)
      keepPlaces(farm.id)
    } else goOnWithClock(farm.time_zone)
    localStorage.setItem('fjell.farm', farm.id)
  }
  $effect(() => {
    void current
    house.working = null
  })
  $effect(() => (house.working ? closes(() => (house.working = null)) : undefined))

  $effect(() => {
    if (view) document.title = `${label} · ${view.name} · Fjell`
  })

  // A new place: the keyboard and the reader go to its heading, and its name is said once.
  let said = $state('')
  $effect(() => {
    const place = current
    if (!view || place === was) return
    const first = was === ''
    was = place
    if (first) return
    said = label
    void heading().then((h) => {
      if (h && place === current && (document.activeElement?.matches('body, main') || document.activeElement?.closest('nav'))) {
        h.tabIndex = -1
        h.focus({ preventScroll: true })
      }
    })
  })
  const places = $derived(placesFor(view?.role))
  const beside = { emergency: 'Emergency card', farm: 'Farm' } as Record<string, string>
  const label = $derived(places.find((p) => p.key === current)?.label ?? beside[current] ?? 'Fjell')
  /** a place of the desk, which those whose hands do the work need not see */
  const closed = $derived(!!view && !beside[current] && !places.some((p) => p.key === current))

  /** The heading of the place, once what it shows has come. */
  async function heading(): Promise<HTMLElement | null> {
    for (let tries = 0; tries < 40; tries++) {
      const h = document.querySelector<HTMLElement>('main h1')
      if (h) return h
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
    return null
  }

  // The sheet takes its room from the page: the figure that was tapped is brought back into sight above it.
  let sheet = $state<HTMLElement>()
  $effect(() => {
    if (sheet) document.activeElement?.scrollIntoView({ block: 'nearest' })
  })
</script>

{#if house.farm?.id === farm && view}
  <a
    href="#main"
    class="no-print absolute top-2 left-2 z-[60] -translate-y-24 rounded-lg bg-tarn px-4 py-3 font-semibold text-on-tarn focus:translate-y-0"
    onclick={(e) => (e.preventDefault(), document.querySelector<HTMLElement>('main')?.focus())}>Skip to the page</a
  >
  <p class="sr-only" aria-live="polite">{said}</p>
  <div class="relative flex h-full overflow-clip">
    {#if !bare}<Rail {farm} {current} />{/if}
    <div class="flex min-w-0 flex-1 flex-col">
      {#if !bare}<Ridge {farm} {current} />
        <SignalLine />{/if}
      <p class="hidden text-sm print:block">{view.name} · {longDay(now())}, {clock(now())}</p>
      <main tabindex="-1" class="flex min-h-0 flex-1 flex-col {bare ? '' : 'max-md:pb-[60px]'}">
        {#if closed}
          <Empty title="This is for who plans here">
            What you do stands in Today, Walk and your sheet. Whoever keeps the farm can make you a manager.
            {#snippet action()}<Button kind="main" onclick={() => void replace(`/f/${farm}/today`)}>To today</Button>{/snippet}
          </Empty>
        {:else}{@render children()}{/if}
        {#if house.working && phone.current}
          <aside
            class="plain-scroll no-print flex max-h-[50dvh] shrink-0 flex-col gap-3 rounded-t-2xl border-t border-line bg-surface p-4 shadow-[0_-6px_20px_rgb(0_0_0/0.12)]"
            aria-label="Working"
            bind:this={sheet}
          >
            <WorkingPanel />
          </aside>
        {/if}
      </main>
    </div>
  </div>
{:else}
  <Loading error={me.error} what="the farm" />
{/if}
