<script lang="ts">
  import { createQuery } from '@tanstack/svelte-query'
  import { api, ask } from '../../api/client'
  import { clock, sayDay } from '../../ui/time.svelte'

  // Who came and went, which devices may send, what was taken away for good: for the farm's owners.
  let { farm }: { farm: string } = $props()
  const trail = createQuery(() => ({
    queryKey: ['audit', farm],
    queryFn: () => ask(api.GET('/api/farms/{farm}/audit', { params: { path: { farm } } })),
  }))
  $effect.pre(() => void trail.data)
</script>

{#if trail.data?.length}
  <section class="mt-6 rounded-2xl border border-line bg-surface p-6" aria-label="Who came and went">
    <h2 class="mb-3">Who came and went</h2>
    <ul class="divide-y divide-line">
      {#each trail.data as line (line.id)}
        <li class="flex min-h-10 flex-wrap items-center gap-x-4 py-1">
          <span class="w-60 whitespace-nowrap text-soft">{sayDay(new Date(line.at))}, {clock(new Date(line.at))}</span>
          <span class="flex-1">{line.what}{line.about ? `: ${line.about}` : ''}</span>
          <span class="text-soft">{line.by || 'the farm itself'}</span>
        </li>
      {/each}
    </ul>
  </section>
{/if}
