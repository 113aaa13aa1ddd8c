<script lang="ts">
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { useNutrients } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { now, sayDay } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'
  import CloverDrawing from './CloverDrawing.svelte'
  import ManureForm from './ManureForm.svelte'

  // Clover scored in spring, and the nitrogen that it leaves room for.
  let { farm }: { farm: string } = $props()

  const plan = $derived(address.get('n') === '' ? -1 : Number(address.get('n')))
  const list = useNutrients(
    () => farm,
    () => plan,
  )
  const v = $derived(list.data)
  let scoring = $state('')
  const write = new Write()
  const back = (of: string, id: string) =>
    ask(api.DELETE('/api/farms/{farm}/looks/{id}', { params: { path: { farm: of, id }, header: pressed } }))
  function score(p: Schemas['NutrientRow'], share: number, name: string) {
    const id = write.id()
    const of = farm
    void write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/looks', {
            params: { path: { farm } },
            body: {
              id,
              paddock_id: p.id,
              seen_at: now().toISOString(),
              stage: 'before',
              answers: {},
              ground: { legume_share: share },
              note: 'clover score',
            },
          }),
        ),
      { say: `${p.name}: clover, ${name}.`, undo: () => back(of, id), then: () => (scoring = '') },
    )
  }
</script>

{#if v}
  <div class="nutrients">
    <section aria-label="Clover" class="rounded-xl border border-line bg-surface p-4">
      <div class="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h2>Clover, and the nitrogen it leaves room for</h2>
          <p class="mt-1 max-w-prose">On all ground <Reason reason={v.says} />.</p>
        </div>
        <div class="no-print w-64">
          <NumberField
            label="A year’s nitrogen without clover"
            unit="kg_ha"
            bind:value={() => (plan < 0 ? null : plan), (x) => address.set({ n: x === null ? '' : String(x) })}
            hint="your own plan; nobody guesses it"
          />
        </div>
      </div>
      <table class="mt-3 w-full">
        <thead
          ><tr class="text-left text-sm text-soft"
            ><th class="font-normal">Paddock</th><th class="font-normal">Clover</th><th class="font-normal max-md:hidden"
              >Given this year</th
            ><th class="font-normal">Due now</th></tr
          ></thead
        >
        <tbody>
          {#each v.paddocks as p (p.id)}
            <tr class="border-t border-line align-top">
              <th scope="row" class="py-2 pr-3 print:py-0.5 text-left"
                ><span class="font-semibold">{p.name}</span><span class="block text-sm font-normal text-soft">{p.sward}</span></th
              >
              <td class="py-2 pr-3 print:py-0.5">
                <button
                  type="button"
                  class="flex min-h-12 items-center gap-3 rounded-lg pr-2 text-left hover:bg-tarn-wash print:min-h-0"
                  aria-expanded={scoring === p.id}
                  disabled={!house.may('hand')}
                  onclick={() => (scoring = scoring === p.id ? '' : p.id)}
                  ><span class="print:hidden"><CloverDrawing score={p.score} /></span><span class="sr-only"
                    >Score the clover of {p.name}:</span
                  ><span
                    ><span class="figure font-semibold">{withUnit(p.legume_share, 'share', house.system, 0)}</span><span
                      class="block text-sm text-soft">{p.seen_at ? sayDay(new Date(p.seen_at)) : 'not scored'}</span
                    ></span
                  ></button
                >
              </td>
              <td class="figure py-2 pr-3 print:py-0.5 max-md:hidden"
                >{p.given_kg_ha ? `${withUnit(p.given_kg_ha, 'kg_ha', house.system, 0)}` : 'none'}</td
              >
              <td class="py-2 print:py-0.5">
                {#if p.now_kg_ha !== undefined}<strong class="figure"
                    >{p.now_kg_ha >= 1 ? `${withUnit(p.now_kg_ha, 'kg_ha', house.system, 0)}` : 'none'}</strong
                  >{/if}
                {#if p.given_kg_ha}<span class="block text-sm md:hidden"
                    >{withUnit(p.given_kg_ha, 'kg_ha', house.system, 0)} given this year</span
                  >{/if}
                {#if p.why}<span class="block text-sm text-soft"><Reason reason={p.why} /></span>{/if}
                {#if p.cut_from && p.graze_from}<span class="block text-sm text-now-ink"
                    >after the last dressing: grazed from {sayDay(new Date(p.graze_from))}, cut for silage from {sayDay(
                      new Date(p.cut_from),
                    )}</span
                  >{/if}
              </td>
            </tr>
            {#if scoring === p.id}
              <tr>
                <td colspan="4" class="pb-3">
                  <div class="flex flex-wrap gap-2" role="group" aria-label="Clover on {p.name}">
                    {#each v.scores as s, i (i)}
                      <button
                        type="button"
                        class="flex w-36 flex-col items-center gap-1 rounded-xl border-2 border-line p-2 text-center hover:border-tarn"
                        disabled={write.busy}
                        onclick={() => score(p, s.stand_share, s.name)}
                        ><CloverDrawing score={i} size={72} /><span>{s.name}</span><span class="figure text-sm text-soft"
                          >about {withUnit(s.stand_share, 'share', house.system, 0)}</span
                        ></button
                      >
                    {/each}
                  </div>
                  <p class="mt-2 text-sm text-soft"><Reason reason={p.says} />.</p>
                </td>
              </tr>
            {/if}
          {/each}
        </tbody>
      </table>
      <Refused refusal={write.refusal} />
      {#if v.now_kg !== undefined}<p class="mt-2 border-t border-line pt-2">
          Due now on all ground: <strong class="figure">{withUnit(v.now_kg, 'kg', house.system, 0)}</strong> of nitrogen.
        </p>{/if}
      <p class="mt-2 rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">
        How much nitrogen may be spread, when, and how near water is law in many places, and less than this where it says so: look
        it up. Grass that got some late can poison, as feed and as silage: keep the days above.
      </p>
    </section>
    <ManureForm {farm} />
  </div>
{:else}
  <Loading error={list.error} what="clover and nitrogen" />
{/if}

<style>
  .nutrients {
    display: grid;
    gap: 0.9rem;
    grid-template-columns: minmax(0, 1fr) 24rem;
    align-items: start;
  }
  @media (max-width: 70rem) {
    .nutrients {
      grid-template-columns: minmax(0, 1fr);
    }
  }
  @media print {
    .nutrients {
      display: block;
      zoom: 0.7;
    }
    .nutrients > section {
      break-inside: auto !important;
    }
  }
</style>
