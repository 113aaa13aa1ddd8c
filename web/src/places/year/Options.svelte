<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { money, price } from '../../ui/money'
  import { withUnit } from '../../ui/units'
  import { cardName } from './cards'
  import KeepForm from './KeepForm.svelte'
  import OptionForm from './OptionForm.svelte'

  // What may be done about the year: cards put down, switched off, taken back. Nothing is written.
  interface Props {
    farm: string
    months: number
    rows: Schemas['BudgetMonth'][]
    means: Schemas['YearMeans']
    prices: Schemas['PriceRow'][]
    cards: Schemas['Option'][]
    tried: Schemas['YearTryView'] | null
    ontried: (t: Schemas['YearTryView'] | null) => void
  }
  let { farm, months, rows, means, prices, cards = $bindable(), tried, ontried }: Props = $props()

  type Option = Schemas['Option']
  let off = $state.raw<Option[]>([])
  let adding = $state(false)
  let keeping = $state(false)
  let refusal = $state.raw<Refusal | null>(null)
  let silent = $state(false)
  let asked = 0
  const on = $derived(cards.filter((c) => !off.includes(c) && c.month < months))
  const does = (c: Option) => (tried && !refusal ? tried.effects[on.indexOf(c)] : undefined)
  const name = (c: Option) => cardName(c, means, rows)

  $effect(() => {
    void rows // what was tried before the farm wrote something is tried again
    const body = { months, options: on }
    const at = ++asked
    refusal = null
    silent = false
    if (!body.options.length) {
      ontried(null)
      return
    }
    ask(api.POST('/api/farms/{farm}/year/try', { params: { path: { farm } }, body }))
      .then((t) => at === asked && ontried(t))
      .catch((error: unknown) => {
        if (at !== asked) return
        if (error instanceof Refusal) refusal = error
        else silent = true
      })
  })
  const anyway = () => {
    const last = on[on.length - 1]!
    cards = cards.map((c) => (c === last ? { ...c, anyway: true } : c))
  }
  const drop = (c: Option) => {
    cards = cards.filter((x) => x !== c)
    off = off.filter((x) => x !== c)
  }
</script>

<h2>What if?</h2>
<p class="-mt-3 text-soft">Cards on a field and a month. Nothing is done until you do it.</p>
{#if cards.length}
  <ul aria-label="What is tried" class="flex flex-col">
    {#each cards as c (c)}
      <li class="flex flex-wrap items-start gap-x-2 border-b border-line py-1.5">
        <label class="flex min-h-12 flex-1 items-center gap-3"
          ><input
            type="checkbox"
            class="size-6 shrink-0 rounded border-soft text-tarn"
            checked={!off.includes(c)}
            onchange={() => (off = off.includes(c) ? off.filter((x) => x !== c) : [...off, c])}
          /><span
            >{name(c)}
            {#each does(c)?.says ?? [] as s, i (i)}<span class="block text-sm text-soft"><Reason reason={s} /></span>{/each}
            {#if does(c)}{@const e = does(c)!}<span class="block text-sm"
                >{e.closes_kg_dm < -1 ? 'makes the gap larger by' : 'closes'}
                <strong>{withUnit(Math.abs(e.closes_kg_dm), 'kg_fodder', house.system)}</strong>{e.closes_kg_dm < -1
                  ? ''
                  : ' of the gap'}{e.cost_a_tonne_closed
                  ? `, ${price(e.cost_a_tonne_closed, 'per_t')} eaten when it was short`
                  : ''}</span
              >{/if}</span
          ></label
        >
        <button
          type="button"
          class="grid size-12 place-items-center text-soft hover:text-stop"
          aria-label="Take back: {name(c)}"
          onclick={() => drop(c)}><Icon name="close" size={20} /></button
        >
        {#if does(c)?.caution}<p class="mb-1 w-full rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">
            {does(c)!.caution}
          </p>{/if}
      </li>
    {/each}
  </ul>
{/if}
{#if refusal}
  <div class="rounded-xl bg-now-wash p-3 text-now-ink" role="alert">
    {#each refusal.fields.length ? refusal.fields : [{ message: refusal.message }] as f, i (i)}<p>{f.message}</p>{/each}
    {#if refusal.unusual}<div class="mt-2"><Button onclick={anyway}>Try it anyway</Button></div>{/if}
  </div>
{:else if silent}
  <p class="rounded-xl bg-now-wash p-3 text-now-ink" role="status">No signal: what would come of it is worked out at the farm.</p>
{/if}
{#if adding}
  <OptionForm
    {means}
    {prices}
    months={rows}
    onadd={(o) => {
      cards = [...cards, o]
      adding = false
    }}
    oncancel={() => (adding = false)}
  />
{:else}
  <div><Button kind={cards.length ? 'plain' : 'main'} onclick={() => (adding = true)}>Put a card down</Button></div>
{/if}
{#if tried && !refusal}
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
{#if on.length && !refusal && house.may('manager')}
  {#if keeping}<KeepForm {farm} cards={on} ondone={() => (keeping = false)} oncancel={() => (keeping = false)} />
  {:else}<div><Button onclick={() => (keeping = true)}>Keep it as a scenario</Button></div>{/if}
{/if}
