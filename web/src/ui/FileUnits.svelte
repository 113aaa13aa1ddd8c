<script lang="ts">
  import Choice from './Choice.svelte'
  import { house } from './house.svelte'

  // A farm that speaks of inches and pounds gets files in either: which one, only a person knows. Heads that name their unit
  // are believed before this.
  interface Props {
    units: '' | 'metric' | 'imperial'
    metric: string
    imperial: string
    onchange: () => void
  }
  let { units = $bindable(), metric, imperial, onchange }: Props = $props()
</script>

{#if house.system === 'imperial'}
  <Choice
    label="Figures whose column does not say are in"
    bind:value={units}
    options={[
      { value: '', label: 'choose…' },
      { value: 'imperial', label: imperial },
      { value: 'metric', label: metric },
    ]}
    {onchange}
  />
{/if}
