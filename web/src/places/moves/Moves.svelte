<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, type Schemas } from '../../api/client'
  import { queries, useMobs, usePlan } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Frame from '../../ui/Frame.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { clock, dayMonth, sayDay, shortDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Verdict from '../../ui/Verdict.svelte'
  import PlanForm from './PlanForm.svelte'
  import Ridges from './Ridges.svelte'
  import VisitPanel from './VisitPanel.svelte'

  type Visit = Schemas['VisitView']

  let { params }: { params: { farm: string } } = $props()

  const plan = usePlan(() => params.farm)
  const mobs = useMobs(() => params.farm)
  let selected = $state.raw<Visit | null>(null)
  let editing = $state(false)
  let view = $state<'ridges' | 'list'>('ridges')
  const write = new Write()
  const refusal = $derived(write.refusal)

  const data = $derived(plan.data)
  const walked = $derived(data?.rows.some((r) => r.mass.measured_at) ?? false)
  const grouped = $derived.by(() => {
    const seen = new Map<string, Schemas['CheckView'] & { times: number }>()
    for (const c of data?.checks ?? []) {
      const key = c.rule + c.mob_id
      const before = seen.get(key)
      if (before) before.times++
      else seen.set(key, { ...c, times: 1 })
    }
    return [...seen.values()]
  })

  // After a change the same visit stays chosen, wherever it went.
  $effect(() => {
    if (!selected || !data) return
    const now = data.visits.find((v) => same(v, selected!))
    if (now !== selected) selected = now ?? null
  })
  const same = (a: Visit, b: Visit) =>
    a.mob_id === b.mob_id &&
    (a.pin_id
      ? a.pin_id === b.pin_id || a.enter_at === b.enter_at
      : Date.parse(a.enter_at) === Date.parse(b.enter_at) && a.paddock_id === b.paddock_id)

  const pin = (visit: Visit, to: { paddock?: string; enter?: Date; leave?: Date | null }) => {
    const id = write.id()
    const enter = to.enter ?? new Date(visit.enter_at)
    return write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/pins', {
            params: { path: { farm: params.farm } },
            body: {
              id,
              mob_id: visit.mob_id,
              paddock_id: to.paddock ?? visit.paddock_id,
              enter_at: enter.toISOString(),
              leave_at: to.leave ? to.leave.toISOString() : undefined,
              instead_of: visit.pin_id || undefined,
            },
          }),
        ),
      {
        then: (next) => {
          queries.setQueryData(['plan', params.farm], next)
          selected = next.visits.find((v) => v.pin_id === id) ?? null
        },
        say: (next) => {
          const name = next.rows.find((r) => r.paddock_id === (to.paddock ?? visit.paddock_id))?.name ?? ''
          return `Pinned: ${name}, ${sayDay(enter)} ${clock(enter)}. Everything after it was worked out anew.`
        },
        undo: () => unpinned(id),
      },
    )
  }

  const unpinned = (id: string) => ask(api.DELETE('/api/farms/{farm}/pins/{id}', { params: { path: { farm: params.farm, id } } }))

  const unpin = (visit: Visit) =>
    write.send(() => unpinned(visit.pin_id), {
      say: `${visit.paddock_name} is free to move again.`,
      then: () => (selected = null),
    })

  const accept = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/plan/{id}/accept', {
            params: { path: { farm: params.farm, id: data!.plan!.id } },
            body: { id: write.id() },
          }),
        ),
      { say: 'The plan is kept as it stands today.' },
    )

  const school = (mob: string) => data?.plan?.mobs.find((m) => m.mob_id === mob)?.school.name ?? ''
</script>

