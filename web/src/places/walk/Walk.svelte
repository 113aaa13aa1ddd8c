<script lang="ts">
  import { onMount } from 'svelte'
  import { useWalk } from '../../api/queries.svelte'
  import { signal } from '../../api/signal.svelte'
  import { loadCore } from '../../core/core'
  import Empty from '../../ui/Empty.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import BringIn from './BringIn.svelte'
  import Calibrations from './Calibrations.svelte'
  import Eyes from './Eyes.svelte'
  import Growth from './Growth.svelte'
  import Measure from './Measure.svelte'
  import Round from './Round.svelte'
  import Weather from './Weather.svelte'

  let { params }: { params: { farm: string } } = $props()

  const walk = useWalk(() => params.farm)
  let at = $state<number | null>(null)
  const sections = ['Round', 'Growth', 'Weather', 'Calibrations', 'Eye', 'Bring in'] as const
  let section = $state<(typeof sections)[number]>('Round')
  const stops = $derived(walk.data?.stops ?? [])

  // Core is loaded while there is a signal, so that measuring needs none.
  onMount(() => void loadCore().catch(() => undefined))
</script>

<Frame farm={params.farm} current="walk" bare={at !== null}>
  {#if walk.data}
    {#if at !== null && stops[at]}
      {#key stops[at]!.paddock_id}
        <Measure farm={params.farm} {stops} {at} ongo={(i) => (at = i)} onleave={() => (at = null)} />
      {/key}
    {:else if stops.length}
      <div class="flex min-h-0 flex-1 max-md:flex-col">
        <div class="plain-scroll flex-1 p-6 max-md:p-3">
          <div class="mx-auto max-w-[980px]">
            <div class="mb-5 flex flex-wrap items-center gap-x-6 gap-y-2">
              <h1>Walk</h1>
              <div class="flex gap-1 overflow-x-auto" role="tablist" aria-label="Parts of Walk">
                {#each sections as s (s)}
                  <button
                    type="button"
                    role="tab"
                    aria-selected={section === s}
                    class="min-h-12 rounded-lg px-3 font-semibold whitespace-nowrap {section === s
                      ? 'bg-tarn text-on-tarn'
                      : 'text-tarn hover:bg-tarn-wash'}"
                    onclick={() => ((section = s), (house.working = null))}
                    >{s}{#if s === 'Bring in' && walk.data.waiting}
                      <span class="ml-1 rounded-full bg-now-wash px-2 text-sm text-now-ink">{walk.data.waiting}</span
                      >{/if}</button
                  >
                {/each}
              </div>
            </div>
            {#if signal.keepsNothing}
              <p class="mb-4 rounded-xl bg-now-wash p-3 text-now-ink">
                This phone keeps nothing for where there is no signal, because {signal.keepsNothing}. Keep this page open on the
                walk.
              </p>
            {/if}
            {#if section === 'Round'}
              <Round farm={params.farm} walk={walk.data} onmeasure={(i) => (at = i)} onsection={(s) => (section = s)} />
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
        {#if house.working}<Shoulder label="Working" />{/if}
      </div>
    {:else}
      <Empty title="Nothing to walk yet"
        >Draw a field first; then walk it with a plate, a stick, a frame and shears, or your eye.</Empty
      >
    {/if}
  {:else}
    <Loading error={walk.error} what="the walk" />
  {/if}
</Frame>
