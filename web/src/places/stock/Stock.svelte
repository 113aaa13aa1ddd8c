<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { useClasses, useDemand, useLand, useMobs, useYear } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import YearBand from '../../charts/YearBand.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import { moment, sayDay } from '../../ui/time.svelte'
  import { phone } from '../../ui/media.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Panel from '../../ui/Panel.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { withUnit } from '../../ui/units'
  import Carrying from './Carrying.svelte'
  import DayPanel from './DayPanel.svelte'
  import Equivalence from './Equivalence.svelte'
  import EventForm from './EventForm.svelte'
  import { inputOfEvent } from './events'
  import Ledger from './Ledger.svelte'
  import MobCard from './MobCard.svelte'
  import MobForm from './MobForm.svelte'
  import StockList from './StockList.svelte'

  let { params }: { params: { farm: string } } = $props()

  type Measure = 'demand' | 'au' | 'lu' | 'weight' | 'head'
  const measures: { key: Measure; label: string }[] = [
    { key: 'demand', label: 'Feed a day' },
    { key: 'au', label: 'Animal units' },
    { key: 'lu', label: 'Livestock units' },
    { key: 'weight', label: 'Live weight' },
    { key: 'head', label: 'Animals' },
  ]

  let measure = $state<Measure>('demand')
  let yearShown = $state(0)
  const mobs = useMobs(() => params.farm)
  const land = useLand(() => params.farm)
  const classes = useClasses(() => params.farm)
  const demand = useDemand(() => params.farm)
  const year = useYear(
    () => params.farm,
    () => yearShown,
    () => measure,
  )
  // Where the year asked for does not come, the one before stays, and it is said.
  let last = $state.raw<Schemas['YearView']>()
  $effect.pre(() => {
    if (year.data) last = year.data
  })
  const shown = $derived(year.data ?? last)
  const asked = $derived((year.error && yearShown) || shown?.year || 0)
  // What is open at the side: a mob or an event by its id, or “new”; or a day.
  const whats = ['mob', 'event', 'day'] as const
  const what = $derived(whats.find((w) => address.get(w)))
  const which = $derived(what ? address.get(what) : '')
  const edited = $derived(what === 'mob' ? mobs.data?.find((m) => m.id === which) : undefined)
  const event = $derived(what === 'event' ? shown?.events.find((e) => e.id === which) : undefined)
  const open = $derived(what !== undefined && (what !== 'event' || event || which === 'new'))
  const list = $derived(address.get('list') !== '')
  const moving = new Write() // an event to another day
  const most = $derived(Math.max(1, ...(mobs.data ?? []).flatMap((m) => m.classes.map((c) => c.demand_kg_dm_day))))

  function show(next: { mob?: string; event?: string; day?: string }) {
    address.show({ mob: '', event: '', day: '', ...next })
    moving.refusal = null
    house.working = null
  }

  const move = (e: Schemas['EventView'], day: string) => {
    const id = moving.id()
    const put = (from: string, as: string, on: string) =>
      ask(
        api.PUT('/api/farms/{farm}/stock/events/{id}', {
          params: { path: { farm: params.farm, id: from } },
          body: { id: as, ...inputOfEvent(e), planned_on: on },
        }),
      )
    return moving.send(() => put(e.id, id, day), {
      say: `${e.says}: now planned for ${sayDay(moment(day, '12:00'))}.`,
      undo: () => put(id, moving.id('back'), e.planned_on ?? e.day),
    })
  }
</script>

