<script lang="ts">
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { useScenarios } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { money } from '../../ui/money'
  import Refused from '../../ui/Refused.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { number, withUnit } from '../../ui/units'

  // Scenarios side by side, for a table of people: months, money, risk, labour, head.
  interface Props {
    farm: string
    months: number
    onput: (cards: Schemas['Option'][]) => void
  }
  let { farm, months, onput }: Props = $props()

  type Scenario = Schemas['ScenarioView']
  const chosen = $derived(address.get('beside').split('.').filter(Boolean))
  const list = useScenarios(
    () => farm,
    () => months,
    () => chosen,
  )
  const shown = $derived((list.data?.scenarios ?? []).filter((s) => s.beside))
  const kept = $derived((list.data?.scenarios ?? []).filter((s) => s.id))
  const most = $derived(Math.max(1, ...shown.flatMap((s) => s.months.map((m) => m.missing_kg_dm))))
  const write = new Write()
  let room: HTMLElement
  const zone = $derived(house.farm?.time_zone)
  const initial = (at: string) => new Date(at).toLocaleDateString('en', { month: 'short', timeZone: zone }).slice(0, 1)
  const named = (at: string) => new Date(at).toLocaleDateString('en', { month: 'long', year: 'numeric', timeZone: zone })
  const heap = (kg: number) => withUnit(kg, 'kg_fodder', house.system)
  const query = $derived([`months=${months}`, ...chosen.map((id) => `ids=${id}`)].join('&'))
  const toggle = (id: string) => {
    const now = shown.map((s) => s.id).filter(Boolean)
    const next = now.includes(id) ? now.filter((x) => x !== id) : [...now, id]
    address.show({ beside: next.slice(-5).join('.') || '-' })
  }
  const put = (of: string, id: string) =>
    ask(api.POST('/api/farms/{farm}/year/scenarios/{id}/return', { params: { path: { farm: of, id }, header: pressed } }))
  function drop(s: Scenario) {
    const of = farm
    void write.send(
      () => ask(api.DELETE('/api/farms/{farm}/year/scenarios/{id}', { params: { path: { farm, id: s.id }, header: pressed } })),
      { say: `Taken off the list: ${s.name}.`, undo: () => put(of, s.id) },
    )
  }
  const worst = (s: Scenario) =>
    s.months
      .filter((m) => m.hungry)
      .map((m) => named(m.from))
      .join(', ')
</script>

