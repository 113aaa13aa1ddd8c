<script lang="ts">
  import { onDestroy } from 'svelte'
  import { push } from 'svelte-spa-router'
  import { api, ask, pressed, type Schemas } from '../../api/client'
  import { queries, useMobs, usePlan } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { paper, phone } from '../../ui/media.svelte'
  import Panel from '../../ui/Panel.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { clock, sayDay } from '../../ui/time.svelte'
  import Verdict from '../../ui/Verdict.svelte'
  import GradePanel from './GradePanel.svelte'
  import MoveList from './MoveList.svelte'
  import MovingForm from './MovingForm.svelte'
  import PlanForm from './PlanForm.svelte'
  import Ridges from './Ridges.svelte'
  import { Search } from './search.svelte'
  import SearchLine from './SearchLine.svelte'
  import VisitPanel from './VisitPanel.svelte'

  type Visit = Schemas['VisitView']

  let { params }: { params: { farm: string } } = $props()

  const plan = usePlan(() => params.farm)
  const mobs = useMobs(() => params.farm)
  const hands = $derived(house.farm?.role === 'hand') // to whom it is the sheet of what is to be done
  const view = $derived(paper.current || hands ? 'list' : address.get('as') || (phone.current ? 'list' : 'ridges'))
  const editing = $derived(address.get('do') === 'rules')
  const grading = $derived(address.get('do') === 'grade')
  const selected = $derived(plan.data?.visits.find((v) => nameOf(v) === address.get('visit')) ?? null)
  const write = new Write()
  const search = new Search()
  /** Looks for a better plan; how good it was is told anew when it is asked for. */
  const look = () => {
    address.show({ do: '' })
    void search.start(params.farm)
  }
  onDestroy(() => search.stop()) // what it found so far is the plan
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

  /** What a visit is called in the address: its pin, wherever that is put, or who goes where and when. */
  const nameOf = (v: Visit) => v.pin_id || `${v.mob_id}.${v.paddock_id}.${Date.parse(v.enter_at)}`
  const choose = (v: Visit | null | undefined) => {
    address.show({ visit: v ? nameOf(v) : '', do: '' })
    house.working = null
    write.refusal = null
  }

  /** Sends a write; what it is refused for stands beside the stay it is about, or else at the foot of the page. */
  const send: typeof write.send = async (work, after) => {
    const went = await write.send(work, after)
    if (!went && !selected && write.refusal) house.say(write.refusal.message)
    return went
  }

  const pin = (visit: Visit, to: { paddock?: string; enter?: Date; leave?: Date | null }) => {
    const id = write.id('pin')
    const enter = to.enter ?? new Date(visit.enter_at)
    return send(
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
          address.set({ visit: id })
        },
        say: (next) => {
          const name = next.rows.find((r) => r.paddock_id === (to.paddock ?? visit.paddock_id))?.name ?? ''
          return `Fixed: ${name}, ${sayDay(enter)} ${clock(enter)}. Everything after it was worked out anew.`
        },
        undo: () => (visit.pin_id ? restored(visit.pin_id, id) : unpinned(id)),
      },
    )
  }

  /** Takes a move of the searched plan into this one. */
  const fix = (move: Schemas['GradeMove']) => {
    const id = write.id('fix')
    return send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/pins', {
            params: { path: { farm: params.farm } },
            body: { id, mob_id: move.mob_id, paddock_id: move.paddock_id, enter_at: move.enter_at, leave_at: move.leave_at },
          }),
        ),
      {
        say: `Fixed: ${move.name}, ${sayDay(new Date(move.enter_at))} ${clock(new Date(move.enter_at))}. Everything after it was worked out anew.`,
        undo: () => unpinned(id),
      },
    )
  }

  const unpinned = (id: string) => ask(api.DELETE('/api/farms/{farm}/pins/{id}', { params: { path: { farm: params.farm, id } } }))

  const restored = (id: string, instead?: string) =>
    ask(
      api.POST('/api/farms/{farm}/pins/{id}/restore', {
        params: { path: { farm: params.farm, id }, query: { instead_of: instead }, header: pressed },
      }),
    )

  const unpin = (visit: Visit) =>
    send(() => unpinned(visit.pin_id), {
      say: `${visit.paddock_name} is free to move again.`,
      then: () => choose(null),
      undo: () => restored(visit.pin_id),
    })

  const accept = () =>
    send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/plan/{id}/accept', {
            params: { path: { farm: params.farm, id: data!.plan!.id } },
            body: { id: write.id('keep') },
          }),
        ),
      { say: 'The plan is kept as it stands today.' },
    )

  const school = (mob: string) => data?.plan?.mobs.find((m) => m.mob_id === mob)?.school.name ?? ''
</script>

