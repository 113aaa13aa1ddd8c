<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Question } from '../../api/question.svelte'
  import Answerless from '../../ui/Answerless.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import NumberField from '../../ui/NumberField.svelte'

  // Head, days, area, yield: whichever is not known is found from the other three. It begins as the farm is.
  let { farm, is }: { farm: string; is: Schemas['SolveIn'] } = $props()

  type Unknown = Schemas['SolveOut']['unknown']
  const round = (v: number | undefined, to: number) => (v === undefined ? null : Number(v.toFixed(to)))
  // svelte-ignore state_referenced_locally
  let head = $state(round(is.head, 0))
  // svelte-ignore state_referenced_locally
  let days = $state(round(is.days, 0))
  // svelte-ignore state_referenced_locally
  let area = $state(round(is.area_ha, 1))
  // svelte-ignore state_referenced_locally
  let grows = $state(round(is.yield_kg_dm_ha, 0))
  // svelte-ignore state_referenced_locally
  let each = $state(round(is.each_kg_dm_day, 1))
  // svelte-ignore state_referenced_locally
  let harvest = $state(round(is.harvest_efficiency, 2))
  let unknown = $state<Unknown>('head')
  const question = new Question<Schemas['SolveOut']>()
  const answer = $derived(question.answer)
  const fields = { head: 'Head', days: 'Days', area_ha: 'Area', yield_kg_dm_ha: 'Grows in a year' }
  const units = { head: 'head', days: 'day', area_ha: 'ha', yield_kg_dm_ha: 'kg_ha' }
  const says = {
    head: 'are fed',
    days: 'of grazing in a year',
    area_ha: 'are wanted',
    yield_kg_dm_ha: 'must grow in a year, before losses',
  }
  const known = $derived(
    each !== null &&
      harvest !== null &&
      Object.entries({ head, days, area_ha: area, yield_kg_dm_ha: grows }).every(([k, v]) => k === unknown || v !== null),
  )
  const unless = (field: Unknown, v: number | null) => (field === unknown ? undefined : (v ?? undefined))
  const work = () =>
    question.ask(() =>
      ask(
        api.POST('/api/farms/{farm}/year/stocking', {
          params: { path: { farm } },
          body: {
            head: unless('head', head),
            days: unless('days', days),
            area_ha: unless('area_ha', area),
            yield_kg_dm_ha: unless('yield_kg_dm_ha', grows),
            each_kg_dm_day: each ?? 0,
            harvest_efficiency: harvest ?? 0,
          },
        }),
      ),
    )
</script>

<section aria-label="Stocking rate" class="rounded-xl border border-line bg-surface p-4 {answer ? '' : 'no-print'}">
  <h2>Head, days, area or yield</h2>
  <p class="text-soft">Three of them give the fourth. It begins as your farm is; type what you think of.</p>
  <form class="no-print mt-2 flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void work())}>
    <Choice
      label="Find"
      bind:value={unknown}
      options={Object.entries(fields).map(([value, label]) => ({ value, label: label.toLowerCase() }))}
    />
    <div class="grid grid-cols-3 items-start gap-3 max-md:grid-cols-2">
      {#if unknown !== 'head'}<NumberField
          compact
          label={fields.head}
          unit="head"
          bind:value={head}
          error={question.at('head')}
        />{/if}
      {#if unknown !== 'days'}<NumberField
          compact
          label={fields.days}
          unit="day"
          bind:value={days}
          hint="at grass in a year"
          error={question.at('days')}
        />{/if}
      {#if unknown !== 'area_ha'}<NumberField
          compact
          label={fields.area_ha}
          unit="ha"
          bind:value={area}
          error={question.at('area_ha')}
        />{/if}
      {#if unknown !== 'yield_kg_dm_ha'}<NumberField
          compact
          label={fields.yield_kg_dm_ha}
          unit="kg_ha"
          bind:value={grows}
          hint="on open ground, before losses"
          error={question.at('yield_kg_dm_ha')}
        />{/if}
      <NumberField
        compact
        label="A head eats a day"
        unit="kg"
        bind:value={each}
        hint="dry matter"
        error={question.at('each_kg_dm_day')}
      />
      <NumberField
        compact
        label="Of it eaten"
        unit="share"
        bind:value={harvest}
        hint="of what grows"
        error={question.at('harvest_efficiency')}
      />
    </div>
    <Answerless
      {question}
      shown={['head', 'days', 'area_ha', 'yield_kg_dm_ha', 'each_kg_dm_day', 'harvest_efficiency'].filter((f) => f !== unknown)}
    />
    <div><Button type="submit" disabled={!known}>Find it</Button></div>
  </form>
  {#if answer}
    <p class="mt-3 border-t border-line pt-3" aria-live="polite">
      <Figure value={answer.value} unit={units[answer.unknown]} size="large" working={answer.figure} title="Stocking rate" />
      <span class="text-soft">{says[answer.unknown]}</span>
    </p>
    <p class="mt-1 text-soft">
      <Figure value={answer.head_ha} unit="head_ha" /> over those days, on all of that ground: a rate of a season, not a density of
      a moment.
    </p>
  {/if}
</section>
