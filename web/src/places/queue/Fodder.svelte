<script lang="ts">
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now, sayDay } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'

  // The fodder store: what cuts brought home and what was bought, less what was fed, sold and lost.
  let { farm, fodder }: { farm: string; fodder: Schemas['FodderView'] } = $props()

  type Kind = 'bought' | 'sold' | 'fed' | 'lost' | 'counted'
  const words: Record<string, string> = {
    cut: 'Cut',
    bought: 'Bought',
    sold: 'Sold',
    fed: 'Fed',
    lost: 'Spoiled or lost',
    counted: 'Counted',
  }
  let kind = $state<Kind>('fed')
  let on = $state(isoDay(now()))
  let what = $state('')
  let bales = $state<number | null>(null)
  let weighs = $state<number | null>(null)
  let dry = $state<number | null>(null)
  let kg = $state<number | null>(null)
  let all = $state(false)
  const write = new Write()
  const year = isoDay(now()).slice(0, 4)
  const day = (on: string) => sayDay(new Date(on + 'T12:00')) + (on.startsWith(year) ? '' : ` ${on.slice(0, 4)}`)
  const rows = $derived(all ? fodder.rows : fodder.rows.slice(0, 6))

  async function keep() {
    const id = write.id()
    const of = farm
    await write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/fodder', {
            params: { path: { farm } },
            body: {
              id,
              kind,
              on_day: on,
              what: what || undefined,
              bales: bales ?? undefined,
              bale_kg: weighs ?? undefined,
              dry_matter_share: dry ?? undefined,
              harvest_kg_dm: kg ?? undefined,
              confirmed: write.confirmed,
            },
          }),
        ),
      {
        say: 'Written into the book of the fodder store.',
        undo: () => back(of, id),
        then: () => {
          bales = kg = null
          what = ''
        },
      },
    )
  }
  const back = (of: string, id: string) =>
    ask(api.DELETE('/api/farms/{farm}/fodder/{id}', { params: { path: { farm: of, id }, header: pressed } }))
  const taking = new Write()
</script>

<section class="no-print mt-6 border-t border-line pt-3" aria-label="Fodder store">
  <h2>
    Fodder store <span class="figure text-ink">{withUnit(fodder.holds_kg_dm, 'kg', house.system, 0)}</span>
    <span class="text-base font-normal text-soft">dry matter, by what was written down</span>
  </h2>
  {#if fodder.holds_kg_dm < 0}<p class="text-now-ink">More went out than is known to have come in: count what is there.</p>{/if}
  {#if fodder.unweighed}<p class="text-soft">
      {fodder.unweighed === 1 ? 'One cut that nobody weighed is' : `${fodder.unweighed} cuts that nobody weighed are`} not in it.
    </p>{/if}
  {#if rows.length}
    <ul class="mt-1 grid gap-x-8 md:grid-cols-2">
      {#each rows as r (r.id)}
        <li class="flex min-h-12 items-center gap-3 border-b border-line">
          <span class="flex flex-1 gap-3 max-md:flex-col max-md:gap-0">
            <span class="w-32 shrink-0 text-soft max-md:w-auto">{day(r.on_day)}</span>
            <span
              >{words[r.kind]}{r.paddock_name ? ` · ${r.paddock_name}` : ''}{r.what ? ` · ${r.what}` : ''}{r.bales !== null
                ? ` · ${withUnit(r.bales, 'count', house.system, 0)} bales`
                : ''}</span
            >
          </span>
          <span class="figure font-semibold"
            >{r.kg_dm === null ? 'not weighed' : `${withUnit(r.kg_dm, 'kg', house.system, 0)}`}</span
          >
          {#if r.kind !== 'cut' && house.may('manager')}
            <button
              type="button"
              class="grid size-12 shrink-0 place-items-center text-soft hover:text-stop"
              aria-label="Take back: {words[r.kind]}, {day(r.on_day)}"
              onclick={() => void taking.send(() => back(farm, r.id), { say: 'Taken back.' })}
              ><Icon name="close" size={20} /></button
            >
          {/if}
        </li>
      {/each}
    </ul>
    {#if fodder.rows.length > 6}<Button kind="quiet" onclick={() => (all = !all)}
        >{all ? 'Only the latest' : `All ${fodder.rows.length} lines`}</Button
      >{/if}
  {:else}
    <p class="text-soft">Nothing yet: a cut that was weighed comes in by itself; what was bought is written here.</p>
  {/if}
  <Refused refusal={taking.refusal} />
  {#if house.may('manager')}
    <details>
      <summary class="min-h-12 py-2.5 font-semibold text-tarn">Write a line: bought, fed, sold, lost, counted</summary>
      <form class="flex max-w-3xl flex-col gap-3 pt-1" onsubmit={(e) => (e.preventDefault(), void keep())}>
        <div class="grid gap-3 md:grid-cols-3">
          <Choice
            label="What happened"
            bind:value={kind}
            options={(['fed', 'bought', 'sold', 'lost', 'counted'] as const).map((k) => ({ value: k, label: words[k]! }))}
          />
          <TextField label="On" type="date" bind:value={on} error={write.at('on_day')} />
          <TextField label="What it is" bind:value={what} hint="such as hay, silage" error={write.at('what')} />
        </div>
        <div class="grid items-start gap-3 md:grid-cols-4">
          <NumberField label="Bales" bind:value={bales} error={write.at('bales')} />
          <NumberField label="One weighs" unit="kg" bind:value={weighs} hint="weighed, not guessed" error={write.at('bale_kg')} />
          <NumberField label="Dry matter of it" unit="share" bind:value={dry} error={write.at('dry_matter_share')} />
          <NumberField label="or dry matter, in all" unit="kg" bind:value={kg} error={write.at('harvest_kg_dm')} />
        </div>
        <Refused
          refusal={write.refusal}
          bind:confirmed={write.confirmed}
          shown={['on_day', 'what', 'bales', 'bale_kg', 'dry_matter_share', 'harvest_kg_dm']}
        />
        <div><Button type="submit" disabled={write.busy}>Write it down</Button></div>
      </form>
    </details>
  {/if}
</section>