{#snippet bends()}
  <h2>Where the plan bends its own rules</h2>
  {#each grouped as c (c.rule + c.mob_id)}
    {@const m = mobs.data!.find((x) => x.id === c.mob_id)}
    {@const row = data!.rows.find((r) => r.paddock_id === c.paddock_id)}
    <button
      type="button"
      class="flex gap-2.5 border-b border-line pb-3 text-left hover:text-tarn"
      onclick={() =>
        choose(
          data!.visits.find(
            (v) =>
              v.paddock_id === c.paddock_id &&
              v.mob_id === c.mob_id &&
              Math.abs(Date.parse(v.enter_at) - Date.parse(c.at)) < 5 * 86_400_000 &&
              v.kind !== 'past',
          ),
        )}
    >
      <span class="pt-1"><Verdict state={c.severity} word={false} size={18} /></span>
      <span
        ><strong>{row?.name ?? m?.name}</strong>, {sayDay(new Date(c.at))}: <Reason reason={c.reason} />{c.times > 1
          ? `; ${c.times - 1} more like it`
          : ''}</span
      >
    </button>
  {:else}
    <p class="text-soft">Nothing: feed, rest, stays and grass left all hold to the end of the plan.</p>
  {/each}
  <p class="text-sm text-soft">
    Pick a stay to see why it is there. Drag it to another day or row, or use the arrow keys: everything after it is worked out
    anew.
  </p>
  <p class="text-sm text-soft">
    Growth comes from each sward's curve; without weather, moisture and warmth count as normal and leaf stage does not bind.
  </p>
{/snippet}

<Frame farm={params.farm} current="moves">
  {#if data && mobs.data}
    <div class="wall flex min-h-0 flex-1 max-md:flex-col">
      <div class="flex min-h-0 min-w-0 flex-1 flex-col {editing ? 'max-md:hidden' : ''}">
        <div class="flex items-center gap-x-4 px-5 py-3 max-lg:flex-wrap max-md:px-3 max-md:py-2">
          <h1 class="max-md:sr-only print:not-sr-only">{hands ? 'Sheet' : 'Moves'}</h1>
          {#if data.plan && !hands}
            <div class="no-print flex rounded-xl bg-sunken p-1" role="group" aria-label="View">
              {#each ['ridges', 'list'] as const as v (v)}
                <button
                  type="button"
                  class="min-h-9 rounded-lg px-4 capitalize {view === v ? 'bg-surface font-bold shadow-sm' : 'text-soft'}"
                  aria-pressed={view === v}
                  onclick={() => address.show({ as: v })}>{v}</button
                >
              {/each}
            </div>
            <p class="min-w-0 flex-1 truncate text-soft max-2xl:hidden">
              {#each mobs.data.filter((m) => school(m.id)) as m, i (m.id)}{i ? ' · ' : ''}{m.letter}
                {school(m.id).toLowerCase()}{/each}
            </p>
            <span class="ml-auto flex shrink-0 gap-2">
              <Button kind="quiet" onclick={() => address.show({ do: grading ? '' : 'grade', visit: '' })}
                >{phone.current ? 'How good?' : 'How good is it?'}</Button
              >
              {#if house.may('manager')}
                <Button kind="quiet" onclick={() => address.show({ do: editing ? '' : 'rules', visit: '' })}
                  >{phone.current ? 'Rules' : 'Grazing rules'}</Button
                >
                <Button onclick={accept} title="Keep this plan, to hold against what is done"
                  >{data.plan.accepted_at ? 'Keep again' : phone.current ? 'Keep' : 'Keep this plan'}</Button
                >
              {/if}
            </span>
          {/if}
        </div>
        {#if data.plan && mobs.data.length && data.rows.length && !hands}
          <SearchLine found={data.search} {search} onlook={look} />
        {/if}
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
            {#snippet action()}{#if house.may('manager')}<Button kind="main" onclick={() => address.show({ do: 'rules' })}
                  >Plan the moves</Button
                >{/if}{/snippet}
          </Empty>
        {:else if view === 'ridges'}
          <Ridges
            farm={params.farm}
            plan={data}
            mobs={mobs.data}
            {selected}
            movable={house.may('manager')}
            onselect={choose}
            onmove={(v, paddock, enter) => void pin(v, { paddock, enter })}
          />
        {:else}
          <MoveList visits={data.visits} mobs={mobs.data} {selected} onchoose={choose}>
            {#if data.plan}
              <a
                class="no-print mt-4 inline-flex min-h-12 items-center font-semibold text-tarn underline underline-offset-4"
                href="/api/farms/{params.farm}/plan/calendar"
                download="moves.ics">Into my calendar, each with a reminder the evening before</a
              >
            {/if}
            {#if phone.current && !hands}<div class="mt-6 flex flex-col gap-4">{@render bends()}</div>{/if}
          </MoveList>
        {/if}
      </div>
      {#if editing || grading || selected || (data.plan && !phone.current && !hands)}
        <Shoulder label="Moves" narrow={editing ? 'fill' : 'sheet'}>
          {#if editing}
            <Panel onclose={() => address.show({ do: '' })}
              ><PlanForm
                farm={params.farm}
                plan={data}
                mobs={mobs.data}
                onbegun={() => void search.start(params.farm)}
                onclose={() => address.show({ do: '' })}
              />
              <hr class="border-line" />
              <MovingForm farm={params.farm} /></Panel
            >
          {:else if grading}
            <Panel onclose={() => address.show({ do: '' })}
              ><GradePanel
                farm={params.farm}
                mobs={mobs.data}
                onfix={(m) => void fix(m)}
                onsearch={look}
                onclose={() => address.show({ do: '' })}
              /></Panel
            >
          {:else if selected}
            <Panel onclose={() => choose(null)} still={view === 'ridges'}
              ><VisitPanel
                farm={params.farm}
                visit={selected}
                plan={data}
                mobs={mobs.data}
                movable={house.may('manager')}
                {refusal}
                onpin={pin}
                onunpin={unpin}
                onclose={() => choose(null)}
              /></Panel
            >
          {:else}
            {@render bends()}
          {/if}
        </Shoulder>
      {/if}
    </div>
  {:else}
    <Loading error={plan.error ?? mobs.error} what="the moves" />
  {/if}
</Frame>
