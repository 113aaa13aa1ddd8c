<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { useLand, useMe, useMobs, useMoves, useToday } from '../../api/queries.svelte'
  import FarmMap from '../../map/FarmMap.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import { phone } from '../../ui/media.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { clock, isHeld, longDay, now } from '../../ui/time.svelte'
  import Verdict from '../../ui/Verdict.svelte'
  import Cautions from './Cautions.svelte'
  import { isPutAway } from './cautions'
  import Gate from './Gate.svelte'
  import Minding from './Minding.svelte'
  import JobForm from './JobForm.svelte'
  import Jobs from './Jobs.svelte'
  import LookForm from './LookForm.svelte'
  import Looks from './Looks.svelte'
  import MobColumn from './MobColumn.svelte'
  import NextStep from './NextStep.svelte'
  import Record from './Record.svelte'
  import Split from './Split.svelte'
  import StayOrMove from './StayOrMove.svelte'
  import TallyForm from './TallyForm.svelte'
  import TrainingForm from './TrainingForm.svelte'
  import TreatmentForm from './TreatmentForm.svelte'

  let { params }: { params: { farm: string } } = $props()

  const me = useMe()
  const today = useToday(() => params.farm)
  const land = useLand(() => params.farm)
  const mobs = useMobs(() => params.farm)
  const moves = useMoves(() => params.farm)
  const gate = $derived(today.data?.mobs.find((m) => m.mob_id === address.get('gate')))

  const asked = $derived(today.data?.mobs.find((m) => m.mob_id === address.get('ask')))

  // What the person put away is quiet.
  const away = $derived(
    (today.data?.cautions ?? []).filter((c) => isPutAway(me.data?.account.put_away ?? [], params.farm, c)).map((c) => c.id),
  )
  const minding = $derived((today.data?.minding ?? []).filter((m) => !m.caution || !away.includes(m.caution)))

  const parted = $derived(mobs.data?.find((m) => m.id === address.get('part')))
  const wrong = $derived(moves.data?.find((m) => m.id === address.get('correct')))
  const wrongOf = $derived(today.data?.mobs.find((m) => m.mob_id === wrong?.mob_id))

  // The key M opens the gate of the mob whose feed ends first.
  $effect(() => {
    if (address.get('do') !== 'move' || !today.data) return
    const first = [...today.data.mobs].sort((a, b) => Date.parse(a.feed_until ?? '9999') - Date.parse(b.feed_until ?? '9999'))[0]
    address.set({ do: '', gate: first?.mob_id ?? '' })
  })

  const routes = $derived(
    (today.data?.mobs ?? [])
      .filter((m) => m.paddock_id && m.next)
      .map((m) => ({ mob: m.mob_id, from: m.paddock_id, to: m.next!.paddock_id })),
  )
</script>

