<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Question } from '../../api/question.svelte'
  import Answerless from '../../ui/Answerless.svelte'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import { money, price } from '../../ui/money'
  import NumberField from '../../ui/NumberField.svelte'
  import { number, withUnit } from '../../ui/units'

  // Divide the ground further, or buy more? By what somebody types; nothing is written.
  let { farm, area, days }: { farm: string; area: number; days: number } = $props()

  type Round = { entry: number | null; residual: number | null; rest: number | null; stay: number | null; eaten: number | null }
  const empty = (): Round => ({ entry: null, residual: null, rest: null, stay: null, eaten: null })
  let now = $state(empty())
  let then = $state(empty())
  // svelte-ignore state_referenced_locally
  let ha = $state<number | null>(Number(area.toFixed(1)))
  // svelte-ignore state_referenced_locally
  let season = $state<number | null>(days)
  let fence = $state<number | null>(null)
  let water = $state<number | null>(null)
  let years = $state<number | null>(null)
  let land = $state<number | null>(null)
  let tonne = $state<number | null>(null)
  const question = new Question<Schemas['DivideView']>()
  const answer = $derived(question.answer)
  // A price that nobody typed is not nothing.
  const known = $derived([fence, water, land, tonne].every((x) => x !== null))
  const at = (f: string) => question.at(f)
  const said = (r: Round) => ({
    entry_kg_dm_ha: r.entry ?? 0,
    residual_kg_dm_ha: r.residual ?? 0,
    rest_days: r.rest ?? 0,
    stay_days: r.stay ?? 0,
    eaten_share: r.eaten ?? 0,
  })
  const work = () =>
    question.ask(() =>
      ask(
        api.POST('/api/farms/{farm}/year/divide', {
          params: { path: { farm } },
          body: {
            area_ha: ha ?? 0,
            season_days: season ?? 0,
            now: said(now),
            then: said(then),
            fence_price: fence ?? 0,
            water_price: water ?? 0,
            years: years ?? 0,
            land_price: land ?? 0,
            tonne_price: tonne ?? 0,
          },
        }),
      ),
    )
</script>

<section aria-label="Divide or buy" class="no-print rounded-xl border border-line bg-surface p-4">
  <h2>Divide, or buy?</h2>
  <p class="text-soft">
    Shorter stays leave more, tread less and come round sooner. All of it is your own figures, and none of it advice to borrow.
  </p>
  <form class="mt-2 flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void work())}>
    {#each [{ name: 'As now', of: now, key: 'now' }, { name: 'Divided further', of: then, key: 'then' }] as r (r.key)}
      <fieldset>
        <legend class="font-semibold">{r.name}</legend>
        <div class="grid grid-cols-3 items-start gap-2 max-md:grid-cols-2">
          <NumberField compact label="Goes in at" unit="kg_ha" bind:value={r.of.entry} error={at(`${r.key}.entry_kg_dm_ha`)} />
          <NumberField
            compact
            label="Comes out at"
            unit="kg_ha"
            bind:value={r.of.residual}
            error={at(`${r.key}.residual_kg_dm_ha`)}
          />
          <NumberField compact label="Rest" unit="day" bind:value={r.of.rest} error={at(`${r.key}.rest_days`)} />
          <NumberField compact label="Stay" unit="day" bind:value={r.of.stay} error={at(`${r.key}.stay_days`)} />
          <NumberField compact label="Really eaten" unit="share" bind:value={r.of.eaten} error={at(`${r.key}.eaten_share`)} />
        </div>
      </fieldset>
    {/each}
    <div class="grid grid-cols-4 items-start gap-2 max-md:grid-cols-2">
      <NumberField compact label="Area" unit="ha" bind:value={ha} error={at('area_ha')} />
      <NumberField compact label="Season" unit="day" bind:value={season} error={at('season_days')} />
      <NumberField compact label="Fence" unit="per_ha" bind:value={fence} error={at('fence_price')} />
      <NumberField compact label="Water" unit="per_ha" bind:value={water} error={at('water_price')} />
      <NumberField compact label="They last, years" bind:value={years} error={at('years')} />
      <NumberField compact label="Land" unit="per_ha" bind:value={land} error={at('land_price')} />
      <NumberField compact label="Feed is worth" unit="per_t" bind:value={tonne} error={at('tonne_price')} />
    </div>
    <Answerless
      {question}
      shown={[
        'entry_kg_dm_ha',
        'residual_kg_dm_ha',
        'rest_days',
        'stay_days',
        'eaten_share',
        'area_ha',
        'season_days',
        'fence_price',
        'water_price',
        'years',
        'land_price',
        'tonne_price',
      ]}
    />
    <div><Button type="submit" disabled={!known}>Work it out</Button></div>
  </form>
  {#if answer}
    <div class="mt-3 border-t border-line pt-3" aria-live="polite">
      {#if answer.extra_kg_dm > 0}
        <p>
          <Figure value={answer.extra_kg_dm} unit="kg_fodder" size="large" working={answer.figure} title="Divide or buy" />
          <span class="text-soft"
            >more eaten a year, in {number(answer.turns_then, 'count', house.system, 1)} turns for {number(
              answer.turns_now,
              'count',
              house.system,
              1,
            )}</span
          >
        </p>
        <p class="mt-1">
          As much as <strong>{withUnit(answer.equivalent_ha, 'ha', house.system, 1)}</strong> more land would give, which costs
          <strong>{money(answer.land_cost)}</strong>. Dividing costs <strong>{money(answer.cost)}</strong>{answer.cost_a_tonne !==
          undefined
            ? `: ${price(answer.cost_a_tonne, 'per_t')} of further feed, over the years it lasts`
            : ''}{answer.payback_years !== undefined
            ? `. It has paid for itself after ${number(answer.payback_years, 'count', house.system, 1)} years`
            : ''}.
        </p>
      {:else}
        <p>
          By these figures nothing more is eaten: {number(answer.turns_then, 'count', house.system, 1)} turns for {number(
            answer.turns_now,
            'count',
            house.system,
            1,
          )}, and {withUnit(-answer.extra_kg_dm, 'kg_fodder', house.system)} less. It never pays.
        </p>
      {/if}
    </div>
  {/if}
</section>
