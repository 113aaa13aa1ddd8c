<script lang="ts">
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now, sayDay } from '../../ui/time.svelte'
  import { edit } from './ground'

  // Out of the round for a time, back before its time, and nitrogen: what is done to a paddock as a whole.
  let { farm, paddock }: { farm: string; paddock: Schemas['PaddockView'] } = $props()

  const at = $derived({ farm, id: paddock.id })
  const closing = new Write()
  const opening = new Write()
  const dressing = new Write()
  let from = $state(isoDay(now()))
  let until = $state('')
  let why = $state('')
  let on = $state(isoDay(now()))
  let nitrogen = $state<number | null>(null)
  const shut = $derived(paddock.closed_now && paddock.purpose === 'grazing')

  const close = () =>
    edit(closing, farm, `${paddock.name} is closed up.`, (id) =>
      ask(
        api.POST('/api/farms/{farm}/paddocks/{id}/closures', {
          params: { path: at },
          body: { id, from_on: from, until_on: until || undefined, why },
        }),
      ),
    )
  const open = () =>
    edit(opening, farm, `${paddock.name} is open.`, () =>
      ask(api.POST('/api/farms/{farm}/paddocks/{id}/reopen', { params: { path: at, header: pressed } })),
    )
  const dress = () =>
    edit(dressing, farm, `Nitrogen on ${paddock.name} is written down.`, (id) =>
      ask(
        api.POST('/api/farms/{farm}/paddocks/{id}/dressings', {
          params: { path: at },
          body: { id, given_on: on, nitrogen_kg_ha: nitrogen ?? 0, confirmed: dressing.confirmed },
        }),
      ),
    )
</script>

{#if paddock.closed_up && !paddock.closed_now}
  <p class="text-soft">To be closed from {sayDay(new Date(paddock.closed_up.from_on + 'T12:00'))}: {paddock.closed_up.why}.</p>
{/if}
{#if shut}
  <div class="flex flex-wrap items-center gap-3">
    <p class="flex-1">
      Out of the round: {paddock.closed_now}.
    </p>
    <Button onclick={() => void open()} disabled={opening.busy}>Open it today</Button>
  </div>
  <Refused refusal={opening.refusal} />
{:else}
  <details>
    <summary class="min-h-10 py-2 font-semibold text-tarn">Close it up until a day</summary>
    <form class="flex flex-col gap-3 pt-1" onsubmit={(e) => (e.preventDefault(), void close())}>
      <div class="grid grid-cols-2 gap-3">
        <TextField label="From" type="date" bind:value={from} error={closing.at('from_on')} />
        <TextField
          label="Open again on"
          type="date"
          bind:value={until}
          hint="empty: not known yet"
          error={closing.at('until_on')}
        />
      </div>
      <TextField label="What for" bind:value={why} hint="such as hay, a stockpile for winter, rest" error={closing.at('why')} />
      <Refused refusal={closing.refusal} shown={['from_on', 'until_on', 'why']} />
      <div><Button type="submit" disabled={closing.busy}>Close it up</Button></div>
    </form>
  </details>
{/if}
<details>
  <summary class="min-h-10 py-2 font-semibold text-tarn">Nitrogen was spread</summary>
  <form class="flex flex-col gap-3 pt-1" onsubmit={(e) => (e.preventDefault(), void dress())}>
    <div class="grid grid-cols-2 gap-3">
      <TextField label="On" type="date" bind:value={on} error={dressing.at('given_on')} />
      <NumberField label="Nitrogen" unit="kg_ha" bind:value={nitrogen} error={dressing.at('nitrogen_kg_ha')} />
    </div>
    <p class="text-sm text-soft">
      How much may be spread, when, and how far from water is law in many places: that is yours to check.
    </p>
    <Refused refusal={dressing.refusal} bind:confirmed={dressing.confirmed} shown={['given_on', 'nitrogen_kg_ha']} />
    <div><Button type="submit" disabled={dressing.busy || !nitrogen}>Write it down</Button></div>
  </form>
</details>
