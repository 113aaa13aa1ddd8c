<script lang="ts">
  import { useWinter } from '../../api/queries.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import { number } from '../../ui/units'
  import BalesForm from './BalesForm.svelte'
  import StockpileForm from './StockpileForm.svelte'
  import WaterInFrost from './WaterInFrost.svelte'

  // Winter: ground closed up for it, hay put out on it, and water that does not freeze.
  let { farm }: { farm: string } = $props()
  const winter = useWinter(() => farm)
  const v = $derived(winter.data)
  const zone = $derived(house.farm?.time_zone)
  const month = (at: string) => new Date(at).toLocaleDateString('en', { month: 'short', timeZone: zone })
  const cold = $derived((v?.months ?? []).filter((m) => m.freezing_days > 0))
  const most = $derived(Math.max(1, ...cold.map((m) => m.freezing_days)))
  const drills = [
    {
      name: 'Where the hay is put out',
      steps: [
        'Uphill, on the ground that lacks most: what falls out of the bale and the animal feeds it.',
        'Never where hooves or wheels cut in. Too wet: the hard standing, and the strip another day.',
        'Another spot each time, well away from brooks, ditches and wells. Net and string are counted home.',
        'Ground that was grazed late in autumn comes late in spring: the rest is left alone until then.',
      ],
    },
    {
      name: 'At dawn, in frost',
      steps: [
        'Look at the animals first: who stands apart, who does not come to water?',
        'Break the ice, or see that it runs, at every drinker; feel the pipe where it comes out of the ground.',
        'A board under a stone, or a ball that floats, keeps a hole open in a trough for a night.',
        'Walk on no ice over water. Say where you go and when you are back.',
      ],
    },
    {
      name: 'When it is frozen',
      steps: [
        'Carry water first: they need it more than the pipe does.',
        'Shut the supply off, open the tap, and thaw from the tap backward with warm water or warm cloths.',
        'Never a flame, never a heater in straw or dust. What is electric, and wet, is an electrician’s.',
        'Look for the split when it runs again, and lag what froze before tonight.',
      ],
    },
  ]
</script>

{#if v}
  <div class="winter">
    {#if v.fields.length && v.groups.length}<div class="flex flex-col gap-4">
        <StockpileForm {farm} winter={v} />
        <BalesForm {farm} winter={v} />
      </div>{/if}
    <div class="flex flex-col gap-4">
      <section aria-label="Frost" class="rounded-xl border border-line bg-surface p-4">
        <h2>Frost on the water</h2>
        {#if v.freezing_days.length}
          <p class="mt-1 font-bold text-now-ink">
            Standing water freezes: {v.freezing_days.map((d) => sayDay(new Date(d))).join(', ')}.
          </p>
        {:else if v.weather_known}<p class="mt-1">None in the ten days to come.</p>
        {:else}<p class="mt-1 text-soft">No weather is on record: write some down in Walk, and frost is foreseen.</p>{/if}
        {#if cold.length}
          <ul class="mt-2 flex items-end gap-2" aria-label="Days of frost that are expected">
            {#each cold as m (m.from)}
              <li class="flex flex-1 flex-col items-center gap-1 text-sm">
                <span class="figure">{number(m.freezing_days, 'count', house.system)}</span>
                <span
                  class="w-full rounded-t-sm bg-(--tarn)"
                  style:height="{(44 * m.freezing_days) / most}px"
                  style:opacity={0.3 + (0.6 * m.freezing_days) / 31}
                ></span>
                <span class="text-soft">{month(m.from)}</span>
              </li>
            {/each}
          </ul>
          <p class="mt-1 text-sm text-soft">days whose mean is at zero or below, on record or as they are expected here</p>
        {/if}
        <WaterInFrost {farm} />
      </section>
      <section aria-label="Drills" class="rounded-xl border border-line bg-surface p-4">
        {#each drills as d, i (d.name)}
          <h3 class={i ? 'mt-3' : ''}>{d.name}</h3>
          <ul class="list-disc pl-5">
            {#each d.steps as s (s)}<li>{s}</li>{/each}
          </ul>
        {/each}
      </section>
    </div>
  </div>
{:else}
  <Loading error={winter.error} what="the winter" />
{/if}

<style>
  .winter {
    display: grid;
    gap: 0.9rem;
    grid-template-columns: repeat(auto-fit, minmax(min(100%, 30rem), 1fr));
    align-items: start;
  }
  @media print {
    .winter {
      grid-template-columns: 1fr 1fr;
      gap: 0.4rem;
      zoom: 0.66;
    }
  }
</style>
