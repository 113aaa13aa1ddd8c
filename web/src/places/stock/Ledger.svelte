<script lang="ts">
  import type { Schemas } from '../../api/client'

  let { rows }: { rows: Schemas['LedgerRow'][] } = $props()
  const columns = [
    ['opening', 'Opening'],
    ['born', 'Born'],
    ['bought', 'Bought'],
    ['moved_in', 'In'],
    ['moved_out', 'Out'],
    ['sold', 'Sold'],
    ['died', 'Died'],
    ['found', 'Corrected by counting'],
    ['closing', 'Closing'],
  ] as const
  const minus = new Set(['moved_out', 'sold', 'died'])
  const say = (key: string, v: number) =>
    v === 0 ? '–' : minus.has(key) ? `−${v}` : key === 'opening' || key === 'closing' ? v : v > 0 ? `+${v}` : `−${-v}`
</script>

<section class="rounded-2xl border border-line bg-surface p-5">
  <h2>Head, over the year</h2>
  <p class="text-sm text-soft">Planned events are counted in. First descriptions stand under “counted ±”.</p>
  <div class="overflow-x-auto">
    <table class="mt-2 w-full text-right">
      <thead class="text-sm text-soft"
        ><tr
          ><th class="text-left font-normal">Mob</th>{#each columns as [key, label] (key)}<th class="pl-3 font-normal">{label}</th
            >{/each}</tr
        ></thead
      >
      <tbody>
        {#each rows as r (r.mob_id)}
          <tr class="border-t border-line {r.mob_id === 'all' ? 'font-bold' : ''}">
            <td class="py-1.5 text-left">{r.name}</td>
            {#each columns as [key] (key)}<td class="pl-3 {key === 'closing' ? 'font-bold' : ''}">{say(key, r[key])}</td>{/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
</section>
