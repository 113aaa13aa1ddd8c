<script lang="ts">
  import Figure from '../../ui/Figure.svelte'
  import type { Schemas } from '../../api/client'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'

  interface Props {
    gates: Schemas['Gates']
    /** what it takes at the density that was kept */
    takes: Schemas['PulseView'] | undefined
    at: (field: string) => string | undefined
  }
  let { gates = $bindable(), takes, at }: Props = $props()
</script>

{#snippet yes(key: 'water_for_all' | 'power_at_far_end', label: string)}
  <label class="flex min-h-11 items-center gap-2"
    ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={gates[key]} />{label}</label
  >
  {#if at(key)}<p class="text-sm font-semibold text-stop" role="alert">{at(key)}</p>{/if}
{/snippet}

{#snippet figure(
  key: 'hands' | 'recovery_days' | 'reserve_feed_days' | 'wanted_density_kg_per_ha' | 'moves_a_day',
  label: string,
  unit: string,
)}
  <NumberField compact {label} {unit} bind:value={() => gates[key] || null, (v) => (gates[key] = v ?? 0)} error={at(key)} />
{/snippet}

<div
  class="flex flex-col gap-3 rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink"
  role="group"
  aria-label="The five gates of a pulse"
>
  <p><strong>Five gates before a pulse.</strong> A dense mob thirsts, breaks out and goes short sooner than any other.</p>
  <p class="font-semibold">1. Hands, water and fence</p>
  {@render figure('hands', 'People at every move', 'count')}
  {@render yes('water_for_all', 'Water for the whole mob at once')}
  {@render yes('power_at_far_end', 'Fence measured at its far end')}
  <p class="font-semibold">2. What for, where, and how you will see it</p>
  <TextField label="What is to change" bind:value={gates.purpose} error={at('purpose')} />
  <TextField label="Where" bind:value={gates.place} error={at('place')} />
  <TextField label="How you will see that it did" bind:value={gates.measure} error={at('measure')} />
  <p class="font-semibold">3. The top third only, and more rest after</p>
  {@render figure('recovery_days', 'More rest after', 'day')}
  <p class="font-semibold">4. Feed all the same</p>
  {@render figure('reserve_feed_days', 'Feed in hand elsewhere', 'day')}
  <p class="font-semibold">5. Density by purpose and hands</p>
  {@render figure('wanted_density_kg_per_ha', 'Wanted density', 'live_kg_ha')}
  {@render figure('moves_a_day', 'Moves a day', 'count')}
  <TextField label="What you do when it is wet" bind:value={gates.wet_plan} error={at('wet_plan')} />
  {#if takes}
    <p>
      As kept: {withUnit(takes.area_per_move_ha, 'ha', house.system)} for each move, {withUnit(
        takes.area_per_day_ha,
        'ha',
        house.system,
      )} a day; its top feeds <Figure
        value={takes.fed_share.value}
        unit="share"
        decimals={0}
        working={takes.fed_share}
        title="How much of what they need a pulse feeds"
      /> of what they need.{takes.fed_share.value < 1 ? ' Feed the rest, or ask for less density.' : ''}
    </p>
  {/if}
</div>
