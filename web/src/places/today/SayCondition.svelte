<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write, press } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { addDays, isoDay, now, sayDay } from '../../ui/time.svelte'

  // What no record tells, said by whoever sees it, so that the cautions that go by it come.
  interface Props {
    farm: string
    askable: Schemas['Askable'][]
    said: Schemas['ConditionView'][]
    may: boolean
  }
  let { farm, askable, said, may }: Props = $props()

  const units: Record<string, string> = {
    '°C': 'c',
    mm: 'mm',
    kg: 'kg',
    m: 'm',
    cm: 'cm',
    kV: 'kv',
    days: 'day',
    hours: 'hour',
    'kg N/ha': 'kg_ha',
  }
  const spans = [
    { value: '1', label: 'today' },
    { value: '7', label: 'a week' },
    { value: '30', label: 'a month' },
    { value: '', label: 'until I take it back' },
  ]
  let name = $state('')
  let number = $state<number | null>(null)
  let word = $state('')
  let span = $state('7')
  const write = new Write()
  const chosen = $derived(askable.find((a) => a.name === name))
  const yes = $derived(chosen?.unit === 'true/false')
  const off = $derived(name === 'trained_to_electric' || name === 'phone_signal')
  function say() {
    const until = span && addDays(now(), Number(span))
    const value = yes ? !off : chosen!.words.length ? word || chosen!.words[0] : number
    return write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/conditions', {
            params: { path: { farm } },
            body: { id: write.id(), name, value, ...(until ? { until_on: isoDay(until) } : {}) },
          }),
        ),
      {
        say: 'Kept: the cautions go by it.',
        then: () => {
          name = ''
          number = null
        },
      },
    )
  }
  const end = (id: string) =>
    press(() => ask(api.DELETE('/api/farms/{farm}/conditions/{id}', { params: { path: { farm, id } } })), {
      say: 'Taken back: the cautions no longer go by it.',
    })
</script>

<section class="flex flex-col gap-2">
  <h3>What is so today that no record tells?</h3>
  {#each said as c (c.id)}
    <div class="flex flex-wrap items-center gap-x-3 border-b border-line">
      <span class="flex-1"
        ><Reason reason={c.says} />{c.until_on ? `, until ${sayDay(new Date(c.until_on + 'T12:00'))}` : ''}</span
      >
      {#if may}<Button onclick={() => void end(c.id)}>No longer</Button>{/if}
    </div>
  {/each}
  {#if may}
    <Choice
      label="Say"
      bind:value={name}
      options={[{ value: '', label: 'choose what is so' }, ...askable.map((a) => ({ value: a.name, label: a.meaning }))]}
      error={write.at('name')}
    />
    {#if chosen}
      {#if chosen.words.length}
        <Choice
          label="Which"
          value={word || chosen.words[0]!}
          options={chosen.words.map((w) => ({ value: w, label: w.replaceAll('_', ' ') }))}
          onchange={(w) => (word = w)}
        />
      {:else if !yes}
        <NumberField
          label={units[chosen.unit] ? 'How much' : `How much, ${chosen.unit}`}
          unit={units[chosen.unit] ?? ''}
          bind:value={number}
          error={write.at('value')}
        />
      {/if}
      <Choice label="For how long" bind:value={span} options={spans} error={write.at('until_on')} />
      <Refused refusal={write.refusal} shown={['name', 'value', 'until_on']} />
      <Button kind="main" disabled={write.busy} onclick={() => void say()}>It is so</Button>
    {/if}
  {/if}
</section>
