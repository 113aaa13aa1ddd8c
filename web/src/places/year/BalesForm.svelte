<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Question } from '../../api/question.svelte'
  import Answerless from '../../ui/Answerless.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'

  // Bales set out before winter and grazed where they lie, and the ground on which hay does most good.
  let { farm, winter }: { farm: string; winter: Schemas['WinterView'] } = $props()

  // svelte-ignore state_referenced_locally
  let field = $state(winter.fields[0]!.id)
  let group = $state('0')
  // svelte-ignore state_referenced_locally
  const year = Number(winter.months[0]!.from.slice(0, 4))
  // In the south seasons lie half a year off.
  let from = $state((house.farm?.latitude ?? 0) < 0 ? `${year + 1}-06-01` : `${year}-12-01`)
  let area = $state<number | null>(null)
  let bales = $state<number | null>(null)
  let weighs = $state<number | null>(null)
  let dry = $state<number | null>(null)
  let each = $state<number | null>(3)
  const question = new Question<Schemas['BalesView']>()
  const answer = $derived(question.answer)
  const known = $derived([bales, weighs, dry, each].every((x) => x !== null))
  const work = () =>
    question.ask(() =>
      ask(
        api.POST('/api/farms/{farm}/year/bales', {
          params: { path: { farm } },
          body: {
            field_id: field,
            area_ha: area ?? undefined,
            group: Number(group),
            from_day: from,
            bales: bales ?? 0,
            bale_kg: weighs ?? 0,
            dry_matter_share: dry ?? 0,
            days_each: each ?? 0,
          },
        }),
      ),
    )
  const cut = $derived(winter.ground.filter((g) => g.potassium_kg_ha >= 1 && !g.not_wet))
  const wet = $derived(winter.ground.filter((g) => g.not_wet))
  const kg = (x: number) => withUnit(x, 'kg_ha', house.system, 0)
</script>

<section aria-label="Bale grazing" class="rounded-xl border border-line bg-surface p-4">
  <h2>Bales grazed where they lie</h2>
  <p class="text-soft">Set out before the ground is soft, net and string off, and opened some days at a time behind a fence.</p>
  <form class="no-print mt-2 flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void work())}>
    <div class="grid grid-cols-2 items-start gap-3 max-md:grid-cols-1">
      <Choice
        label="Which field"
        bind:value={field}
        options={winter.fields.map((f) => ({ value: f.id, label: `${f.name}, ${withUnit(f.area_ha, 'ha', house.system)}` }))}
      />
      <Choice label="For whom" bind:value={group} options={winter.groups.map((g, i) => ({ value: String(i), label: g }))} />
    </div>
    <div class="grid grid-cols-3 items-start gap-3 max-md:grid-cols-2">
      <TextField label="From" type="date" bind:value={from} error={question.at('from_day')} />
      <NumberField compact label="On" unit="ha" bind:value={area} hint="empty: all of it" error={question.at('area_ha')} />
      <NumberField compact label="Bales" bind:value={bales} error={question.at('bales')} />
      <NumberField
        compact
        label="A bale weighs"
        unit="kg"
        bind:value={weighs}
        hint="weighed, not guessed"
        error={question.at('bale_kg')}
      />
      <NumberField compact label="Its dry matter" unit="share" bind:value={dry} error={question.at('dry_matter_share')} />
      <NumberField compact label="A set lasts" unit="day" bind:value={each} error={question.at('days_each')} />
    </div>
    <Answerless {question} shown={['from_day', 'area_ha', 'bales', 'bale_kg', 'dry_matter_share', 'days_each']} />
    <div><Button type="submit" disabled={!known}>How far do they go?</Button></div>
  </form>
  {#if answer}
    <div class="mt-3 border-t border-line pt-3" aria-live="polite">
      <p>
        <Figure value={answer.days} unit="day" size="large" working={answer.figure} title="Bale grazing" />
        <span class="text-soft">of feed, until {sayDay(new Date(answer.ends))}</span>
      </p>
      <p class="mt-1">
        <strong>{number(answer.set, 'count', house.system)} bales at a time</strong>, {number(answer.sets, 'count', house.system)} times,
        {number(answer.apart_m, '', house.system, 0)} m apart.
      </p>
      <p class="mt-1 {answer.too_much ? 'font-bold text-stop' : ''}">
        They leave about {kg(answer.nitrogen_kg_ha)} nitrogen, {kg(answer.phosphorus_kg_ha)} phosphorus and {kg(
          answer.potassium_kg_ha,
        )} potassium{answer.too_much ? ': more than the ground keeps in a winter. Spread them wider, or set out fewer' : ''}.
      </p>
    </div>
  {/if}
  <h3 class="mt-4">Where hay does most good</h3>
  {#if cut.length}
    <p>Where most was carried off with cuts, and nobody said that it is too wet:</p>
    <ol class="mt-1 flex flex-col">
      {#each cut.slice(0, 5) as g (g.id)}
        <li class="flex justify-between gap-3 border-t border-line py-1.5">
          <span><strong>{g.name}</strong> <span class="text-soft">{g.field}</span></span>
          <span class="text-right"
            ><strong class="figure">{kg(g.potassium_kg_ha)}</strong> potassium, {kg(g.phosphorus_kg_ha)} phosphorus gone</span
          >
        </li>
      {/each}
    </ol>
  {:else}<p class="text-soft">No cut was weighed in twelve months: by the soil test, then, and uphill.</p>{/if}
  {#if wet.length}<p class="mt-2 text-now-ink">
      Not in winter, it cuts up: {wet.map((g) => g.name).join(', ')}.
    </p>{/if}
  <p class="mt-2 rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">
    A round bale that rolls or tips kills: set it on its flat side, never above somebody on a slope. How much may lie on ground in
    winter, and how near water, is law in many places.
  </p>
</section>
