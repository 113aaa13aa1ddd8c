<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { house } from '../../ui/house.svelte'
  import { withUnit } from '../../ui/units'

  let { sum, out, skip }: { sum: Schemas['Sum']; out: Record<string, unknown>; skip: string } = $props()

  const rest = $derived(sum.answers.filter((f) => f.key !== skip && out[f.key] !== undefined && out[f.key] !== null))

  function say(f: Schemas['Field'], v: unknown): string {
    if (typeof v === 'number') return withUnit(v, f.unit, house.system)
    if (typeof v === 'boolean') return v ? 'yes' : 'no'
    if (Array.isArray(v)) return v.length ? v.join(', ') : 'none'
    return String(v)
  }
</script>

{#if rest.length}
  <dl class="mt-3 divide-y divide-line border-t border-line">
    {#each rest as f (f.key)}
      {#if f.type === 'groups'}
        <div class="py-2">
          <dt class="text-soft">{f.label}</dt>
          <dd class="overflow-x-auto">
            <table class="mt-1 w-full text-sm">
              <thead class="text-left text-soft">
                <tr
                  >{#each f.fields ?? [] as g (g.key)}<th class="py-1 pr-3 font-normal">{g.label}</th>{/each}</tr
                >
              </thead>
              <tbody>
                {#each out[f.key] as Record<string, unknown>[] as row, i (i)}
                  <tr class="border-t border-line"
                    >{#each f.fields ?? [] as g (g.key)}<td class="py-1 pr-3 whitespace-nowrap">{say(g, row[g.key])}</td
                      >{/each}</tr
                  >
                {/each}
              </tbody>
            </table>
          </dd>
        </div>
      {:else}
        <div class="flex items-baseline justify-between gap-4 py-2">
          <dt class="text-soft">{f.label}</dt>
          <dd class="figure">{say(f, out[f.key])}</dd>
        </div>
      {/if}
    {/each}
  </dl>
{/if}
