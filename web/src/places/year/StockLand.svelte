<script lang="ts">
  import { useStockLand } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { number, withUnit } from '../../ui/units'
  import DivideForm from './DivideForm.svelte'
  import DroughtForm from './DroughtForm.svelte'
  import StockingForm from './StockingForm.svelte'

  // Stock against land: what is carried, how the season goes, what is done when it fails.
  let { farm }: { farm: string } = $props()

  let reserve = $state('-1') // as is usual here, until somebody chooses
  let both = $state(false)
  let editing = $state(false)
  const land = useStockLand(
    () => farm,
    () => Number(reserve),
    () => both,
  )
  const v = $derived(land.data)
  const zone = $derived(house.farm?.time_zone)
  const month = (at: string) => new Date(at).toLocaleDateString('en', { month: 'long', timeZone: zone })
  const day = (at: string) =>
    new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: zone })
  const heap = (kg: number) => withUnit(kg, 'kg_fodder', house.system)
  const share = (x: number) => withUnit(x, 'share', house.system, 0)
  const years = (x: number) => (x > 0 && x < 0.05 ? 'fewer than 1' : number(x * 10, 'count', house.system, 0))
  const kinds = {
    cool: 'Cool-season grass',
    warm: 'Warm-season grass',
    tropical: 'Tropical grass',
    both: 'Grass of both seasons',
    stockpile: 'Stockpiled grass',
  }
  const goes = (list: { group: string; head: number; where: string }[]) =>
    list.map((l) => `${number(l.head, 'head', house.system, 0)} of ${l.group}${l.where ? `, ${l.where}` : ''}`)
</script>

