<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Question } from '../../api/question.svelte'
  import Answerless from '../../ui/Answerless.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { withUnit } from '../../ui/units'

  // An overflow by a bucket and a watch; a waterer against those who come at once.
  let { farm }: { farm: string } = $props()

  let bucket = $state<number | null>(10)
  let seconds = $state<number | null>(null)
  let hours = $state<number | null>(14)
  let head = $state<number | null>(null)
  let each = $state<number | null>(null)
  let minutes = $state<number | null>(null)
  let flow = $state<number | null>(null)
  let holds = $state<number | null>(null)
  const over = new Question<Schemas['FrostView']>()
  const drinks = new Question<Schemas['FrostView']>()
  // Nobody who comes, or nothing that they drink, would always be enough.
  const known = $derived([head, each, minutes, flow, holds].every((x) => x !== null))
  const work = (of: Question<Schemas['FrostView']>, body: Schemas['FrostInput']) =>
    of.ask(() => ask(api.POST('/api/farms/{farm}/year/frost', { params: { path: { farm } }, body })))
  const litres = (l: number) => withUnit(l, 'l', house.system, 0)
</script>

<form
  class="no-print mt-3 flex flex-col gap-2 border-t border-line pt-3"
  onsubmit={(e) => (
    e.preventDefault(),
    void work(over, { overflow: { bucket_l: bucket ?? 0, seconds: seconds ?? 0, hours: hours ?? 0 } })
  )}
>
  <h3>Left running over night</h3>
  <div class="grid grid-cols-3 items-start gap-3">
    <NumberField compact label="A bucket of" unit="l" bind:value={bucket} error={over.at('bucket_l')} />
    <NumberField compact label="is full in, s" bind:value={seconds} error={over.at('seconds')} />
    <NumberField compact label="for hours" bind:value={hours} error={over.at('hours')} />
  </div>
  <div><Button type="submit">What runs?</Button></div>
</form>
{#if over.answer?.flow_l_min !== undefined}
  <p class="mt-1" aria-live="polite">
    <strong class="figure">{withUnit(over.answer.flow_l_min, 'l_min', house.system, 1)}</strong>,
    <strong class="figure">{litres(over.answer.waste_l_night!)}</strong> a night: led away in a pipe to a ditch or drain, never over
    the path or the gateway, where it turns to ice.
  </p>
{/if}
<form
  class="no-print mt-3 flex flex-col gap-2 border-t border-line pt-3"
  onsubmit={(e) => (
    e.preventDefault(),
    void work(drinks, {
      waterer: { head: head ?? 0, litres_each: each ?? 0, minutes: minutes ?? 0, flow_l_min: flow ?? 0, holds_l: holds ?? 0 },
    })
  )}
>
  <h3>When all come at once</h3>
  <div class="grid grid-cols-3 items-start gap-3">
    <NumberField compact label="Head" bind:value={head} error={drinks.at('head')} />
    <NumberField compact label="Each drinks" unit="l" bind:value={each} error={drinks.at('litres_each')} />
    <NumberField compact label="In minutes" bind:value={minutes} error={drinks.at('minutes')} />
    <NumberField compact label="Runs in" unit="l_min" bind:value={flow} error={drinks.at('flow_l_min')} />
    <NumberField compact label="It holds" unit="l" bind:value={holds} error={drinks.at('holds_l')} />
  </div>
  <div><Button type="submit" disabled={!known}>Is it enough?</Button></div>
</form>
{#if drinks.answer?.short_l !== undefined}
  <p class="mt-1 {drinks.answer.short_l > 0 ? 'font-bold text-stop' : ''}" aria-live="polite">
    {drinks.answer.short_l > 0
      ? `${litres(drinks.answer.short_l)} short: those who come last go dry. A second drinker, a larger one, or more flow.`
      : 'It is enough for all of them.'}
  </p>
{/if}
<Answerless question={over} shown={['bucket_l', 'seconds', 'hours']} />
<Answerless question={drinks} shown={['head', 'litres_each', 'minutes', 'flow_l_min', 'holds_l']} />
