<script lang="ts">
  import CoverPhoto from './CoverPhoto.svelte'
  import type { Refusal, Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'
  import PhotoPick from '../../ui/PhotoPick.svelte'
  import { methodNames, type Draft, type Method } from './draft.svelte'

  interface Props {
    stop: Schemas['WalkStop']
    draft: Draft
    refusal: Refusal | null
    onmethod: (m: Method) => void
    onphoto: (blob: Blob) => void
    onclose: () => void
  }
  let { stop, draft = $bindable(), refusal, onmethod, onphoto, onclose }: Props = $props()
  let photo = $state(false)
</script>

<div class="absolute inset-0 z-10 flex flex-col bg-page" role="dialog" aria-label="Method and note" aria-modal="true">
  <div class="plain-scroll flex-1 px-4 py-4">
    <h2 class="mb-3">{stop.name}</h2>
    <div class="flex flex-col gap-5">
      <fieldset>
        <legend class="mb-2 font-semibold">Measure with</legend>
        <div class="grid grid-cols-2 gap-2">
          {#each Object.entries(methodNames).filter(([m]) => m !== 'stick' || !stop.stick_unsuited) as [m, label] (m)}
            <Button
              pressed={draft.method === m}
              disabled={m.startsWith('plate') && !!stop.plate_unsuited}
              onclick={() => onmethod(m as Method)}>{label}</Button
            >
          {/each}
        </div>
        {#if stop.stick_unsuited}<p class="mt-2 text-[15px]">{stop.stick_unsuited}</p>
        {:else if stop.plate_unsuited}<p class="mt-2 text-[15px]">{stop.plate_unsuited}</p>{/if}
        {#if draft.readings.length}<p class="mt-2 text-sm text-soft">
            Another method begins anew: heights of different methods never meet in one mean.
          </p>{/if}
      </fieldset>
      {#if draft.method.startsWith('plate')}
        <p class="text-[15px] text-soft">
          {#if stop.plate_line}{withUnit(stop.plate_line.slope_kg_per_cm, 'kg_ha_cm', house.system)} and {withUnit(
              stop.plate_line.intercept_kg,
              'kg_ha',
              house.system,
            )}: {stop.plate_line.name}.{/if}
          Keep off {stop.avoid.join(', ')}.
        </p>
      {/if}
      {#if draft.method === 'plate_counter'}
        <NumberField
          label="The plate's travel a count"
          unit="cm_count"
          hint="It is printed on the plate."
          bind:value={draft.cm_per_count}
          error={refusal?.at('cm_per_count')}
        />
      {:else if draft.method === 'stick' && !stop.stick_line}
        <NumberField
          label="Canopy cover"
          unit="share"
          hint="Of the marks on the stick, those at least a quarter covered."
          bind:value={draft.cover}
          error={refusal?.at('canopy_cover')}
        />
        {#if photo}
          <CoverPhoto
            onuse={(cover) => {
              draft.cover = cover
              photo = false
            }}
          />
        {:else}
          <div><Button kind="quiet" onclick={() => (photo = true)}>Read it from a photo</Button></div>
        {/if}
      {:else if draft.method === 'clip'}
        <div class="grid grid-cols-2 gap-3">
          <NumberField label="Dry-matter share" unit="share" bind:value={draft.dry} error={refusal?.at('dry_matter_share')} />
          <NumberField label="Frame" unit="m2" bind:value={draft.frame} error={refusal?.at('quadrat_m2')} />
        </div>
      {/if}
      <fieldset>
        <legend class="mb-2 font-semibold">How it is out there</legend>
        <div class="grid grid-cols-2 gap-2">
          <Button pressed={draft.wet} onclick={() => (draft.wet = !draft.wet)}>Wet leaf</Button>
          <Button pressed={draft.frosty} onclick={() => (draft.frosty = !draft.frosty)}>Frosty</Button>
        </div>
      </fieldset>
      <div class="grid grid-cols-2 gap-3">
        <NumberField label="Height in fists" unit="count" bind:value={draft.fists} hint="Tells which meter it agrees with." />
        <NumberField label="Your fist is wide" unit="cm" bind:value={draft.fist_cm} />
      </div>
      <TextField label="Note" bind:value={draft.note} rows={2} />
      <div>
        <PhotoPick count={draft.photos} {onphoto} />
      </div>
      <p class="text-sm text-soft">
        Alone out there? Say where you walk and when you are back, and keep a fence between you and a bull or a cow with a new
        calf.
      </p>
    </div>
  </div>
  <button type="button" class="min-h-20 shrink-0 bg-tarn text-xl font-bold text-on-tarn" onclick={onclose}>Measure</button>
</div>
