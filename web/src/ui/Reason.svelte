<script lang="ts">
  import type { Schemas } from '../api/client'
  import { house } from './house.svelte'
  import { withUnit } from './units'

  let { reason }: { reason: Schemas['Reason'] } = $props()

  const text = $derived(
    reason.text.replace(/\{([^}]+)\}/g, (whole, symbol: string) => {
      const f = reason.figures.find((t) => t.symbol === symbol)
      return f ? withUnit(f.value, f.unit, house.system) : whole
    }),
  )
</script>

{text}
