<script lang="ts">
  import { useWalk } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { number, withUnit } from '../../ui/units'
  import { sayDay } from '../../ui/time.svelte'
  import Measure from './Measure.svelte'

  let { params }: { params: { farm: string } } = $props()

  const walk = useWalk(() => params.farm)
  let at = $state<number | null>(null)
  const stops = $derived(walk.data?.stops ?? [])
  const done = $derived(stops.filter((s) => s.measured_today).length)
  const next = $derived(stops.findIndex((s) => !s.measured_today))
  const most = $derived(Math.max(3000, ...stops.map((s) => s.mass.forage_mass_kg_dm_ha + s.mass.half_width_kg_dm_ha)))
</script>

<Frame farm={params.farm} current="walk" bare={at !== null}>
  {#if walk.data}
    {#if at !== null && stops[at]}
      {#key stops[at]!.paddock_id}
        <Measure farm={params.farm} {stops} {at} ongo={(i) => (at = i)} onleave={() => (at = null)} />
      {/key}
    {:else if stops.length}
      <div class="plain-scroll flex-1 p-6 max-md:p-3">
        <div class="mx-auto max-w-[880px]">
          <div class="mb-4 flex flex-wrap items-center gap-x-4 gap-y-3">
            <h1 class="max-md:flex-1">Walk</h1>
            <p class="flex-1 text-soft max-md:order-3 max-md:basis-full">
              {done} of {stops.length} measured today{walk.data.days_since !== null
                ? ` · last walk ${number(walk.data.days_since, 'day', house.system, 0)} days ago`
                : ''}
            </p>
            {#if house.may('hand')}
              <Button kind="main" onclick={() => (at = next < 0 ? 0 : next)}
                >{done ? `On to ${stops[next < 0 ? 0 : next]!.name}` : `Start at ${stops[0]!.name}`}</Button
              >
            {/if}
          </div>
          <ol class="overflow-hidden rounded-2xl border border-line bg-surface">
            {#each stops as s, i (s.paddock_id)}
              <li class="border-b border-line last:border-b-0">
                <button
                  type="button"
                  class="grid min-h-14 w-full grid-cols-[28px_minmax(110px,1.1fr)_minmax(120px,2fr)_auto] items-center gap-3 px-4 py-1.5 text-left hover:bg-tarn-wash max-md:grid-cols-[24px_1fr_auto]"
                  disabled={!house.may('hand')}
                  onclick={() => (at = i)}
                >
                  {#if s.measured_today}<span class="text-tarn"
                      ><Icon name="tick" size={22} /><span class="sr-only">measured today</span></span
                    >{:else}<span class="text-sm text-soft">{i + 1}</span>{/if}
                  <span
                    ><strong>{s.name}</strong><br /><span class="text-sm text-soft"
                      >{s.last
                        ? `${s.last.readings} by ${s.last.method}, ${sayDay(new Date(s.last.measured_at))}`
                        : 'never measured'}</span
                    ></span
                  >
                  <span class="relative block h-5 max-md:hidden" aria-hidden="true">
                    <span
                      class="absolute inset-y-0 left-0 rounded-r-sm bg-[var(--feed-2)]"
                      class:opacity-40={s.mass.guessed}
                      style:width="{(s.mass.forage_mass_kg_dm_ha / most) * 100}%"
                    ></span>
                    <span
                      class="absolute top-1/2 h-0.5 bg-ink"
                      style:left="{(Math.max(0, s.mass.forage_mass_kg_dm_ha - s.mass.half_width_kg_dm_ha) / most) * 100}%"
                      style:width="{((2 * s.mass.half_width_kg_dm_ha) / most) * 100}%"
                    ></span>
                  </span>
                  <span class="text-right whitespace-nowrap"
                    ><span class="figure text-lg">{number(s.mass.forage_mass_kg_dm_ha, 'kg_ha', house.system)}</span>
                    <span class="text-sm text-soft"
                      >± {withUnit(s.mass.half_width_kg_dm_ha, 'kg_ha', house.system)}{s.mass.guessed ? ', guessed' : ''}</span
                    ></span
                  >
                </button>
              </li>
            {/each}
          </ol>
        </div>
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
