<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { useReference } from '../../api/queries.svelte'
  import Choice from '../../ui/Choice.svelte'

  // How thick a kind of grass stands and how high it is left, to begin from.
  let { onchoose }: { onchoose: (grass: Schemas['Sward']) => void } = $props()

  const reference = useReference()
  let chosen = $state('')
  const swards = $derived(reference.data?.swards ?? [])
</script>

<Choice
  label="What grows there"
  bind:value={chosen}
  options={[{ value: '', label: 'choose…' }, ...swards.map((s) => ({ value: s.id, label: s.name }))]}
  onchange={(id) => {
    const grass = swards.find((s) => s.id === id)
    if (grass) onchoose(grass)
  }}
/>
