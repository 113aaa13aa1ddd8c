<script lang="ts">
  import type { Snippet } from 'svelte'
  import { replace } from 'svelte-spa-router'
  import { Refusal } from '../api/client'
  import { outbox } from '../api/outbox.svelte'
  import { useMe } from '../api/queries.svelte'
  import { signal } from '../api/signal.svelte'
  import { keepPlaces } from '../field'
  import Ridge from '../charts/Ridge.svelte'
  import { house } from './house.svelte'

  import Loading from './Loading.svelte'
  import Rail from './Rail.svelte'
  import SignalLine from './SignalLine.svelte'
  import { goOnWithClock, setClock } from './time.svelte'
  import { toSignIn } from './way'

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
    if (!view) return
    house.farm = view
    house.person = me.data!.account.id
    void outbox.send()
    if (signal.clockIsLive) {
      setClock(view.now, view.clock_held, view.time_zone)
      keepPlaces(view.id)
    } else goOnWithClock(view.time_zone)
    localStorage.setItem('fjell.farm', view.id)
    document.title = `${view.name} · Fjell`
  })
  $effect(() => {
    void current
    house.working = null
  })
</script>

{#if house.farm?.id === farm && view}
  <div class="flex h-full">
    {#if !bare}<Rail {farm} {current} />{/if}
    <div class="flex min-w-0 flex-1 flex-col">
      {#if !bare}<Ridge {farm} {current} />
        <SignalLine />{/if}
      <main class="flex min-h-0 flex-1 flex-col {bare ? '' : 'max-md:pb-[60px]'}">{@render children()}</main>
    </div>
  </div>
{:else}
  <Loading error={me.error} what="the farm" />
{/if}
