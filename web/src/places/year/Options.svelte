<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import type { Trial } from '../../api/trial.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { money, price } from '../../ui/money'
  import TrialCards from '../../ui/TrialCards.svelte'
  import { withUnit } from '../../ui/units'
  import { cardName } from './cards'
  import KeepForm from './KeepForm.svelte'
  import OptionForm from './OptionForm.svelte'

  // What may be done about the year: cards put down, switched off, taken back. Nothing is written.
  type Option = Schemas['Option']
  interface Props {
    farm: string
    months: number
    rows: Schemas['BudgetMonth'][]
    means: Schemas['YearMeans']
    prices: Schemas['PriceRow'][]
    trial: Trial<Option, Schemas['YearTryView']>
  }
  let { farm, months, rows, means, prices, trial }: Props = $props()

  let adding = $state(false)
  let keeping = $state(false)
  const on = $derived(trial.on.filter((c) => c.month < months))
  const tried = $derived(trial.refusal ? null : trial.answer)
  const does = (c: Option) => tried?.effects[on.indexOf(c)]
  const name = (c: Option) => cardName(c, means, rows)

  $effect(() => {
    void rows // what was tried before the farm wrote something is tried again
    const body = { months, options: on }
    void trial.ask(
      body.options.length ? () => ask(api.POST('/api/farms/{farm}/year/try', { params: { path: { farm } }, body })) : null,
    )
  })
</script>

<h2>What if?</h2>
<p class="-mt-3 text-soft">Cards on a field and a month. Nothing is done until you do it.</p>
<TrialCards {trial} {name} mind={(c) => does(c)?.caution}>
  {#snippet of(c)}
    {#each does(c)?.says ?? [] as s, i (i)}<span class="block text-sm text-soft"><Reason reason={s} /></span>{/each}
    {#if does(c)}{@const e = does(c)!}<span class="block text-sm"
        >{e.closes_kg_dm < -1 ? 'makes the gap larger by' : 'closes'}
        <strong>{withUnit(Math.abs(e.closes_kg_dm), 'kg_fodder', house.system)}</strong>{e.closes_kg_dm < -1
          ? ''
          : ' of the gap'}{e.cost_a_tonne_closed
          ? `, ${price(e.cost_a_tonne_closed, 'per_t')} eaten when it was short`
          : ''}</span
      >{/if}
  {/snippet}
</TrialCards>
{#if adding}
  <OptionForm
    {means}
    {prices}
    months={rows}
    onadd={(o) => {
      trial.add(o)
      adding = false
    }}
    oncancel={() => (adding = false)}
  />
{:else}
  <div><Button kind={trial.cards.length ? 'plain' : 'main'} onclick={() => (adding = true)}>Put a card down</Button></div>
{/if}
{#if tried}
  <div aria-live="polite">
    <p class="text-lg font-semibold">
      {withUnit(tried.missing_kg_dm, 'kg_fodder', house.system)} missing instead of {withUnit(
        tried.missing_before_kg_dm,
        'kg_fodder',
        house.system,
      )}.
    </p>
    {#if tried.cost}<p>
        {tried.cost < 0 ? 'It brings in' : 'It costs'} <strong>{money(Math.abs(tried.cost))}</strong>, over the months looked at.
      </p>{/if}
  </div>
{/if}
{#if on.length && !trial.refusal && house.may('manager')}
  {#if keeping}<KeepForm {farm} cards={on} ondone={() => (keeping = false)} oncancel={() => (keeping = false)} />
  {:else}<div><Button onclick={() => (keeping = true)}>Keep it as a scenario</Button></div>{/if}
{/if}