{#if v && !v.empty}
  <div class="land">
    <div>
      <section aria-label="What is carried" class="rounded-xl border border-line bg-surface p-4">
        <div class="flex flex-wrap items-end justify-between gap-2">
          <h2>What the land carries</h2>
          <div class="no-print w-44">
            <Choice
              label="Kept back for a drought"
              bind:value={() => (reserve === '-1' ? String(v.capacity.reserve) : reserve), (x) => ((reserve = x), (both = false))}
              options={['0', '0.1', '0.15', '0.25', '0.35'].map((x) => ({ value: x, label: `${share(Number(x))} of growth` }))}
            />
          </div>
        </div>
        <div class="mt-2 grid grid-cols-3 gap-3">
          <div>
            <Figure value={v.capacity.by_month} unit="share" size="large" working={v.capacity.figure} title="Carrying capacity" />
            <p class="text-sm text-soft">of today’s stock, in every month of an ordinary year</p>
          </div>
          <div>
            <Figure value={v.capacity.at_grass} unit="share" size="large" />
            <p class="text-sm text-soft">while they are at grass, winter feed left aside</p>
          </div>
          <div>
            <Figure value={v.capacity.by_sum} unit="share" size="large" />
            <p class="text-sm text-soft">by the sums of the year, whenever feed comes</p>
          </div>
        </div>
        {#if v.capacity.reserve_asked}
          <div class="mt-3 rounded-xl bg-now-wash p-3 text-now-ink" role="alert">
            <p>
              Twice? {share(v.capacity.kept_on_ground)} of what your land grows stand on ground kept in reserve, and are left out already.
              {share(Number(reserve))} of the rest would be a second deduction.
            </p>
            <div class="mt-2 flex flex-wrap gap-2">
              <Button onclick={() => (both = true)}>Yes, keep both back</Button>
              <Button kind="quiet" onclick={() => (reserve = '-1')}>The ground is enough</Button>
            </div>
          </div>
        {:else if v.capacity.kept_on_ground}
          <p class="mt-2 text-soft">
            {share(v.capacity.kept_on_ground)} of what your land grows stand on ground kept in reserve, and are left out{v
              .capacity.reserve
              ? `, and ${share(v.capacity.reserve)} of the rest, as you said`
              : ': that is the reserve'}.
          </p>
        {/if}
        <p class="mt-3 text-[17px]">
          {#each v.says as s, i (i)}{i ? ' ' : ''}<Reason reason={s} />.{/each}
        </p>
        {#if v.capacity.limiting_months.length}<p class="mt-1 text-soft">
            First short with more: {v.capacity.limiting_months.map(month).join(', ')}.
          </p>{/if}
        {#if v.capacity.proven}
          <p class="mt-2">
            <Figure
              value={v.capacity.proven.head}
              unit="head"
              size="large"
              working={v.capacity.proven.figure}
              title="Proven on record"
            />
            <span class="text-soft"
              >proven by {v.capacity.proven.years === 1
                ? 'the one whole year'
                : `the ${number(v.capacity.proven.years, 'count', house.system)} whole years`} on record, bought feed left aside</span
            >
          </p>
        {/if}
        <p class="mt-1 text-soft">
          {number(v.capacity.years_on_record, 'count', house.system, 1)} years of moves on record{v.capacity.proven
            ? ''
            : ': after a whole one it says what your land has proven'}.
        </p>
      </section>
      <section aria-label="How the season goes" class="rounded-xl border border-line bg-surface p-4">
        <h2>How the season goes</h2>
        {#if v.lately.over_days}
          <p class="mt-1">
            <span class="figure text-2xl font-bold {v.lately.of_ordinary < 0.8 ? 'text-stop' : ''}"
              >{share(v.lately.of_ordinary)}</span
            >
            <span class="text-soft"
              >of what an ordinary year grows, measured over the last {number(v.lately.over_days, 'day', house.system, 0)} days</span
            >
          </p>
          {#if v.lately.missing_kg_dm > 100}
            <p class="mt-2">
              If it goes on so, <strong>{heap(v.lately.missing_kg_dm)}</strong> more than in an ordinary year are missing by next summer.
            </p>
            {#if v.lately.leave.length}<p class="mt-1">To fit, in your order, today:</p>
              <ul class="list-disc pl-5">
                {#each goes(v.lately.leave) as g (g)}<li>{g}</li>{/each}
              </ul>{/if}
          {:else}
            <p class="mt-2">If it goes on so, nothing more is missing than in an ordinary year: nobody has to leave for it.</p>
          {/if}
        {:else}
          <p class="mt-1 text-soft">Two walks are needed to measure it between.</p>
        {/if}
      </section>
      <section aria-label="Drought" class="rounded-xl border border-line bg-surface p-4">
        <h2>When growth fails</h2>
        {#if !editing}
          <p class="mt-1">
            Below <strong class="figure">{share(v.drought.trigger)}</strong> of what should have grown by a date, stock leave
            until what is left fits. {v.drought.own ? 'So the farm has decided.' : 'Nobody has decided: this is what is usual.'}
          </p>
          <table class="mt-2 w-full">
            <thead
              ><tr class="text-left text-sm text-soft"
                ><th class="font-normal">By</th><th class="font-normal">should have grown</th><th class="font-normal"
                  >in {v.drought.years} drawn years</th
                ></tr
              ></thead
            >
            <tbody>
              {#each v.drought.dates as d (d.at)}
                <tr class="border-t border-line align-top">
                  <th scope="row" class="py-2 pr-3 text-left font-semibold">{day(d.at)}</th>
                  <td class="figure py-2 pr-3">{share(d.share)}</td>
                  <td class="py-2"
                    ><strong class="figure">{years(d.acts_chance)}</strong> of 10: {#if d.leave.length}you would have parted with {goes(
                        d.leave,
                      ).join('; ')}{:else}nobody leaves{/if}</td
                  >
                </tr>
              {:else}<tr><td colspan="3" class="py-2">No critical date lies ahead within a year.</td></tr>{/each}
            </tbody>
          </table>
          <p class="mt-2">
            In a poor year {heap(v.drought.with.missing_high_kg_dm)} are missing with it, {heap(
              v.drought.without.missing_high_kg_dm,
            )} without.
            {#if v.drought.needless_chance > 0}In {years(v.drought.needless_chance)} of 10 years they would have left for nothing.{/if}
          </p>
          <h3 class="mt-3">On your own record</h3>
          {#if v.records.length}
            <ul>
              {#each v.records as r (r.from)}
                <li class="border-t border-line py-1.5">
                  <strong>{day(r.from)} to {day(r.until)}</strong>:
                  {#if r.growth_days}
                    grew {share(r.growth_of_ordinary)} of an ordinary year, measured on {number(
                      r.growth_days,
                      'day',
                      house.system,
                      0,
                    )} days.
                    {#each r.drought as d, i (d.at)}{i ? ' ' : ''}By {day(d.at)}
                      {share(d.grown_of_ordinary)} of what should have grown was there: {d.leave.length
                        ? `you would have parted with ${goes(d.leave).join('; ')}`
                        : 'nobody leaves'}.{/each}
                  {:else}too few walks to say what grew.{/if}
                </li>
              {/each}
            </ul>
          {:else}<p class="text-soft">No whole year is on record yet: then the plan is held against your own years too.</p>{/if}
          <h3 class="mt-3">Who leaves first</h3>
          <ol class="list-decimal pl-5">
            {#each v.drought.order as l (l.group)}
              <li>
                {l.group}: up to {share(l.most_share)}{l.where ? `, ${l.where}` : ''}{l.young_share > 0.5
                  ? '; growing stock, so that the breeding herd stays'
                  : ''}
              </li>
            {/each}
          </ol>
          <p class="mt-2">
            <strong>Restock after feed, not before:</strong> when the farm’s cover is back at what the plan needs and the store is filled,
            never on a forecast.
          </p>
          <p class="mt-2">
            <strong>Too wet:</strong>
            {v.drought.wet || 'where stock stand, and who is called, is not written down yet.'}
          </p>
          <p class="mt-2 rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">
            Growth that comes after a drought, and stressed brassicas or cereals, can hold nitrate, and hungry stock eat what they
            would leave: have it tested and ask your vet before they go in. Only animals that are fit to travel leave.
          </p>
          {#if house.may('manager')}<div class="no-print mt-3">
              <Button onclick={() => (editing = true)}>{v.drought.own ? 'Change it' : 'Decide it now'}</Button>
            </div>{/if}
        {:else}
          <DroughtForm {farm} drought={v.drought} ondone={() => (editing = false)} />
        {/if}
      </section>
    </div>
    <div>
      <StockingForm {farm} is={v.stocking} />
      <section aria-label="Seasons of growth" class="rounded-xl border border-line bg-surface p-4">
        <h2>Which grass for which days</h2>
        {#if v.shares.length}
          <table class="mt-2 w-full">
            <thead
              ><tr class="text-left text-sm text-soft"
                ><th class="font-normal">Fed from</th><th class="px-2 text-right font-normal">by days</th><th
                  class="text-right font-normal">by land</th
                ></tr
              ></thead
            >
            <tbody>
              {#each v.shares as s (s.kind)}
                <tr class="border-t border-line align-top">
                  <th scope="row" class="py-2 text-left font-semibold"
                    >{kinds[s.kind]}<span class="block text-sm font-normal text-soft"
                      >{number(s.days, 'day', house.system, 0)} days; it gives {withUnit(
                        s.eaten_kg_dm_ha,
                        'kg_ha',
                        house.system,
                        0,
                      )}</span
                    ></th
                  >
                  <td class="figure px-2 py-2 text-right">{share(s.of_days)}</td>
                  <td class="figure py-2 text-right text-lg font-bold">{share(s.of_land)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
          <p class="mt-2">
            To feed today’s stock on every day of the year from grass alone, {withUnit(v.grass_alone_ha, 'ha', house.system, 0)} would
            be wanted, parted as on the right. Days are not land: ground closed up for winter gives less than ground that grows all
            summer, so the same days want more of it. What is stockpiled grazes in spring too, which is not counted.
          </p>
        {/if}
        {#if v.seasons.length > 1}
          <table class="mt-2 w-full">
            <thead
              ><tr class="text-left text-sm text-soft"
                ><th class="font-normal">Ground</th><th class="font-normal">of all ground</th><th class="font-normal"
                  >of growing days</th
                ><th class="font-normal">of what grows</th></tr
              ></thead
            >
            <tbody>
              {#each v.seasons as s (s.kind)}
                <tr class="border-t border-line">
                  <th scope="row" class="py-2 pr-3 text-left font-semibold">{kinds[s.kind]}</th>
                  <td class="figure py-2">{share(s.of_ground)}</td>
                  <td class="figure py-2">{share(s.of_growing_days)}</td>
                  <td class="figure py-2">{share(s.of_what_grows)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
          <p class="mt-2">
            Days are not land: {v.seasons
              .map((s) => `a day of ${kinds[s.kind].toLowerCase()} grows ${withUnit(s.kg_dm_ha_day, 'kg_ha', house.system, 0)}`)
              .join(', ')}. Ground shared out by growing days alone would be short where a day grows little.
          </p>
        {:else if v.seasons.length}
          <p class="mt-1">
            All of it is {kinds[v.seasons[0]!.kind].toLowerCase()}: it grows {withUnit(
              v.seasons[0]!.kg_dm_ha_day,
              'kg_ha',
              house.system,
              0,
            )} on a day of its season, {number(v.season_days, 'day', house.system, 0)} days long. What the other days want comes from
            what stands over, a stockpile, a cut, or grass of another season.
          </p>
        {/if}
      </section>
      <DivideForm {farm} area={v.area_ha} days={v.season_days} />
    </div>
  </div>
{:else if v}
  <p class="mt-4">Draw fields and make a mob: here stock stand against the land.</p>
{:else}
  <Loading error={land.error} what="stock against land" />
{/if}

<style>
  .land {
    display: grid;
    gap: 0.9rem;
    grid-template-columns: repeat(auto-fit, minmax(min(100%, 30rem), 1fr));
    align-items: start;
  }
  .land > div {
    display: grid;
    gap: 0.9rem;
  }
  @media print {
    .land {
      grid-template-columns: 1fr 1fr;
      gap: 0.4rem;
      zoom: 0.65;
    }
    .land > div {
      display: contents; /* a column that is taller than what is left of a sheet would begin on the next one */
    }
    section[aria-label='Drought'] {
      grid-row: span 3;
    }
  }
</style>
