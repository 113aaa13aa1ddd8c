<script lang="ts">
  import { tick } from 'svelte'
  import { push } from 'svelte-spa-router'
  import type { Schemas } from '../../api/client'
  import { Trial } from '../../api/trial.svelte'
  import { useBudget, useMeans, usePrices } from '../../api/queries.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { money } from '../../ui/money'
  import Reason from '../../ui/Reason.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { number, withUnit } from '../../ui/units'
  import Tabs from '../../ui/Tabs.svelte'
  import Advice from './Advice.svelte'
  import Beside from './Beside.svelte'
  import Fate from './Fate.svelte'
  import LossesForm from './LossesForm.svelte'
  import Nutrients from './Nutrients.svelte'
  import Options from './Options.svelte'
  import Prices from './Prices.svelte'
  import Skyline from './Skyline.svelte'
  import StockLand from './StockLand.svelte'
  import Winter from './Winter.svelte'

  let { params }: { params: { farm: string } } = $props()

  const months = $derived(Math.min(36, Math.max(12, Number(address.get('months')) || 12)))
  const year = useBudget(
    () => params.farm,
    () => months,
  )
  const means = useMeans(() => params.farm)
  const prices = usePrices(() => params.farm)
  const trial = new Trial<Schemas['Option'], Schemas['YearTryView']>()
  const tried = $derived(trial.answer)
  let losing = $state(false)
  const v = $derived(tried?.with ?? year.data)
  const as = $derived(address.get('as'))
  const fields = $derived(address.get('by') === 'field')
  const sides = ['Gaps', 'What if?', 'Prices'] as const
  const side = $derived(sides.find((s) => s === address.get('see')) ?? 'Gaps')
  const put = (list: Schemas['Option'][]) => {
    trial.put(list)
    address.show({ as: '', see: 'What if?', month: '' })
    void tick().then(() => document.querySelector('#year-side')?.scrollIntoView({ block: 'start' }))
  }
  const chosen = $derived(Number(address.get('month') || -1))
  const m = $derived(v?.months[chosen])
  const zone = $derived(house.farm?.time_zone)
  const month = (at: string) => new Date(at).toLocaleDateString('en', { month: 'long', year: 'numeric', timeZone: zone })
  const last = (until: string) => month(new Date(Date.parse(until) - 86_400_000).toISOString())
  const heap = (kg: number) => withUnit(kg, 'kg_fodder', house.system)
</script>

