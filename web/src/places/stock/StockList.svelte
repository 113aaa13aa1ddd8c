<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import BadRows from '../../ui/BadRows.svelte'
  import Button from '../../ui/Button.svelte'
  import Columns from '../../ui/Columns.svelte'
  import FilePick from '../../ui/FilePick.svelte'
  import FileUnits from '../../ui/FileUnits.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { number, withUnit } from '../../ui/units'

  let { farm, onclose }: { farm: string; onclose: () => void } = $props()

  let text = $state('')
  let units = $state<'' | 'metric' | 'imperial'>('')
  let list = $state<Schemas['StockListView'] | null>(null)
  const write = new Write()
  const refusal = $derived(write.refusal)

  const read = (columns?: Record<string, number>) =>
    write.send(
      () => ask(api.POST('/api/farms/{farm}/stock/list/read', { params: { path: { farm } }, body: { text, columns, units } })),
      { then: (v) => (list = v) },
    )

  const take = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/stock/list', {
            params: { path: { farm } },
            body: { id: write.id(), text, columns: list!.columns, units, confirmed: write.confirmed },
          }),
        ),
      { say: `${list!.rows.length} ${list!.rows.length === 1 ? 'class' : 'classes'} brought in.`, then: onclose },
    )
</script>

<section class="mb-5 rounded-2xl border border-line bg-surface p-5" aria-label="A stock list">
  <div class="flex flex-wrap items-center gap-3">
    <h2 class="flex-1">A stock list</h2>
    <a
      class="inline-flex min-h-12 items-center rounded-xl border-2 border-tarn px-4 font-semibold text-tarn"
      href="/api/farms/{farm}/stock/list"
      download="stock.csv">Save today's stock as CSV</a
    >
    <Button onclick={onclose}>Close</Button>
  </div>
  {#if house.may('manager')}
    <p class="mt-2 text-soft">
      A CSV with a row for each class: mob, class, head, and live weight if you know it. Classes that are here already are brought
      up to date as of today.
    </p>
    <div class="mt-2">
      <FilePick label="A stock list as CSV" accept=".csv,.txt,text/csv" onread={(t) => ((text = t), void read())} />
    </div>
    {#if list}
      <div class="mt-3 flex flex-col gap-3">
        <FileUnits bind:units metric="kilograms" imperial="pounds" onchange={() => read(list!.columns)} />
        <Columns
          heads={list.heads}
          columns={list.columns}
          fields={[
            { key: 'mob', label: 'Mob' },
            { key: 'class', label: 'Class', needed: true },
            { key: 'head', label: 'Animals', needed: true },
            { key: 'name', label: 'Name' },
            { key: 'weight', label: 'Live weight, kg' },
            { key: 'share', label: 'Eats a day, % of weight' },
          ]}
          onchange={(c) => read(c)}
        />
        {#if list.rows.length}
          <table class="w-full text-[15px]">
            <thead class="text-left text-sm text-soft"
              ><tr
                ><th class="font-normal">Mob</th><th class="font-normal">Class</th><th class="text-right font-normal">Head</th><th
                  class="text-right font-normal">Weight</th
                ><th class="pl-4 font-normal"></th></tr
              ></thead
            >
            <tbody>
              {#each list.rows as r (r.row)}
                <tr class="border-t border-line"
                  ><td class="py-1.5">{r.mob}</td><td>{r.class.name}</td><td class="text-right"
                    >{number(r.class.count, 'head', house.system)}</td
                  ><td class="text-right">{withUnit(r.class.live_weight_kg, 'kg', house.system)}</td><td
                    class="pl-4 text-sm {r.remark ? 'text-now-ink' : 'text-soft'}"
                    >{r.remark || (r.known ? 'brought up to date' : 'new')}</td
                  ></tr
                >
              {/each}
            </tbody>
          </table>
        {/if}
        <BadRows rows={list.bad} />
        <Refused {refusal} bind:confirmed={write.confirmed} />
        <div>
          <Button kind="main" disabled={!list.rows.length} onclick={take}
            >Take in {number(list.head, 'head', house.system)} head in {list.mobs} mob{list.mobs === 1 ? '' : 's'}</Button
          >
        </div>
      </div>
    {:else}<Refused {refusal} />{/if}
  {/if}
</section>