<section class="beside" aria-label="Side by side" bind:this={room}>
  {#if list.data}
    {#if kept.length > 1}
      <div class="no-print mb-3 flex flex-wrap gap-2" role="group" aria-label="Shown side by side">
        {#each kept as s (s.id)}
          <button
            type="button"
            aria-pressed={s.beside}
            class="min-h-12 rounded-xl border-2 px-3 {s.beside
              ? 'border-tarn bg-tarn-wash font-semibold text-tarn'
              : 'border-line bg-surface text-soft hover:border-tarn'}"
            onclick={() => toggle(s.id)}>{s.name}</button
          >
        {/each}
      </div>
    {/if}
    <div class="columns" style:--n={shown.length}>
      {#each shown as s (s.id)}
        <article class="flex min-w-0 flex-col gap-3 rounded-xl border border-line bg-surface p-4" aria-label={s.name}>
          <header>
            <h3 class="text-lg">{s.name}</h3>
            {#if s.reason}<p class="text-[15px]">“{s.reason}”</p>{/if}
            {#if s.made_at}<p class="text-sm text-soft">{s.by}, {sayDay(new Date(s.made_at))}</p>
            {:else}<p class="text-sm text-soft">What comes if nobody does anything</p>{/if}
          </header>
          {#if s.wrong}
            <p class="rounded-xl bg-now-wash p-3 text-now-ink">It cannot be worked out any more: {s.wrong}.</p>
          {:else}
            <div>
              <span class="figure text-3xl font-bold {s.short_chance >= 0.45 ? 'text-stop' : ''}"
                >{number(s.short_chance * 10, 'count', house.system, 0)}</span
              >
              <span class="text-soft">of 10 years fall short</span>
            </div>
            <svg
              viewBox="0 0 {s.months.length * 10} 46"
              class="h-14 w-full"
              preserveAspectRatio="none"
              role="img"
              aria-label="Missing: {worst(s) || 'in no month'}"
            >
              {#each s.months as m, i (m.from)}
                <rect
                  x={i * 10 + 1}
                  y={46 - Math.max(1.5, (44 * m.missing_kg_dm) / most)}
                  width="8"
                  height={Math.max(1.5, (44 * m.missing_kg_dm) / most)}
                  fill={m.hungry ? 'var(--stop)' : 'var(--feed-3)'}
                />
              {/each}
            </svg>
            <div
              class="-mt-2 grid text-center text-xs text-soft"
              style:grid-template-columns="repeat({s.months.length}, 1fr)"
              aria-hidden="true"
            >
              {#each s.months as m, i (m.from)}<span>{months === 12 || i % 3 === 0 ? initial(m.from) : ''}</span>{/each}
            </div>
            <dl class="grid grid-cols-[1fr_auto] gap-x-3 gap-y-1">
              <dt>Missing</dt>
              <dd class="figure text-right font-bold">{heap(s.missing_kg_dm)}</dd>
              <dt class="text-soft">in a poor year</dt>
              <dd class="figure text-right">{heap(s.missing_high_kg_dm)}</dd>
              <dt>{s.cost < 0 ? 'Brings in' : 'Costs'}</dt>
              <dd class="figure text-right font-bold">
                {s.unpriced ? (s.cost ? `${money(Math.abs(s.cost))} and more` : 'not said') : money(Math.abs(s.cost))}
              </dd>
              <dt>Work</dt>
              <dd class="figure text-right">
                {s.hours ? `${number(s.hours, '', house.system, 0)} h` : s.id ? 'not said' : 'none'}
              </dd>
              <dt>Head carried</dt>
              <dd class="figure text-right">{number(s.head, 'head', house.system, 0)}</dd>
              <dt>Left at the end</dt>
              <dd class="figure text-right">{heap(s.carried_kg_dm)}</dd>
            </dl>
          {/if}
          {#if s.cards.length || s.gone.length}
            <ul class="border-t border-line pt-2 text-[15px]">
              {#each s.cards as c, i (i)}<li><Reason reason={c} /></li>{/each}
              {#each s.gone as c, i (i)}<li class="text-soft">past, or no more there: <Reason reason={c} /></li>{/each}
            </ul>
          {/if}
          {#if s.id}
            <div class="no-print mt-auto flex flex-wrap gap-2">
              <Button onclick={() => onput(s.options)} label="Put its cards down: {s.name}">Put its cards down</Button>
              {#if house.may('manager')}<Button kind="quiet" onclick={() => drop(s)} label="Take off the list: {s.name}"
                  >Take off the list</Button
                >{/if}
            </div>
          {/if}
        </article>
      {/each}
    </div>
    <Refused refusal={write.refusal} />
    {#if !kept.length}<p class="mt-3">
        Put cards down under <em>What if?</em> and keep them: they stand here beside doing nothing.
      </p>{/if}
    <div class="no-print mt-4 flex flex-wrap items-center gap-x-5 gap-y-2">
      <Button kind="quiet" onclick={() => void room.requestFullscreen?.()}>Fill the screen</Button>
      <Button kind="quiet" onclick={() => window.print()}>Print one sheet</Button>
      <a
        class="grid min-h-12 items-center font-semibold text-tarn underline-offset-4 hover:underline"
        href="/api/farms/{farm}/year/scenarios/table?{query}"
        download="scenarios.xlsx">As a workbook (XLSX)</a
      >
    </div>
    <p class="mt-1 text-sm text-soft">
      Each from today on, over the same {number(200, 'count', house.system)} years’ weather. Cost is your own prices; work, the hours
      you said.
    </p>
  {:else}
    <Loading error={list.error} what="what was thought through" />
  {/if}
</section>

<style>
  .columns {
    display: grid;
    gap: 0.9rem;
    grid-template-columns: repeat(auto-fit, minmax(15rem, 1fr));
  }
  .beside:fullscreen {
    overflow-y: auto;
    padding: 2rem;
    background: var(--page);
    font-size: 1.15em;
  }
  @media print {
    .columns {
      grid-template-columns: repeat(var(--n), 1fr);
      gap: 0.4rem;
      font-size: 0.8em;
    }
    .columns article {
      padding: 0.5rem;
    }
  }
</style>
