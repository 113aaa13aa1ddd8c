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
  let area = $state<number | null>(null)
  let bales = $state<number | null>(null)
  let weighs = $state<number | null>(null)
  let dry = $state<number | null>(null)
  let kg = $state<number | null>(null)
  let topped = $state(false)
  const write = new Write()
  const refusal = $derived(write.refusal)

  const keep = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/paddocks/{id}/cut', {
            params: { path: { farm, id: paddock.id } },
            body: {
              id: write.id(),
              cut_on: on,
              height_left_cm: left ?? undefined,
              cut_area_ha: area ?? undefined,
              topped: topped || undefined,
              bales: topped ? undefined : (bales ?? undefined),
              bale_kg: topped ? undefined : (weighs ?? undefined),
              dry_matter_share: topped ? undefined : (dry ?? undefined),
              harvest_kg_dm: topped ? undefined : (kg ?? undefined),
              confirmed: write.confirmed,
            },
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
      <NumberField label="Area cut" unit="ha" bind:value={area} hint="empty: all of it" error={refusal?.at('cut_area_ha')} />
    </div>
    <label class="flex min-h-12 items-center gap-3"
      ><input type="checkbox" class="size-6 rounded border-soft" bind:checked={topped} />Topped: what was cut stayed there</label
    >
    {#if !topped}
      <div class="grid grid-cols-2 gap-3">
        <NumberField label="Bales brought home" bind:value={bales} error={refusal?.at('bales')} />
        <NumberField
          label="One weighs"
          unit="kg"
          bind:value={weighs}
          hint="weighed, not guessed"
          error={refusal?.at('bale_kg')}
        />
        <NumberField label="Dry matter of it" unit="share" bind:value={dry} error={refusal?.at('dry_matter_share')} />
        <NumberField label="or dry matter, in all" unit="kg" bind:value={kg} error={refusal?.at('harvest_kg_dm')} />
      </div>
    {/if}
    <p class="text-sm text-soft">
      What it was closed for as hay ends with the cut. What was weighed is counted as grown and stands in the fodder store, by the
      queue; what nobody weighed stays unknown.
    </p>
    <Refused
      {refusal}
      bind:confirmed={write.confirmed}
      shown={['cut_on', 'height_left_cm', 'cut_area_ha', 'bales', 'bale_kg', 'dry_matter_share', 'harvest_kg_dm']}
    />
    <div><Button type="submit">Write the cut down</Button></div>
  </form>
</details>
