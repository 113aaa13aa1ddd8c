<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { useReference } from '../../api/queries.svelte'
  import Choice from '../../ui/Choice.svelte'

  // The usual weight and appetite of a kind of animal, to begin from.
  let { onchoose }: { onchoose: (kind: Schemas['StockClass']) => void } = $props()

  const reference = useReference()
  let chosen = $state('')
  const kinds = $derived(reference.data?.classes ?? [])
</script>

<Choice
  label="Kind of animal, for its usual weight and appetite"
  bind:value={chosen}
  options={[{ value: '', label: 'choose…' }, ...kinds.map((k) => ({ value: k.id, label: k.name }))]}
  onchange={(id) => {
    const kind = kinds.find((k) => k.id === id)
    if (kind) onchoose(kind)
  }}
/>
