<script lang="ts">
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { withUnit } from '../../ui/units'

  let { farm }: { farm: string } = $props()

  type Spot = { first: number | null; second: number | null; clip: number | null }
  let open = $state(false)
  let spots = $state<Spot[]>(Array.from({ length: 5 }, () => ({ first: null, second: null, clip: null })))
  let result = $state<Schemas['MetersView'] | null>(null)
  let refusal = $state<Refusal | null>(null)

  async function compare() {
    const good = spots.flatMap((s) =>
      s.first !== null && s.second !== null ? [{ first: s.first, second: s.second, clip_kg_dm_ha: s.clip ?? undefined }] : [],
    )
    try {
      result = await ask(api.POST('/api/farms/{farm}/meters', { params: { path: { farm } }, body: { spots: good } }))
      refusal = null
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
      result = null
    }
  }
</script>

<section class="mt-5 rounded-2xl border border-line bg-surface p-5">
  <div class="flex flex-wrap items-center gap-3">
    <h2>Two meters that disagree</h2>
    <p class="flex-1 text-soft">Read the same spots with both, clip four of them, and see which to trust.</p>
    <Button pressed={open} onclick={() => (open = !open)}>Compare</Button>
  </div>
  {#if open}
    <div class="mt-3 flex flex-col gap-2">
      {#each spots as s, i (i)}
        <div class="grid max-w-[640px] grid-cols-3 gap-3">
          <NumberField compact label="First meter, spot {i + 1}" unit="kg_ha" bind:value={s.first} />
          <NumberField compact label="Second meter" unit="kg_ha" bind:value={s.second} />
          <NumberField compact label="Clip, if made" unit="kg_ha" bind:value={s.clip} />
        </div>
      {/each}
      <div class="flex gap-3">
        <Button kind="main" onclick={compare}>Compare them</Button>
        <Button kind="quiet" onclick={() => (spots = [...spots, { first: null, second: null, clip: null }])}>One more spot</Button
        >
      </div>
      <Refused {refusal} />
      {#if result}
        <p class="text-xl font-bold" role="status">{result.sentence}</p>
        <p>
          The first reads <Figure
            value={result.compare.mean_difference}
            unit="kg_ha"
            working={result.figure}
            title="Mean difference"
          /> against the second, mostly between {withUnit(result.compare.limit_low, 'kg_ha', house.system)} and {withUnit(
            result.compare.limit_high,
            'kg_ha',
            house.system,
          )}.
          {#if result.clips}Against {result.clips} clips the first is {withUnit(
              result.first_error_kg_dm_ha,
              'kg_ha',
              house.system,
            )} off, the second
            {withUnit(result.second_error_kg_dm_ha, 'kg_ha', house.system)}.{/if}
        </p>
      {/if}
    </div>
  {/if}
</section>