<Frame farm={params.farm} current="stock">
  {#if mobs.data && land.data && classes.data && shown}
    <div class="wall flex min-h-0 flex-1 max-md:flex-col">
      <!-- A form fills a phone: there is no room for the page beside it. -->
      <div class="plain-scroll flex-1 p-6 max-md:p-4 {open ? 'max-md:hidden' : ''}">
        <div class="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2">
          <h1>Stock</h1>
          {#if mobs.data.length}
            <p class="text-soft">
              All mobs eat {#if demand.data}<strong class="text-ink"
                  ><Figure
                    value={demand.data.value}
                    unit="kg_day"
                    working={demand.data}
                    title="What all mobs eat a day"
                  /></strong
                >{/if} of dry matter from pasture today.
            </p>
          {/if}
          <span class="no-print ml-auto flex flex-wrap gap-2">
            <Button kind="quiet" onclick={() => print()}>Print</Button>
            <Button kind="quiet" pressed={list} onclick={() => address.show({ list: list ? '' : 'open' })}>List</Button>
            {#if house.may('manager')}
              <Button onclick={() => show({ mob: 'new' })}>New mob</Button>
              {#if mobs.data.length}<Button kind="main" onclick={() => show({ event: 'new' })}>New event</Button>{/if}
            {/if}
          </span>
        </div>
        {#if list}<StockList farm={params.farm} onclose={() => address.show({ list: '' })} />{/if}
        {#if mobs.data.length}
          <section class="mb-5 rounded-2xl border border-line bg-surface p-4" aria-label="The year of the stock">
            {#if year.error}<p class="mb-2 text-stop" role="alert">
                {asked === shown.year ? 'This' : asked} cannot be shown so. {year.error.message}
              </p>{/if}
            <div class="mb-2 flex flex-wrap items-center gap-2">
              <button
                type="button"
                class="no-print p-2 text-tarn"
                aria-label="The year before"
                onclick={() => (yearShown = asked - 1)}><Icon name="back" size={20} /></button
              >
              <h2>{shown.year}</h2>
              <button
                type="button"
                class="no-print p-2 text-tarn"
                aria-label="The year after"
                onclick={() => (yearShown = asked + 1)}><Icon name="on" size={20} /></button
              >
              <div class="no-print ml-2 flex gap-1" role="group" aria-label="Shown in">
                {#each measures as m (m.key)}
                  <button
                    type="button"
                    class="min-h-11 rounded-lg px-3 text-[15px] font-semibold {measure === m.key
                      ? 'bg-tarn text-on-tarn'
                      : 'text-tarn hover:bg-tarn-wash'}"
                    aria-pressed={measure === m.key}
                    onclick={() => (measure = m.key)}>{m.label}</button
                  >
                {/each}
              </div>
              <p class="ml-auto text-sm text-soft">
                Filled marks are done; open ones are planned{#if house.may('manager')}<span class="no-print">: drag them</span
                  >{/if}.
              </p>
            </div>
            {#if moving.refusal}<p class="mb-2 rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert">
                {moving.refusal.message}
              </p>{/if}
            <YearBand
              year={shown}
              mobs={mobs.data}
              movable={house.may('manager')}
              chosen={event?.id ?? ''}
              onday={(day) => show({ day })}
              onpeg={(e) => show({ event: e.id })}
              onmove={move}
            />
          </section>
          <div class="mb-5"><Carrying carrying={shown.carrying} /></div>
        {/if}
        {#each mobs.data as m (m.id)}
          <MobCard mob={m} {most} onchange={() => show({ mob: m.id })} />
        {:else}
          <Empty title="No mob yet">
            A mob is animals that graze together: cows with calves, ewes with twins. Say how many, how heavy, and Fjell says what
            they eat.
            {#snippet action()}{#if house.may('manager')}<Button kind="main" onclick={() => show({ mob: 'new' })}
                  >Make the first mob</Button
                >{/if}{/snippet}
          </Empty>
        {/each}
        {#if mobs.data.length}
          <div class="grid gap-5 xl:grid-cols-[3fr_2fr]">
            <Ledger rows={shown.ledger} />
            <Equivalence farm={params.farm} mobs={mobs.data} />
          </div>
          {#if shown.outside.length}
            <section class="mt-5 rounded-2xl border border-line bg-surface p-5">
              <h2>Outside any mob today</h2>
              <ul class="mt-1">
                {#each shown.outside as o (o.id)}<li class="border-t border-line py-1.5 first:border-t-0">
                    <strong>{o.head} {o.name}</strong>, {withUnit(o.live_weight_kg, 'kg', house.system)} each: kept in, they eat no
                    pasture
                  </li>{/each}
              </ul>
            </section>
          {/if}
        {/if}
      </div>
      {#if open || (house.working && !phone.current)}
        <Shoulder label="Stock">
          {#key `${what} ${which}`}
            {#if open}<Panel onclose={() => show({})}>
                {#if what === 'mob' && (edited || which === 'new')}
                  <MobForm
                    farm={params.farm}
                    mob={edited}
                    taken={mobs.data}
                    fields={land.data.fields}
                    classes={classes.data}
                    onclose={() => show({})}
                  />
                {:else if what === 'event' && (event || which === 'new')}
                  <EventForm
                    farm={params.farm}
                    {event}
                    mobs={mobs.data}
                    outside={shown.outside}
                    bands={shown.bands}
                    classes={classes.data}
                    onclose={() => show({})}
                  />
                {:else if what === 'day'}
                  <DayPanel farm={params.farm} day={which} onclose={() => show({})} />
                {/if}
              </Panel>{/if}
          {/key}
        </Shoulder>
      {/if}
    </div>
  {:else}
    <Loading error={mobs.error ?? land.error ?? year.error} what="the stock" />
  {/if}
</Frame>
