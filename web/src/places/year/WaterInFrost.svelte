<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { number } from '../../ui/units'

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
  let answer = $state.raw<Schemas['FrostView'] | null>(null)
  let refusal = $state.raw<Refusal | null>(null)
  // Nobody who comes, or nothing that they drink, would always be enough.
  const known = $derived([head, each, minutes, flow, holds].every((x) => x !== null))
  const at = (f: string) => refusal?.at(f)
  async function work(body: Schemas['FrostInput']) {
    refusal = null
    try {
      answer = { ...answer, ...(await ask(api.POST('/api/farms/{farm}/year/frost', { params: { path: { farm } }, body }))) }
    } catch (error) {
      refusal = error instanceof Refusal ? error : new Refusal(0, 'No signal: it is worked out at the farm.', [], false)
    }
  }
  const litres = (l: number) => `${number(l, '', house.system, 0)} l`
</script>

<form
  class="no-print mt-3 flex flex-col gap-2 border-t border-line pt-3"
  onsubmit={(e) => (
    e.preventDefault(),
    void work({ overflow: { bucket_l: bucket ?? 0, seconds: seconds ?? 0, hours: hours ?? 0 } })
  )}
>
  <h3>Left running over night</h3>
  <div class="grid grid-cols-3 items-start gap-3">
    <NumberField compact label="A bucket of, l" bind:value={bucket} error={at('bucket_l')} />
    <NumberField compact label="is full in, s" bind:value={seconds} error={at('seconds')} />
    <NumberField compact label="for hours" bind:value={hours} error={at('hours')} />
  </div>
  <div><Button type="submit">What runs?</Button></div>
</form>
{#if answer?.flow_l_min !== undefined}
  <p class="mt-1" aria-live="polite">
    <strong class="figure">{number(answer.flow_l_min, '', house.system, 1)} l</strong> a minute,
    <strong class="figure">{litres(answer.waste_l_night!)}</strong> a night: led away in a pipe to a ditch or drain, never over the
    path or the gateway, where it turns to ice.
  </p>
{/if}
<form
  class="no-print mt-3 flex flex-col gap-2 border-t border-line pt-3"
  onsubmit={(e) => (
    e.preventDefault(),
    void work({
      waterer: { head: head ?? 0, litres_each: each ?? 0, minutes: minutes ?? 0, flow_l_min: flow ?? 0, holds_l: holds ?? 0 },
    })
  )}
>
  <h3>When all come at once</h3>
  <div class="grid grid-cols-3 items-start gap-3">
    <NumberField compact label="Head" bind:value={head} error={at('head')} />
    <NumberField compact label="Litres each" bind:value={each} error={at('litres_each')} />
    <NumberField compact label="In minutes" bind:value={minutes} error={at('minutes')} />
    <NumberField compact label="Runs in, l/min" bind:value={flow} error={at('flow_l_min')} />
    <NumberField compact label="It holds, l" bind:value={holds} error={at('holds_l')} />
  </div>
  <div><Button type="submit" disabled={!known}>Is it enough?</Button></div>
</form>
{#if answer?.short_l !== undefined}
  <p class="mt-1 {answer.short_l > 0 ? 'font-bold text-stop' : ''}" aria-live="polite">
    {answer.short_l > 0
      ? `${litres(answer.short_l)} short: those who come last go dry. A second drinker, a larger one, or more flow.`
      : 'It is enough for all of them.'}
  </p>
{/if}
{#if refusal && !refusal.fields.length}<p class="text-stop" role="alert">{refusal.message}</p>{/if}
