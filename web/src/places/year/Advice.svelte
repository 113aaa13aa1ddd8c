<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import { money, price } from '../../ui/money'
  import Reason from '../../ui/Reason.svelte'
  import { number, withUnit } from '../../ui/units'

  // The cheapest cards that close the gaps, at several chances of falling short, and how all cards rank.
  interface Props {
    farm: string
    months: number
    cards: Schemas['Option'][]
    onput: (cards: Schemas['Option'][]) => void
    onprices: () => void
  }
  let { farm, months, cards, onput, onprices }: Props = $props()

  let advice = $state.raw<Schemas['YearAdvice'] | null>(null)
  let busy = $state(false)
  let says = $state('')
  let all = $state(false)
  const of10 = (chance: number) => `${number(chance * 10, 'count', house.system, chance * 10 < 1 ? 1 : 0)} of 10`
  const ranked = $derived((advice?.ranked ?? []).filter((r) => r.cost_a_tonne_closed !== undefined).slice(0, all ? undefined : 6))

  async function look() {
    busy = true
    says = ''
    try {
      advice = await ask(
        api.POST('/api/farms/{farm}/year/advice', { params: { path: { farm } }, body: { months, options: cards } }),
      )
    } catch (error) {
      says = error instanceof Refusal ? error.message : 'No signal: advice is worked out at the farm.'
    }
    busy = false
  }
</script>

<section aria-label="Advice" class="flex flex-col gap-3 border-t border-line pt-4">
  <h2>What closes it for least?</h2>
  <p class="-mt-2 text-soft">
    Every set of cards at your prices, held against the same 200 years of weather. Nothing is done until you do it.
  </p>
  <div>
    <Button kind="main" disabled={busy} onclick={() => void look()}>{busy ? 'Going through the cards…' : 'Advise'}</Button>
  </div>
  {#if says}<p class="rounded-xl bg-now-wash p-3 text-now-ink" role="alert">{says}</p>{/if}
  {#if advice}
    {#if !advice.cards}
      <p>No card has a price yet, and none is guessed. Write a few down first.</p>
      <div><Button onclick={onprices}>Prices</Button></div>
    {:else}
      <ol class="flex flex-col" aria-label="For so much safety">
        {#each advice.safety as s (s.chance)}
          <li class="border-b border-line py-3">
            <p class="flex flex-wrap items-baseline gap-x-2">
              <span class="text-soft">short in at most {of10(s.chance)} years:</span>
              {#if s.found}<strong class="figure text-xl">{s.cards.length ? money(s.cost) : 'nothing'}</strong>{/if}
            </p>
            {#if s.found}
              <ul class="mt-1">
                {#each s.cards as c, i (i)}<li><Reason reason={c} /></li>{:else}<li>Doing nothing is enough for that.</li>{/each}
              </ul>
              <p class="mt-1 text-sm text-soft">
                {s.cost_a_further_percent
                  ? `${money(s.cost_a_further_percent)} for each further per cent of safety. `
                  : ''}{s.proven
                  ? 'No set of these cards does it for less.'
                  : `No set of these cards does it for less than ${money(s.bound)}.`}
              </p>
              {#if s.cards.length}<div class="mt-2">
                  <Button onclick={() => onput(s.options)} label="Put these cards down, for at most {of10(s.chance)} years short"
                    >Put these cards down</Button
                  >
                </div>{/if}
            {:else}
              <p>No set of these cards was come upon that is enough: more feed, or fewer mouths, need a price first.</p>
            {/if}
          </li>
        {/each}
      </ol>
      {#if ranked.length}
        <h3>What is cheapest, eaten when it is short</h3>
        <table class="w-full">
          <thead class="sr-only"><tr><th>Card</th><th>Cost</th></tr></thead>
          <tbody>
            {#each ranked as r, i (i)}
              <tr class="border-t border-line align-top">
                <th scope="row" class="py-1.5 pr-3 text-left font-normal"
                  ><Reason reason={r.card} /><span class="block text-sm text-soft"
                    >closes {withUnit(r.closes_kg_dm, 'kg_fodder', house.system)} for {money(r.cost)}</span
                  ></th
                >
                <td class="figure py-1.5 text-right font-semibold whitespace-nowrap">{price(r.cost_a_tonne_closed!, 'per_t')}</td>
              </tr>
            {/each}
          </tbody>
        </table>
        {#if advice.ranked.length > 6 && !all}<div>
            <Button kind="quiet" onclick={() => (all = true)}>All that close something</Button>
          </div>{/if}
      {/if}
      <p class="text-sm text-soft">
        {number(advice.cards, 'count', house.system)} cards were held against each other{advice.unpriced
          ? `; ${number(advice.unpriced, 'count', house.system)} inputs that suit your ground have no price and were left out`
          : ''}. What does nothing in a month that is short comes last, however cheap it is.
      </p>
    {/if}
  {/if}
</section>