<Frame farm={params.farm} current="year">
  {#if v}
    {#if !v.months.length}
      <Empty title="The year needs land and stock">
        Draw fields and make a mob: here what grows stands beside what they eat, month by month.
        {#snippet action()}<Button kind="main" onclick={() => void push(`/f/${params.farm}/land`)}>To the land</Button>{/snippet}
      </Empty>
    {:else}
      <div class="wall flex min-h-0 flex-1 max-md:flex-col max-md:overflow-y-auto">
        <div class="plain-scroll min-w-0 flex-1 p-5 pb-24 max-md:flex-none max-md:overflow-visible max-md:p-3">
          <div class="flex flex-wrap items-end gap-x-4 gap-y-1">
            <h1 class="flex-1">Year</h1>
            <p class="order-last w-full text-soft">
              {as === 'beside'
                ? 'what was thought through, side by side'
                : as === 'land'
                  ? 'what is carried, and what is done when growth fails'
                  : as === 'winter'
                    ? 'grass closed up for it, hay on it, and water that runs'
                    : as === 'nutrients'
                      ? 'clover, nitrogen, slurry and the soil test'
                      : tried
                        ? 'with what is tried; nothing is written'
                        : 'with nothing done that is not planned yet'}
            </p>
            <div class="no-print flex flex-wrap gap-1" role="group" aria-label="How it is shown">
              {#each [{ as: '', say: 'Skyline' }, { as: 'beside', say: 'Side by side' }, { as: 'land', say: 'Stock and land' }, { as: 'winter', say: 'Winter' }, { as: 'nutrients', say: 'Nutrients' }] as x (x.as)}
                <button
                  type="button"
                  aria-pressed={address.get('as') === x.as}
                  class="min-h-12 rounded-lg px-3 font-semibold {address.get('as') === x.as
                    ? 'bg-tarn text-on-tarn'
                    : 'text-tarn hover:bg-tarn-wash'}"
                  onclick={() => address.show({ as: x.as, beside: '' })}>{x.say}</button
                >
              {/each}
            </div>
            <div class="no-print w-44 {as === 'land' || as === 'winter' || as === 'nutrients' ? 'hidden' : ''}">
              <Choice
                label="How far"
                bind:value={() => String(months), (x) => address.show({ months: x === '12' ? '' : x, month: '' })}
                options={[
                  { value: '12', label: 'twelve months' },
                  { value: '24', label: 'two years' },
                  { value: '36', label: 'three years' },
                ]}
              />
            </div>
          </div>
          {#if as === 'beside'}
            <div class="mt-3"><Beside farm={params.farm} {months} onput={put} /></div>
          {:else if as === 'land'}
            <div class="mt-3"><StockLand farm={params.farm} /></div>
          {:else if as === 'winter'}
            <div class="mt-3"><Winter farm={params.farm} /></div>
          {:else if as === 'nutrients'}
            <div class="mt-3"><Nutrients farm={params.farm} /></div>
          {:else}
            <div class="mt-2 grid grid-cols-4 gap-x-4 gap-y-3 border-b border-line pb-3 max-md:grid-cols-2 print:grid-cols-4">
              <div>
                <Figure value={v.year.missing_kg_dm} unit="kg_fodder" size="large" />
                <p class="text-sm text-soft">
                  missing in twelve months, of {heap(v.year.wanted_kg_dm)} wanted{!tried &&
                  year.data?.missing_cost &&
                  v.year.missing_kg_dm > 1
                    ? `: ${money(year.data.missing_cost)} as ${year.data.missing_feed.toLowerCase()} at your price`
                    : ''}
                </p>
              </div>
              <div>
                <span class="figure text-2xl font-bold">{number(v.short_chance * 10, 'count', house.system, 0)}</span>
                <span class="text-soft">of 10 years</span>
                <p class="text-sm text-soft">
                  fall short: {heap(v.missing_low_kg_dm)} missing in a good one, {heap(v.missing_high_kg_dm)} in a poor one
                </p>
              </div>
              <div>
                <Figure value={v.store_kg_dm} unit="kg_fodder" size="large" />
                <p class="text-sm text-soft">
                  in the fodder store{v.unweighed ? ', cuts that nobody weighed not counted' : ''};
                  <a class="font-semibold text-tarn" href="#/f/{params.farm}/queue">its book</a>
                </p>
              </div>
              <div>
                {#if v.deductions}<Figure
                    value={v.year.swallowed_kg_dm}
                    unit="kg_fodder"
                    size="large"
                    working={v.deductions}
                    title="From growth to mouth"
                  />{/if}
                <p class="text-sm text-soft">eaten in twelve months, of {heap(v.year.grown_kg_dm)} grown</p>
              </div>
            </div>
            <p class="mt-3 text-[17px]">
              {#each v.says as s, i (i)}{i ? ' ' : ''}<span class={s.text.startsWith('Feed is missing') ? 'font-bold' : ''}
                  ><Reason reason={s} />.</span
                >{/each}
            </p>
            <div class="mt-3">
              <Skyline
                months={v.months}
                parts={fields ? v.fields : v.swards}
                of={(x) => (fields ? x.eatable_by_field_kg_dm : x.eatable_by_sward_kg_dm)}
                {chosen}
                onchoose={(i) => address.show({ see: '', month: i === chosen ? '' : String(i) })}
              />
            </div>
            <section class="mt-5" aria-label="What becomes of it">
              <h3>What becomes of what grows in twelve months</h3>
              <Fate year={v.year} />
            </section>
            <div class="no-print mt-4 flex flex-wrap gap-3">
              <Button kind="quiet" onclick={() => address.show({ by: fields ? '' : 'field' })}
                >{fields ? 'Stacked by sward' : 'Stacked by field'}</Button
              >
              <Button kind="quiet" onclick={() => window.print()}>Print</Button>
            </div>
          {/if}
        </div>
        {#if !as}
          <Shoulder label="What goes into it" narrow="below">
            <div class="sticky -top-5 z-10 -mx-5 -mt-5 bg-surface px-5 py-3">
              <Tabs
                label="Beside the year"
                tabs={sides}
                current={side}
                onchoose={(s) => address.show({ see: s === 'Gaps' ? '' : s, month: '' })}
                panel="year-side"
              />
            </div>
            <div id="year-side" role="tabpanel" aria-labelledby="year-side-{side}" class="flex scroll-mt-20 flex-col gap-4">
              {#if side === 'Prices' && means.data}<Prices farm={params.farm} means={means.data} />{/if}
              {#if side === 'Gaps'}
                {#if m}
                  <section aria-label={month(m.from)}>
                    <h2>{month(m.from)}</h2>
                    <table class="w-full">
                      <tbody>
                        {#each [['Wanted from pasture', m.pasture_kg_dm], ['Wanted in the house', m.indoors_kg_dm], ['Grows', m.grown_kg_dm], ['of it, to be eaten', m.eatable_kg_dm], ['Stood over from before', m.over_kg_dm], ['Eaten from pasture', m.eaten_kg_dm], ['Swallowed of the store', m.fed_kg_dm], ['Missing', m.missing_kg_dm], ['Left, trodden or fouled', m.left_kg_dm], ['Died, or lost on the way', m.lost_kg_dm], ['Cut and carried home', m.cut_kg_dm], ['Stands at its end', m.stands_kg_dm], ['Waits behind closures', m.waits_kg_dm], ['In the store at its end', m.store_kg_dm]] as const as [what, kg] (what)}
                          <tr class="border-t border-line {what === 'Missing' && kg > 1 ? 'font-bold text-stop' : ''}">
                            <th scope="row" class="py-1 text-left font-normal">{what}</th>
                            <td class="figure py-1 text-right">{heap(kg)}</td>
                          </tr>
                        {/each}
                      </tbody>
                    </table>
                    {#if m.missing_kg_dm > 1 && m.indoors_kg_dm && m.stands_kg_dm > m.missing_kg_dm / 2}<p class="mt-2">
                        They are in the house: what stands outside does not feed them there.
                      </p>{/if}
                    {#if m.groups_short.length}<p class="mt-2">Short: {m.groups_short.join('; ')}.</p>{/if}
                    <div class="mt-2"><Button onclick={() => address.show({ month: '' })}>Back to the gaps</Button></div>
                    <p class="mt-1 text-soft">
                      Missing in {number(m.short_chance * 10, 'count', house.system, 0)} of 10 years’ weather.
                    </p>
                  </section>
                {:else}
                  <h2>Hungry gaps</h2>
                  {#each v.gaps as g (g.from)}
                    <div class="border-b border-line py-2">
                      <button
                        type="button"
                        class="min-h-10 text-left text-lg font-semibold text-tarn"
                        onclick={() => address.show({ month: String(v.months.findIndex((x) => x.from === g.from)) })}
                        >{month(g.from) === last(g.until) ? month(g.from) : `${month(g.from)} to ${last(g.until)}`}</button
                      >
                      <p>
                        <span class="figure font-bold text-stop">{heap(g.missing_kg_dm)}</span> missing: {withUnit(
                          g.missing_days,
                          'day',
                          house.system,
                          0,
                        )} of all that they want, or {number(g.head_too_many, 'head', house.system)} head too many for what there is.
                      </p>
                    </div>
                  {:else}
                    <p>None in an ordinary year.</p>
                  {/each}
                  <p class="text-soft">Press a month to see what goes into it.</p>
                {/if}
              {/if}
              {#if year.data && means.data}
                <div class="flex flex-col gap-4 {side === 'What if?' ? '' : 'hidden'}">
                  <Options
                    farm={params.farm}
                    {months}
                    rows={year.data.months}
                    means={means.data}
                    prices={prices.data?.prices ?? []}
                    {trial}
                  />
                  <Advice
                    farm={params.farm}
                    {months}
                    cards={trial.cards}
                    onput={put}
                    onprices={() => address.show({ see: 'Prices' })}
                  />
                </div>
              {/if}
              {#if side === 'Gaps'}
                <section aria-label="What is taken for granted" class="border-t border-line pt-3 text-[15px]">
                  <h3>Taken for granted</h3>
                  <ul class="list-disc pl-5">
                    <li>
                      An ordinary year grows what each sward yields here; {v.weather_years} years’ weather are drawn about it, {v.weather_fitted
                        ? 'as it strays on your record'
                        : 'as it usually strays: too little is on record'}.
                    </li>
                    <li>Winter indoors comes again each year as it was last put down in Stock.</li>
                    <li>
                      {number(v.cut_loss, 'share', house.system)} % of a cut is lost before it is stored, {number(
                        v.feed_loss,
                        'share',
                        house.system,
                      )} % of what is fed falls under the trough{v.losses_own || year.data?.losses_own
                        ? ', as you said'
                        : ', as is usual'}.
                    </li>
                    <li>The store is drawn from as soon as something is missing.</li>
                    {#if v.reserve_ha}<li>{withUnit(v.reserve_ha, 'ha', house.system)} kept in reserve are not counted.</li>{/if}
                  </ul>
                  {#if losing && year.data}<LossesForm farm={params.farm} year={year.data} ondone={() => (losing = false)} />
                  {:else if house.may('manager')}<div class="mt-2">
                      <Button kind="quiet" onclick={() => (losing = true)}>Our own losses</Button>
                    </div>{/if}
                </section>
              {/if}
            </div>
          </Shoulder>
        {/if}
      </div>
    {/if}
  {:else}
    <Loading error={year.error} what="the year" />
  {/if}
</Frame>
