<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { house } from '../../ui/house.svelte'
  import { withUnit } from '../../ui/units'

  // One bar for what becomes of it: eaten, left, lost, carried on.
  let { year }: { year: Schemas['BudgetSum'] } = $props()
  const parts = $derived(
    (
      [
        ['eaten', year.swallowed_kg_dm, 'var(--feed-3)'],
        ['left, trodden or fouled', year.left_kg_dm, 'var(--feed-1)'],
        ['died, or lost on the way', year.lost_kg_dm, 'var(--feed-0)'],
        ['stands or lies in store', year.carried_kg_dm, 'var(--tarn)'],
      ] as const
    ).filter(([, kg]) => kg > 0),
  )
  const all = $derived(parts.reduce((sum, [, kg]) => sum + kg, 0))
</script>

<div class="mt-1 flex h-6 overflow-hidden rounded-md" aria-hidden="true">
  {#each parts as [what, kg, fill] (what)}<div style:width="{(100 * kg) / all}%" style:background={fill}></div>{/each}
</div>
<ul class="mt-1 flex flex-wrap gap-x-6 gap-y-1">
  {#each parts as [what, kg, fill] (what)}
    <li class="flex items-center gap-2">
      <span class="inline-block size-3.5 rounded-sm" style:background={fill}></span>
      <span><strong class="figure">{withUnit(kg, 'kg_fodder', house.system)}</strong> {what}</span>
    </li>
  {/each}
</ul>