<Frame farm={params.farm} current="today">
  {#if today.data}
    <div class="flex min-h-0 flex-1 max-md:flex-col max-md:overflow-auto">
      <div class="plain-scroll flex min-w-0 flex-1 flex-col gap-3 p-5 max-md:overflow-visible max-md:p-3">
        <div class="flex flex-wrap items-baseline gap-x-3">
          <h1>{longDay(now())}</h1>
          <span class="text-soft">{clock(now())}{isHeld() ? ' · the clock is held' : ''}</span>
        </div>
        {#if phone.current && minding.length}
          {@const first = minding[0]!}
          <button
            type="button"
            class="flex min-h-12 items-center gap-2.5 rounded-xl bg-now-wash px-3 py-2 text-left text-now-ink"
            onclick={() => document.getElementById('minding')?.scrollIntoView()}
          >
            <Verdict state={first.state} word={false} size={18} />
            <span
              ><strong>{minding.length === 1 ? 'One thing needs' : `${minding.length} things need`} minding</strong>, {first.where}
              first</span
            >
          </button>
        {/if}
        {#if land.data && today.data.mobs.length && house.may('hand')}
          <NextStep farm={params.farm} land={land.data} mobs={today.data.mobs} />
        {/if}
        {#if today.data.mobs.length}
          <div class="grid flex-1 auto-cols-fr grid-flow-col gap-4 max-lg:grid-flow-row">
            {#each today.data.mobs as mob (mob.mob_id)}
              <MobColumn
                {mob}
                farm={params.farm}
                onmove={() => address.show({ gate: mob.mob_id })}
                onask={() => address.show({ ask: mob.mob_id })}
              />
            {/each}
          </div>
        {:else if mobs.data && land.data}
          <Empty title="Nobody grazes here yet">
            {land.data.fields.length
              ? 'Make a mob, walk the paddocks, and Fjell says here where they go next and when.'
              : 'Start with the land: draw a field or bring it as a file.'}
            {#snippet action()}
              {#if land.data.fields.length}
                <Button kind="main" onclick={() => void push(`/f/${params.farm}/stock`)}>Make a mob</Button>
              {:else}
                <Button kind="main" onclick={() => void push(`/f/${params.farm}/land`)}>Draw a field</Button>
              {/if}
            {/snippet}
          </Empty>
        {/if}
      </div>
      <div class="plain-scroll flex w-[340px] shrink-0 flex-col gap-4 p-5 pl-0 max-md:w-full max-md:overflow-visible max-md:p-3">
        {#if house.working && !phone.current}
          <Shoulder />
        {:else}
          <Minding farm={params.farm} {minding} away={away.length} planned={today.data.mobs.some((m) => m.next)} />
          <Jobs farm={params.farm} />
          {#if land.data?.paddocks.length}
            <div class="no-print h-[240px] shrink-0 overflow-hidden rounded-2xl border border-line">
              <FarmMap land={land.data} mobs={mobs.data ?? []} {routes} still />
            </div>
          {/if}
          <Looks farm={params.farm} />
          {#if moves.data?.length}<Record moves={moves.data} mobs={mobs.data ?? []} farm={params.farm} />{/if}
        {/if}
      </div>
    </div>
    {#if address.get('caution')}
      <Cautions farm={params.farm} due={today.data.cautions} chosen={address.get('caution')} />
    {/if}
    {#if address.get('jobs') === 'new' && land.data}<JobForm
        farm={params.farm}
        paddocks={land.data.paddocks}
        kind={address.get('about') === 'fence' ? 'fence' : 'other'}
        paddock={address.get('at')}
        onclose={() => address.get('jobs') && address.show({ jobs: '', about: '', at: '' })}
      />{/if}
    {#if address.get('look') && land.data}<LookForm
        farm={params.farm}
        mobs={today.data.mobs}
        paddocks={land.data.paddocks}
        chosen={address.get('look')}
        onclose={() => address.get('look') && address.show({ look: '' })}
      />{/if}
    {#if address.get('given') && land.data}<TreatmentForm
        farm={params.farm}
        mobs={today.data.mobs}
        paddocks={land.data.paddocks}
        chosen={address.get('given')}
        onclose={() => address.get('given') && address.show({ given: '' })}
      />{/if}
    {#if address.get('tally') && land.data}<TallyForm
        farm={params.farm}
        mobs={today.data.mobs}
        paddocks={land.data.paddocks}
        chosen={address.get('tally')}
        onclose={() => address.get('tally') && address.show({ tally: '' })}
      />{/if}
    {#if address.get('training')}<TrainingForm
        farm={params.farm}
        chosen={address.get('training')}
        onclose={() => address.get('training') && address.show({ training: '' })}
      />{/if}
    {#if parted && land.data && mobs.data}<Split
        farm={params.farm}
        mob={parted}
        mobs={mobs.data}
        paddocks={land.data.paddocks}
        onclose={() => address.get('part') && address.show({ part: '' })}
      />{/if}
    {#if gate}<Gate
        farm={params.farm}
        mob={gate}
        paddocks={land.data?.paddocks ?? []}
        first={address.get('to')}
        onclose={() => address.show({ gate: '', to: '' })}
      />{/if}
    {#if wrong && wrongOf}<Gate
        farm={params.farm}
        mob={wrongOf}
        paddocks={land.data?.paddocks ?? []}
        {wrong}
        onclose={() => address.show({ correct: '' })}
      />{/if}
    {#if asked?.gate}<StayOrMove
        farm={params.farm}
        mob={asked}
        onmove={(to) => address.set({ ask: '', gate: asked.mob_id, to })}
        onclose={() => address.get('ask') && address.show({ ask: '' })}
      />{/if}
  {:else}
    <Loading error={today.error} what="today" />
  {/if}
</Frame>
