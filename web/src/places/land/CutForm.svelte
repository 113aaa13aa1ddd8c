<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now } from '../../ui/time.svelte'
  import { undoLand } from './ground'

  let { farm, paddock }: { farm: string; paddock: Schemas['PaddockView'] } = $props()

  let on = $state(isoDay(now()))
  let left = $state<number | null>(null)
  const write = new Write()
  const refusal = $derived(write.refusal)

  const keep = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/paddocks/{id}/cut', {
            params: { path: { farm, id: paddock.id } },
            body: { id: write.id(), cut_on: on, height_left_cm: left ?? undefined, confirmed: write.confirmed },
          }),
        ),
      { say: `${paddock.name} was cut, and is open again.`, undo: () => undoLand(farm) },
    )
</script>

<details>
  <summary class="min-h-10 py-2 font-semibold text-tarn">It was cut</summary>
  <form class="flex flex-col gap-3 pt-1" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <div class="grid grid-cols-2 gap-3">
      <TextField label="On" type="date" bind:value={on} error={refusal?.at('cut_on')} />
      <NumberField
        label="Stubble left"
        unit="cm"
        bind:value={left}
        hint="empty: the stop height"
        error={refusal?.at('height_left_cm')}
      />
    </div>
    <p class="text-sm text-soft">
      What it was closed for as hay ends with the cut. What grew on it is not taken for growth lost.
    </p>
    <Refused {refusal} bind:confirmed={write.confirmed} shown={['cut_on', 'height_left_cm']} />
    <div><Button type="submit">Write the cut down</Button></div>
  </form>
</details>
