<script lang="ts">
  import type { Refusal, Schemas } from '../../api/client'
  import Choice from '../../ui/Choice.svelte'
  import TextField from '../../ui/TextField.svelte'

  let { farm = $bindable(), refusal }: { farm: Schemas['FarmInput']; refusal: Refusal | null } = $props()

  const aims = [
    ['growth', 'more growth'],
    ['gain', 'animal gain'],
    ['parasites', 'fewer parasites'],
    ['soil', 'soil and life'],
    ['drought', 'drought strength'],
    ['less_hay', 'less hay'],
    ['less_work', 'less work'],
  ] as const
  const zones = [...new Set([farm.time_zone, 'UTC', ...Intl.supportedValuesOf('timeZone')])].map((z) => ({
    value: z,
    label: z.replace(/_/g, ' '),
  }))

  function toggle(aim: string) {
    farm.aims = farm.aims.includes(aim) ? farm.aims.filter((a) => a !== aim) : [...farm.aims, aim]
  }
</script>

<div class="grid grid-cols-2 gap-4 max-md:grid-cols-1">
  <TextField label="Name of the farm" bind:value={farm.name} error={refusal?.at('name')} />
  <TextField label="Place" bind:value={farm.place} error={refusal?.at('place')} hint="As you would say it to a neighbour." />
  <Choice label="Time zone" bind:value={farm.time_zone} options={zones} error={refusal?.at('time_zone')} />
  <Choice
    label="Units"
    bind:value={farm.units}
    options={[
      { value: 'metric', label: 'kilograms, hectares, centimetres' },
      { value: 'imperial', label: 'pounds, acres, inches' },
    ]}
    hint="Switching later never changes a stored figure."
  />
  <Choice
    label="How experienced are its people?"
    bind:value={farm.experience}
    options={[
      { value: 'beginner', label: 'new to this' },
      { value: 'some', label: 'some seasons' },
      { value: 'old_hand', label: 'old hands' },
    ]}
  />
</div>
<fieldset class="mt-4">
  <legend class="text-sm font-semibold">What matters most to you?</legend>
  <div class="mt-2 flex flex-wrap gap-2">
    {#each aims as [key, label] (key)}
      <button
        type="button"
        class="min-h-11 rounded-full border-2 px-4 {farm.aims.includes(key)
          ? 'border-tarn bg-tarn-wash font-semibold text-tarn-deep'
          : 'border-line bg-surface'}"
        aria-pressed={farm.aims.includes(key)}
        onclick={() => toggle(key)}>{label}</button
      >
    {/each}
  </div>
</fieldset>
