<script lang="ts">
  import { onMount } from 'svelte'
  import { push } from 'svelte-spa-router'
  import { useWalk } from '../../api/queries.svelte'
  import { signal } from '../../api/signal.svelte'
  import { loadCore } from '../../core/core'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import Tabs from '../../ui/Tabs.svelte'
  import BringIn from './BringIn.svelte'
  import Calibrations from './Calibrations.svelte'
  import Eyes from './Eyes.svelte'
  import Growth from './Growth.svelte'
  import Measure from './Measure.svelte'
  import Round from './Round.svelte'
  import Weather from './Weather.svelte'

  let { params }: { params: { farm: string } } = $props()

  const walk = useWalk(() => params.farm)
  // What is measured stands in the address: back leaves the keypad for the round, not the app.
  const at = $derived.by(() => {
    const i = walk.data?.stops.findIndex((s) => s.paddock_id === address.get('measure')) ?? -1
    return i < 0 ? null : i
  })
  const sections = ['Round', 'Growth', 'Weather', 'Calibrations', 'Eye', 'Readings'] as const
  const section = $derived(sections.find((s) => s === address.get('part')) ?? 'Round')
  const open = (part: (typeof sections)[number]) => {
    address.show({ part: part === 'Round' ? '' : part })
    house.working = null
  }
  const stops = $derived(walk.data?.stops ?? [])

  // Core is loaded while there is a signal, so that measuring needs none.
  onMount(() => void loadCore().catch(() => undefined))
</script>

<Frame farm={params.farm} current="walk" bare={at !== null}>
  {#if walk.data}
    {#if at !== null && stops[at]}
      {#key stops[at]!.paddock_id}
        <Measure
          farm={params.farm}
          {stops}
          {at}
          ongo={(i) => address.set({ measure: stops[i]!.paddock_id })}
          onleave={() => address.show({ measure: '' })}
        />
      {/key}
    {:else if stops.length}
      <div class="flex min-h-0 flex-1 max-md:flex-col">
        <div class="plain-scroll flex-1 p-6 max-md:p-3">
          <div class="mx-auto max-w-[980px]">
            <div class="mb-5 flex flex-wrap items-center gap-x-6 gap-y-2">
              <h1>Walk</h1>
              <Tabs label="Parts of Walk" tabs={sections} current={section} onchoose={open} panel="walk-part">
                {#snippet beside(s)}
                  {#if s === 'Readings' && walk.data?.waiting}
                    <span class="ml-1 rounded-full bg-now-wash px-2 text-sm text-now-ink">{walk.data.waiting}</span>
                  {/if}
                {/snippet}
              </Tabs>
            </div>
            {#if signal.keepsNothing}
              <p class="mb-4 rounded-xl bg-now-wash p-3 text-now-ink">
                This phone keeps nothing for where there is no signal, because {signal.keepsNothing}. Keep this page open on the
                walk.
              </p>
            {/if}
            <div id="walk-part" role="tabpanel" aria-labelledby="walk-part-{section}">
              {#if section === 'Round'}
                <Round
                  farm={params.farm}
                  walk={walk.data}
                  onmeasure={(i) => address.show({ measure: stops[i]!.paddock_id })}
                  onsection={open}
                />
              {:else if section === 'Growth'}
                <Growth farm={params.farm} />
              {:else if section === 'Weather'}
                <Weather farm={params.farm} />
              {:else if section === 'Calibrations'}
                <Calibrations farm={params.farm} />
              {:else if section === 'Eye'}
                <Eyes farm={params.farm} />
              {:else}
                <BringIn farm={params.farm} />
              {/if}
            </div>
          </div>
        </div>
        <Shoulder label="Working" />
      </div>
    {:else}
      <Empty title="Nothing to walk yet">
        Draw a field first; then walk it with a plate, a stick, a frame and shears, or your eye.
        {#snippet action()}{#if house.may('manager')}<Button kind="main" onclick={() => void push(`/f/${params.farm}/land`)}
              >Draw a field</Button
            >{/if}{/snippet}
      </Empty>
    {/if}
  {:else}
    <Loading error={walk.error} what="the walk" />
  {/if}
</Frame>