<Frame farm={params.farm} current="moves">
  {#if data && mobs.data}
    <div class="flex min-h-0 flex-1 max-md:flex-col">
      <div class="flex min-h-0 min-w-0 flex-1 flex-col">
        <div class="flex items-center gap-x-4 px-5 py-3 max-lg:flex-wrap">
          <h1>Moves</h1>
          {#if data.plan}
            <div class="flex rounded-xl bg-sunken p-1" role="group" aria-label="View">
              {#each ['ridges', 'list'] as const as v (v)}
                <button
                  type="button"
                  class="min-h-9 rounded-lg px-4 capitalize {view === v ? 'bg-surface font-bold shadow-sm' : 'text-soft'}"
                  aria-pressed={view === v}
                  onclick={() => (view = v)}>{v}</button
                >
              {/each}
            </div>
            <p class="min-w-0 flex-1 truncate text-soft max-lg:hidden">
              {#each mobs.data.filter((m) => school(m.id)) as m, i (m.id)}{i ? ' · ' : ''}{m.letter}
                {school(m.id).toLowerCase()}{/each}
            </p>
            <span class="ml-auto flex shrink-0 gap-2">
              {#if house.may('manager')}
                <Button kind="quiet" onclick={() => ((editing = !editing), (selected = null))}>Rules</Button>
                <Button onclick={accept} title="Keep this plan, to hold against what is done"
                  >{data.plan.accepted_at ? 'Keep again' : 'Keep this plan'}</Button
                >
              {/if}
            </span>
          {/if}
        </div>
        {#if !mobs.data.length || !data.rows.length}
          <Empty title="Moves need land and stock">
            Draw a field, make a mob, then plan a fortnight of moves here.
            {#snippet action()}<Button
                kind="main"
                onclick={() => void push(`/f/${params.farm}/${data.rows.length ? 'stock' : 'land'}`)}
                >{data.rows.length ? 'Make a mob' : 'Draw a field'}</Button
              >{/snippet}
          </Empty>
        {:else if !data.plan}
          <Empty title="No plan yet">
            Pick a school and a start day: Fjell says which paddock when, and why. {walked
              ? ''
              : 'Nobody has walked the paddocks: the plan would rest on guesses, ± 40 %.'}
            {#snippet action()}{#if house.may('manager')}<Button kind="main" onclick={() => (editing = true)}
                  >Plan the moves</Button
                >{/if}{/snippet}
          </Empty>
        {:else if view === 'ridges'}
          <Ridges
            plan={data}
            mobs={mobs.data}
            {selected}
            movable={house.may('manager')}
            onselect={(v) => ((selected = v), (editing = false), (house.working = null), (write.refusal = null))}
            onmove={(v, paddock, enter) => void pin(v, { paddock, enter })}
          />
        {:else}
          <div class="plain-scroll flex-1 px-5 pb-5">
            <table class="w-full rounded-2xl border border-line bg-surface text-sm">
              <thead class="sticky top-0 bg-surface text-left text-sm text-soft">
                <tr
                  >{#each ['Mob', 'Paddock', 'In', 'Out', 'Stay', 'Rest before', 'In → out', 'Feed / needed'] as h (h)}<th
                      class="px-2 py-3 font-normal whitespace-nowrap">{h}</th
                    >{/each}</tr
                >
              </thead>
              <tbody>
                {#each data.visits.filter((v) => v.kind !== 'past') as v, i (i)}
                  {@const m = mobs.data.find((x) => x.id === v.mob_id)}
                  <tr class="border-t border-line {selected && same(selected, v) ? 'bg-tarn-wash' : ''}">
                    <td class="px-2 py-1"
                      >{#if m}<Glyph glyph={m.glyph} letter={m.letter} size={24} />{/if}</td
                    >
                    <td class="px-2"
                      ><button
                        type="button"
                        class="min-h-10 font-semibold text-tarn underline underline-offset-4"
                        onclick={() => (selected = v)}>{v.paddock_name}</button
                      >{v.pin_id ? ' · pinned' : ''}</td
                    >
                    <td class="px-2 whitespace-nowrap">{shortDay(new Date(v.enter_at))} {clock(new Date(v.enter_at))}</td>
                    <td class="px-2 whitespace-nowrap">{dayMonth(new Date(v.leave_at))} {clock(new Date(v.leave_at))}</td>
                    <td class="px-2">{withUnit(v.stay_days, 'day', house.system)}</td>
                    <td class="px-2">{v.rest_days === null ? 'unknown' : withUnit(v.rest_days, 'day', house.system, 0)}</td>
                    <td class="px-2 whitespace-nowrap"
                      >{number(v.mass_in_kg_dm_ha, 'kg_ha', house.system)} → {number(
                        v.mass_out_kg_dm_ha,
                        'kg_ha',
                        house.system,
                      )}</td
                    >
                    <td class="px-2 whitespace-nowrap {v.short_kg_dm > 1 ? 'font-bold text-stop' : ''}"
                      >{number(v.feed_kg_dm, 'kg', house.system)} / {number(v.demand_kg_dm, 'kg', house.system)}</td
                    >
                  </tr>
                {/each}
              </tbody>
            </table>
          </div>
        {/if}
      </div>
      {#if editing || selected || house.working || data.plan}
        <Shoulder label="Moves">
          {#if editing}
            <PlanForm farm={params.farm} plan={data} mobs={mobs.data} onclose={() => (editing = false)} />
          {:else if selected}
            <VisitPanel
              visit={selected}
              plan={data}
              mobs={mobs.data}
              movable={house.may('manager')}
              {refusal}
              onpin={pin}
              onunpin={unpin}
              onclose={() => (selected = null)}
            />
          {:else}
            <h2>Where the plan bends its own rules</h2>
            {#each grouped as c (c.rule + c.mob_id)}
              {@const m = mobs.data.find((x) => x.id === c.mob_id)}
              {@const row = data.rows.find((r) => r.paddock_id === c.paddock_id)}
              <button
                type="button"
                class="flex gap-2.5 border-b border-line pb-3 text-left hover:text-tarn"
                onclick={() =>
                  (selected =
                    data.visits.find(
                      (v) =>
                        v.paddock_id === c.paddock_id &&
                        v.mob_id === c.mob_id &&
                        Math.abs(Date.parse(v.enter_at) - Date.parse(c.at)) < 5 * 86_400_000 &&
                        v.kind !== 'past',
                    ) ?? null)}
              >
                <span class="pt-1"><Verdict state={c.severity} word={false} size={18} /></span>
                <span
                  ><strong>{row?.name ?? m?.name}</strong>, {sayDay(new Date(c.at))}: <Reason reason={c.reason} />{c.times > 1
                    ? `; ${c.times - 1} more like it`
                    : ''}</span
                >
              </button>
            {:else}
              <p class="text-soft">Nothing: feed, rest, stays and residuals all hold to the end of the plan.</p>
            {/each}
            <p class="text-sm text-soft">
              Pick a bite to see why it is there. Drag it to another day or row, or use the arrow keys: everything after it is
              worked out anew.
            </p>
            <p class="text-sm text-soft">
              Growth comes from each sward's curve; without weather, moisture and warmth count as normal and leaf stage does not
              bind.
            </p>
          {/if}
        </Shoulder>
      {/if}
    </div>
  {:else}
    <Loading error={plan.error ?? mobs.error} what="the moves" />
  {/if}
</Frame>
