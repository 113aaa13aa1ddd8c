<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Question } from '../../api/question.svelte'
  import Answerless from '../../ui/Answerless.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { number, withUnit } from '../../ui/units'

  // Slurry and dirty water as the fertiliser they are; phosphorus and potassium by the soil test.
  let { farm }: { farm: string } = $props()

  type Unit = 'm3_ha' | 'us_gal_ac' | 'imp_gal_ac'
  type Season = 'spring' | 'summer' | 'autumn'
  type Level = 'low' | 'right' | 'high'
  let rate = $state<number | null>(null)
  let unit = $state<Unit>(house.system === 'imperial' ? 'us_gal_ac' : 'm3_ha')
  let season = $state<Season>('spring')
  let n = $state<number | null>(null)
  let p = $state<number | null>(null)
  let k = $state<number | null>(null)
  let soilP = $state<Level>('right')
  let soilK = $state<Level>('right')
  let cut = $state<number | null>(null)
  let upP = $state<number | null>(null)
  let upK = $state<number | null>(null)
  const question = new Question<Schemas['ManureView']>()
  const answer = $derived(question.answer)
  // What a m³ holds is asked, never taken for nothing.
  const known = $derived(rate === null || [n, p, k].every((x) => x !== null))
  const at = (f: string) => question.at(f)
  const levels = [
    { value: 'low', label: 'too little' },
    { value: 'right', label: 'enough' },
    { value: 'high', label: 'plenty' },
  ]
  const work = () =>
    question.ask(() =>
      ask(
        api.POST('/api/farms/{farm}/year/manure', {
          params: { path: { farm } },
          body: {
            manure:
              rate === null
                ? undefined
                : { rate, unit, season, nitrogen_kg_m3: n ?? 0, phosphorus_kg_m3: p ?? 0, potassium_kg_m3: k ?? 0 },
            soil: {
              phosphorus: soilP,
              potassium: soilK,
              cut_t_ha: cut ?? 0,
              build_phosphorus_kg_ha: upP ?? 0,
              build_potassium_kg_ha: upK ?? 0,
            },
          },
        }),
      ),
    )
  const kg = (x: number) => withUnit(x, 'kg_ha', house.system, 0)
</script>

<section aria-label="Slurry and soil test" class="no-print rounded-xl border border-line bg-surface p-4">
  <h2>Slurry, and the soil test</h2>
  <form class="mt-2 flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void work())}>
    <div class="grid grid-cols-2 items-start gap-3">
      <NumberField compact label="Slurry spread" bind:value={rate} hint="empty: none" error={at('rate')} />
      <Choice
        label="counted in"
        bind:value={unit}
        options={[
          { value: 'm3_ha', label: 'm³ a hectare' },
          { value: 'us_gal_ac', label: 'US gallons an acre' },
          { value: 'imp_gal_ac', label: 'imperial gallons an acre' },
        ]}
      />
      <Choice
        label="When"
        bind:value={season}
        options={[
          { value: 'spring', label: 'in spring' },
          { value: 'summer', label: 'in summer' },
          { value: 'autumn', label: 'in autumn' },
        ]}
      />
      <NumberField compact label="Nitrogen" unit="kg_m3" bind:value={n} hint="from a sample" error={at('nitrogen_kg_m3')} />
      <NumberField compact label="Phosphorus" unit="kg_m3" bind:value={p} error={at('phosphorus_kg_m3')} />
      <NumberField compact label="Potassium" unit="kg_m3" bind:value={k} error={at('potassium_kg_m3')} />
    </div>
    <div class="grid grid-cols-2 items-start gap-3 border-t border-line pt-3">
      <Choice label="Phosphorus in the soil" bind:value={soilP} options={levels} />
      <Choice label="Potassium in the soil" bind:value={soilK} options={levels} />
      {#if soilP === 'low'}<NumberField
          compact
          label="Lab: add P"
          unit="kg_ha"
          bind:value={upP}
          error={at('build_phosphorus_kg_ha')}
        />{/if}
      {#if soilK === 'low'}<NumberField
          compact
          label="Lab: add K"
          unit="kg_ha"
          bind:value={upK}
          error={at('build_potassium_kg_ha')}
        />{/if}
      <NumberField
        compact
        label="Cut"
        unit="t_ha"
        bind:value={cut}
        hint="dry matter carried home in a year"
        error={at('cut_t_ha')}
      />
    </div>
    <Answerless
      {question}
      shown={[
        'rate',
        'nitrogen_kg_m3',
        'phosphorus_kg_m3',
        'potassium_kg_m3',
        'build_phosphorus_kg_ha',
        'build_potassium_kg_ha',
        'cut_t_ha',
      ]}
    />
    <div><Button type="submit" disabled={!known}>Work it out</Button></div>
  </form>
  {#if answer}
    <div class="mt-3 border-t border-line pt-3" aria-live="polite">
      {#if answer.m3_ha !== undefined}
        <p>
          <Figure
            value={answer.nitrogen_kg_ha}
            unit="kg_ha"
            decimals={0}
            size="large"
            working={answer.figure}
            title="What slurry is worth"
          />
          <span class="text-soft"
            >nitrogen that counts, of {number(answer.m3_ha, '', house.system, 1)} m³; {kg(answer.phosphorus_kg_ha)} phosphorus,
            {kg(answer.potassium_kg_ha)} potassium</span
          >
        </p>
      {/if}
      {#if answer.wants_phosphorus_kg_ha !== undefined}
        <p class="mt-1">
          Wanted beside it: <strong class="figure">{kg(answer.wants_phosphorus_kg_ha)}</strong> phosphorus,
          <strong class="figure">{kg(answer.wants_potassium_kg_ha!)}</strong> potassium.
        </p>
      {/if}
      <p class="mt-1 text-sm text-soft">
        What leaves with cuts and grazing, by common tables; where there is plenty none is wanted. Your lab and your adviser know
        the ground. Gas from stirred slurry kills: never alone, never in the pit, doors open.
      </p>
    </div>
  {/if}
</section>
