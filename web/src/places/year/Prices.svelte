<script lang="ts">
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { usePrices } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import { price } from '../../ui/money'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now, sayDay } from '../../ui/time.svelte'
  import { number } from '../../ui/units'

  import { own } from './cards'

  // What the farm pays, by date, in its own money. None is guessed.
  let { farm, means }: { farm: string; means: Schemas['YearMeans'] } = $props()

  const prices = usePrices(() => farm)
  let item = $state('bought_hay')
  let from = $state(isoDay(now()))
  let by = $state<'whole' | 'bales'>('whole')
  let amount = $state<number | null>(null)
  let bale = $state<number | null>(null)
  let haulage = $state<number | null>(null)
  let weighs = $state<number | null>(null)
  let note = $state('')
  let adding = $state(false)
  let past = $state(false)
  let currency = $state(house.farm?.currency ?? '')
  const write = new Write()
  const taking = new Write()
  const setting = new Write()
  const kind = $derived(means.inputs.find((i) => i.id === item)?.kind)
  const units = { ha: 'per_ha', tonne: 'per_t', head: 'head' } as const
  const rows = $derived((prices.data?.prices ?? []).filter((p) => past || p.holds || p.from_day > isoDay(now())))
  const day = (d: string) => `${sayDay(new Date(d + 'T12:00'))} ${d.slice(0, 4)}`
  const items = $derived([
    ...[...means.inputs]
      .sort((a, b) => Number(b.kind === 'buy') - Number(a.kind === 'buy'))
      .map((i) => ({ value: i.id, label: i.name })),
    ...Object.entries(own).map(([value, o]) => ({ value, label: o.price })),
  ])

  async function keep() {
    const id = write.id()
    const of = farm
    const bales = kind === 'buy' && by === 'bales'
    await write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/year/prices', {
            params: { path: { farm } },
            body: {
              id,
              item,
              from_day: from,
              price: bales ? undefined : (amount ?? undefined),
              bale_price: bales ? (bale ?? undefined) : undefined,
              haulage: bales ? (haulage ?? undefined) : undefined,
              bale_kg: bales ? (weighs ?? undefined) : undefined,
              note: note || undefined,
            },
          }),
        ),
      {
        say: 'The price is kept.',
        undo: () => back(of, id),
        then: () => {
          amount = bale = haulage = weighs = null
          note = ''
          adding = false
        },
      },
    )
  }
  const back = (of: string, id: string) =>
    ask(api.DELETE('/api/farms/{farm}/year/prices/{id}', { params: { path: { farm: of, id }, header: pressed } }))
  const money3 = () =>
    setting.send(
      () =>
        ask(
          api.PUT('/api/farms/{farm}/currency', {
            params: { path: { farm }, header: { 'If-Match': house.farm!.version } },
            body: { currency },
          }),
        ),
      { say: 'Kept: no figure changes by it.' },
    )
</script>

<section aria-label="Prices" class="flex flex-col gap-3">
  <h2>Prices</h2>
  <p class="-mt-2 text-soft">
    Yours, from a day on. Cards and advice reckon with the price that holds in their month; none is guessed.
  </p>
  <ul class="flex flex-col">
    {#each rows as p (p.id)}
      <li class="flex items-start gap-2 border-b border-line py-2 {p.holds ? '' : 'text-soft'}">
        <span class="flex-1"
          >{p.name}<span class="flex items-baseline gap-2"
            ><strong class="figure text-lg">{price(p.price, units[p.of])}</strong><span class="text-soft"
              >{p.of === 'tonne' ? 'delivered' : ''}</span
            ></span
          ><span class="block text-sm text-soft"
            >{p.holds ? 'since' : 'from'}
            {day(p.from_day)}{p.bale_price !== null && p.bale_kg !== null
              ? `; a bale ${number(p.bale_price, '', house.system, 0)}${p.haulage ? ` and ${number(p.haulage, '', house.system, 0)} to bring it` : ''}, ${number(p.bale_kg, 'kg', house.system, 0)} kg`
              : ''}{p.note ? `; ${p.note}` : ''}</span
          ></span
        >
        {#if house.may('manager')}<button
            type="button"
            class="-my-1 grid size-12 shrink-0 place-items-center text-soft hover:text-stop"
            aria-label="Take back: {p.name}, {day(p.from_day)}"
            onclick={() => void taking.send(() => back(farm, p.id), { say: 'Taken back.' })}
            ><Icon name="close" size={20} /></button
          >{/if}
      </li>
    {:else}
      <li class="py-2 text-soft">{prices.data ? 'None yet.' : 'Fetching them…'}</li>
    {/each}
  </ul>
  {#if prices.data && prices.data.prices.length > rows.length}<div>
      <Button kind="quiet" onclick={() => (past = true)}>Those before, too</Button>
    </div>{/if}
  <Refused refusal={taking.refusal} />
  {#if house.may('manager')}
    {#if adding}
      <form class="flex flex-col gap-3 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), void keep())}>
        <Choice label="Of what" bind:value={item} options={items} />
        {#if kind === 'buy'}<Choice
            label="Known as"
            bind:value={by}
            options={[
              { value: 'whole', label: 'the price by weight, delivered' },
              { value: 'bales', label: 'the price of a bale, and haulage' },
            ]}
          />{/if}
        {#if kind === 'buy' && by === 'bales'}
          <div class="grid grid-cols-2 gap-3">
            <NumberField compact label="A bale costs" bind:value={bale} error={write.at('bale_price')} />
            <NumberField
              compact
              label="Bringing one costs"
              bind:value={haulage}
              hint="empty: nothing"
              error={write.at('haulage')}
            />
            <NumberField
              compact
              label="One weighs"
              unit="kg"
              bind:value={weighs}
              hint="weighed, not guessed"
              error={write.at('bale_kg')}
            />
          </div>
        {:else}
          <NumberField
            compact
            label={own[item as keyof typeof own]?.of ?? 'It costs'}
            unit={kind === 'buy' ? 'per_t' : (own[item as keyof typeof own]?.unit ?? 'per_ha')}
            hint={kind === 'buy' ? 'delivered' : undefined}
            bind:value={amount}
            error={write.at('price')}
          />
        {/if}
        <TextField label="From" type="date" bind:value={from} error={write.at('from_day')} />
        <TextField label="Note" bind:value={note} hint="such as from whom" error={write.at('note')} />
        <Refused refusal={write.refusal} shown={['price', 'bale_price', 'haulage', 'bale_kg', 'from_day', 'note']} />
        <div class="flex flex-wrap gap-2">
          <Button kind="main" type="submit" disabled={write.busy}>Keep the price</Button>
          <Button kind="quiet" onclick={() => (adding = false)}>Cancel</Button>
        </div>
      </form>
    {:else}
      <div><Button kind={rows.length ? 'plain' : 'main'} onclick={() => (adding = true)}>Write a price down</Button></div>
    {/if}
    <form class="flex items-end gap-2 border-t border-line pt-3" onsubmit={(e) => (e.preventDefault(), void money3())}>
      <div class="w-40"><TextField label="Our money, three letters" bind:value={currency} error={setting.at('currency')} /></div>
      <Button type="submit" disabled={setting.busy || currency === house.farm?.currency}>Keep</Button>
    </form>
    <Refused refusal={setting.refusal} shown={['currency']} />
  {/if}
</section>
