<script lang="ts">
  import type { Refusal, Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { number } from '../../ui/units'

  interface Props {
    climate: Schemas['ClimateView']
    refusal: Refusal | null
    onkeep: (place: { elevation_m: number; coast: Schemas['ClimateView']['coast']; normals_c: number[] }) => void
  }
  let { climate, refusal, onkeep }: Props = $props()

  const months = ['J', 'F', 'M', 'A', 'M', 'J', 'J', 'A', 'S', 'O', 'N', 'D']
  let open = $state(false)
  let elevation = $state<number | null>(0)
  let coast = $state<Schemas['ClimateView']['coast']>('inland')
  let own = $state(false)
  let normals = $state<(number | null)[]>([])
  function begin() {
    elevation = climate.elevation_m
    coast = climate.coast
    own = climate.from === 'typed'
    normals = [...climate.normals_c]
    open = true
  }
  const origin = $derived(
    climate.from === 'typed'
      ? 'as you typed them'
      : climate.from === 'records'
        ? 'the mean of your own records'
        : 'estimated from latitude, height and the sea: a month may lie 4 °C (7 °F) off',
  )
</script>

<section aria-label="What is ordinary here">
  <h3 class="font-semibold">What is ordinary here</h3>
  <p class="text-sm text-soft">Warmth is held against these months: {origin}.</p>
  <ol class="mt-1 grid grid-cols-12 gap-1 text-center text-sm">
    {#each climate.normals_c as v, i (i)}
      <li><span class="block text-soft">{months[i]}</span>{number(v, 'c', house.system, 0)}°</li>
    {/each}
  </ol>
  {#if !open}
    <Button kind="quiet" onclick={begin}>Set height, sea and months</Button>
  {:else}
    <div class="mt-2 flex flex-col gap-3 rounded-xl border border-line p-3">
      <div class="grid grid-cols-2 gap-3">
        <NumberField compact label="Height above the sea" unit="m" bind:value={elevation} error={refusal?.at('elevation_m')} />
        <Choice
          label="The sea is"
          bind:value={coast}
          options={[
            { value: 'coast', label: 'near: even years' },
            { value: 'inland', label: 'some way off' },
            { value: 'continental', label: 'far: hot summers, cold winters' },
          ]}
        />
      </div>
      <label class="flex min-h-11 items-center gap-2"
        ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={own} />I know the mean of each month</label
      >
      {#if own}
        <div class="grid grid-cols-3 gap-2">
          {#each months as m, i (i)}
            <NumberField compact label="{m} {i + 1}" unit="c" bind:value={normals[i]!} error={refusal?.at(`normals_c[${i}]`)} />
          {/each}
        </div>
      {/if}
      <div class="flex gap-3">
        <Button
          kind="main"
          onclick={() => {
            onkeep({ elevation_m: elevation ?? 0, coast, normals_c: own ? normals.map((v) => v ?? NaN) : [] })
            open = false
          }}>Keep</Button
        >
        <Button onclick={() => (open = false)}>Cancel</Button>
      </div>
      <p class="text-sm text-soft">Three years of your own weather take the place of what is estimated by themselves.</p>
    </div>
  {/if}
</section>
