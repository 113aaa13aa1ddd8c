<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { useDemand, useLand, useMobs, useReference } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Frame from '../../ui/Frame.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { number, withUnit } from '../../ui/units'
  import MobForm from './MobForm.svelte'

  let { params }: { params: { farm: string } } = $props()

  const mobs = useMobs(() => params.farm)
  const land = useLand(() => params.farm)
  const reference = useReference()
  let editing = $state<'new' | string>('')
  const edited = $derived(mobs.data?.find((m) => m.id === editing))
  const demand = useDemand(() => params.farm)
  const most = $derived(Math.max(1, ...(mobs.data ?? []).flatMap((m) => m.classes.map((c) => c.demand_kg_dm_day))))

  function grounds(m: Schemas['MobView']): string {
    if (!m.field_ids.length) return 'all fields'
    return m.field_ids.map((id) => land.data?.fields.find((f) => f.id === id)?.name ?? '').join(', ')
  }
</script>

<Frame farm={params.farm} current="stock">
  {#if mobs.data && land.data && reference.data}
    <div class="flex min-h-0 flex-1 max-md:flex-col">
      <div class="plain-scroll flex-1 p-6 max-md:p-4">
        <div class="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2">
          <h1>Stock</h1>
          {#if mobs.data.length}
            <p class="text-soft">
              All mobs eat {#if demand.data}<strong class="text-ink"
                  ><Figure value={demand.data.value} unit="kg_day" working={demand.data} title="Demand of all mobs" /></strong
                >{/if} of dry matter from pasture today.
            </p>
          {/if}
          {#if house.may('manager')}<span class="ml-auto"
              ><Button onclick={() => ((editing = 'new'), (house.working = null))}>New mob</Button></span
            >{/if}
        </div>
        {#each mobs.data as m (m.id)}
          <article class="mb-5 rounded-2xl border border-line bg-surface p-5" aria-label={m.name}>
            <header class="flex flex-wrap items-center gap-3">
              <Glyph glyph={m.glyph} letter={m.letter} size={34} />
              <h2>{m.name}</h2>
              <span class="text-soft"
                >{number(m.head, 'head', house.system)} head · {m.paddock_name ? `in ${m.paddock_name}` : 'not on pasture'}</span
              >
              {#if house.may('manager')}
                <span class="ml-auto"
                  ><Button kind="quiet" onclick={() => ((editing = m.id), (house.working = null))}>Change</Button></span
                >
              {/if}
            </header>
            <div class="mt-3 grid grid-cols-[auto_1fr] gap-x-8 gap-y-4 max-lg:grid-cols-1">
              <div>
                <p class="text-soft">They eat, a day</p>
                <Figure value={m.demand.value} unit="kg_day" size="huge" working={m.demand} title="Demand of {m.name}" />
              </div>
              <table class="w-full self-end text-[15px]">
                <thead class="text-left text-sm text-soft">
                  <tr
                    ><th class="font-normal">Class</th><th class="text-right font-normal">Head</th><th
                      class="text-right font-normal">Weight</th
                    ><th class="text-right font-normal">Eats a head</th><th class="w-[34%] pl-4 font-normal">Eats together</th
                    ></tr
                  >
                </thead>
                <tbody>
                  {#each m.classes as c, i (i)}
                    <tr class="border-t border-line">
                      <td class="py-1.5">{c.name}</td>
                      <td class="text-right">{number(c.count, 'head', house.system)}</td>
                      <td class="text-right whitespace-nowrap">{withUnit(c.live_weight_kg, 'kg', house.system)}</td>
                      <td class="text-right whitespace-nowrap"
                        >{number(c.pasture_kg_dm_head_day, 'kg_head_day', house.system)}
                        <span class="text-sm text-soft">{number(c.intake_share, 'share', house.system, 1)} %</span></td
                      >
                      <td class="pl-4">
                        <span class="flex items-center gap-2">
                          <span class="h-3.5 rounded-sm bg-[var(--feed-2)]" style:width="{(c.demand_kg_dm_day / most) * 70}%"
                          ></span>
                          <span class="figure">{number(c.demand_kg_dm_day, 'kg_day', house.system)}</span>
                        </span>
                      </td>
                    </tr>
                    {#if c.caution}<tr><td colspan="5" class="pb-1 text-sm text-now-ink">{c.caution}</td></tr>{/if}
                  {/each}
                </tbody>
              </table>
            </div>
            <dl class="mt-4 grid grid-cols-4 gap-4 border-t border-line pt-4 max-lg:grid-cols-2">
              <div>
                <dt class="text-sm text-soft">Stocking rate</dt>
                <dd>
                  {#if m.stocking_rate_au}<Figure
                      value={m.stocking_rate_au.value}
                      unit="au_ha"
                      size="large"
                      working={m.stocking_rate_au}
                      title="Stocking rate, animal units"
                    />{:else}no ground yet{/if}
                </dd>
                <dd class="text-sm text-soft">
                  over the season, on {withUnit(m.season_area_ha, 'ha', house.system, 1)}: {grounds(m)}
                </dd>
              </div>
              <div>
                <dt class="text-sm text-soft">In head and live weight</dt>
                <dd>
                  {#if m.stocking_rate_head}<Figure
                      value={m.stocking_rate_head.value}
                      unit="head_ha"
                      size="large"
                      working={m.stocking_rate_head}
                      title="Stocking rate, head"
                    />{:else}–{/if}
                </dd>
                <dd class="text-sm text-soft">
                  {#if m.stocking_rate_weight}<Figure
                      value={m.stocking_rate_weight.value}
                      unit="live_kg_ha"
                      working={m.stocking_rate_weight}
                      title="Stocking rate, live weight"
                    />{/if}
                </dd>
              </div>
              <div>
                <dt class="text-sm text-soft">Stocking density now</dt>
                <dd>
                  {#if m.stocking_density}<Figure
                      value={m.stocking_density.value}
                      unit="live_kg_ha"
                      size="large"
                      working={m.stocking_density}
                      title="Stocking density"
                    />{:else}–{/if}
                </dd>
                <dd class="text-sm text-soft">
                  {m.paddock_name
                    ? `live weight on the ${withUnit(m.open_area_ha, 'ha', house.system)} open to them at this moment`
                    : 'they are not on pasture'}
                </dd>
              </div>
              <div>
                <dt class="text-sm text-soft">Break-even growth</dt>
                <dd>
                  {#if m.break_even}<Figure
                      value={m.break_even.value}
                      unit="kg_ha_day"
                      size="large"
                      working={m.break_even}
                      title="Break-even growth"
                    />{:else}–{/if}
                </dd>
                <dd class="text-sm text-soft">less than this runs the grass down</dd>
              </div>
            </dl>
          </article>
        {:else}
          <Empty title="No mob yet">
            A mob is animals that graze together: cows with calves, ewes with twins. Say how many, how heavy, and Fjell says what
            they eat.
            {#snippet action()}{#if house.may('manager')}<Button kind="main" onclick={() => (editing = 'new')}
                  >Make the first mob</Button
                >{/if}{/snippet}
          </Empty>
        {/each}
      </div>
      {#if editing || house.working}
        <Shoulder label="Mob">
          {#if editing}
            {#key editing}
              <MobForm
                farm={params.farm}
                mob={edited}
                taken={mobs.data}
                fields={land.data.fields}
                classes={reference.data.classes}
                onclose={() => (editing = '')}
              />
            {/key}
          {/if}
        </Shoulder>
      {/if}
    </div>
  {:else}
    <Loading error={mobs.error ?? land.error} what="the stock" />
  {/if}
</Frame>
