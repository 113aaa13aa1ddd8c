<script lang="ts">
  import { many } from '../../ui/many'
  import { api, ask, newId, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, moment, now, sayDay } from '../../ui/time.svelte'
  import { inputOfEvent, type EventInput } from './events'

  interface Props {
    farm: string
    event?: Schemas['EventView']
    mobs: Schemas['MobView'][]
    outside: Schemas['OutsideClass'][]
    bands: Schemas['StockBand'][]
    classes: Schemas['StockClass'][]
    onclose: () => void
  }
  let { farm, event, mobs, outside, bands, classes, onclose }: Props = $props()

  type Kind = EventInput['kind']
  const kinds: { value: Kind; label: string }[] = [
    { value: 'birth', label: 'Birth' },
    { value: 'weaning', label: 'Weaning' },
    { value: 'purchase', label: 'Bought' },
    { value: 'sale', label: 'Sold' },
    { value: 'death', label: 'Died' },
    { value: 'move', label: 'Moved to another class or mob' },
    { value: 'mating', label: 'Mating' },
    { value: 'stage', label: 'Another stage' },
    { value: 'weigh', label: 'Weighed' },
    { value: 'count', label: 'Counted' },
  ]
  // Which classes an event names, in its own words.
  const roles: Record<Kind, { from?: string; into?: string; of?: string; head?: string; weight?: string }> = {
    birth: { into: 'The young go into', of: 'Mothers', head: 'Born alive', weight: 'Each weighs' },
    weaning: { from: 'Weaned from', into: 'They go to', of: 'Mothers', head: 'Animals' },
    purchase: { into: 'They go into', head: 'Animals', weight: 'Each weighs' },
    sale: { from: 'Sold from', head: 'Animals' },
    death: { from: 'Died of', head: 'Animals' },
    move: { from: 'From', into: 'Into', head: 'Animals' },
    mating: { of: 'Who' },
    stage: { of: 'Who' },
    weigh: { of: 'Who', weight: 'Each weighs' },
    count: { of: 'Who', head: 'Head counted' },
  }
  // svelte-ignore state_referenced_locally
  const e = event
  let kind = $state<Kind>(e?.kind ?? 'sale')
  let happened = $state(e ? !e.planned : false)
  let day = $state(e ? (e.happened_on ?? e.planned_on ?? e.day) : isoDay(now()))
  let head = $state<number | null>(e?.head ?? null)
  let from = $state(e?.from_id ?? '')
  let into = $state(e?.into_id ?? '')
  let of = $state(e?.of_id ?? '')
  let weight = $state<number | null>(e?.weight_kg ?? null)
  let becomes = $state(e?.becomes ?? '')
  let note = $state(e?.note ?? '')
  let newMob = $state('')
  let newRef = $state('')
  let newName = $state('')
  const write = new Write()
  const refusal = $derived(write.refusal)

  const draft = new Draft(
    `event.${e?.id ?? 'new'}`,
    0,
    () => ({ kind, happened, day, head, from, into, of, weight, becomes, note, newMob, newRef, newName }),
    (d) => ({ kind, happened, day, head, from, into, of, weight, becomes, note, newMob, newRef, newName } = d),
  )
  const finished = () => {
    draft.done()
    onclose()
  }

  const NEW = 'new'
  const role = $derived(roles[kind])
  const groups = $derived.by(() => {
    const list: { value: string; label: string; group: string }[] = []
    const seen = new Set<string>()
    const add = (value: string, label: string, group: string) => {
      if (!seen.has(value)) list.push({ value, label, group })
      seen.add(value)
    }
    for (const m of mobs) {
      for (const c of m.classes) add(c.id ?? '', c.name, m.name)
      for (const b of bands) if (b.mob_id === m.id) add(b.group_id, b.name, m.name)
    }
    for (const o of outside) add(o.id, o.name, 'outside any mob')
    if (e?.into_id) add(e.into_id, e.into_name, 'planned')
    if (e?.from_id) add(e.from_id, e.from_name, 'planned')
    return list
  })
  const none = { value: '', label: '– choose –', group: '' }
  const mothers = $derived(kind === 'birth' || kind === 'weaning')

  function body(): EventInput {
    return {
      kind,
      planned_on: happened ? e?.planned_on : day,
      happened_on: happened ? day : undefined,
      head: role.head ? (head ?? 0) : undefined,
      from_id: role.from ? from || undefined : undefined,
      into_id: role.into && into !== NEW ? into || undefined : undefined,
      into_new:
        role.into && into === NEW
          ? {
              id: write.id('class'),
              mob_id: newMob,
              reference_id: newRef || classes[0]!.id,
              name: newName,
              live_weight_kg: weight ?? 0,
            }
          : undefined,
      of_id: role.of ? of || undefined : undefined,
      weight_kg: role.weight ? (weight ?? undefined) : undefined,
      becomes: kind === 'stage' || mothers ? becomes || undefined : undefined,
      note: note || undefined,
      confirmed: write.confirmed,
    }
  }

  const withdraw = (gone: string) =>
    ask(api.DELETE('/api/farms/{farm}/stock/events/{id}', { params: { path: { farm, id: gone } } }))

  const save = () => {
    const [made, back] = [write.id(), newId()]
    return e
      ? write.send(
          () =>
            ask(
              api.PUT('/api/farms/{farm}/stock/events/{id}', {
                params: { path: { farm, id: e.id } },
                body: { id: made, ...body() },
              }),
            ),
          {
            say: 'Changed; the earlier version is kept.',
            undo: () =>
              ask(
                api.PUT('/api/farms/{farm}/stock/events/{id}', {
                  params: { path: { farm, id: made } },
                  body: { id: back, ...inputOfEvent(e) },
                }),
              ),
            then: finished,
          },
        )
      : write.send(
          () => ask(api.POST('/api/farms/{farm}/stock/events', { params: { path: { farm } }, body: { id: made, ...body() } })),
          { say: 'Written down.', undo: () => withdraw(made), then: finished },
        )
  }

  const takeBack = () => {
    const [gone, again] = [e!, newId()]
    return write.send(() => withdraw(gone.id), {
      say: `${gone.says}: taken back.`,
      undo: () =>
        ask(
          api.POST('/api/farms/{farm}/stock/events', { params: { path: { farm } }, body: { id: again, ...inputOfEvent(gone) } }),
        ),
      then: finished,
    })
  }
</script>

<h2>{e ? e.says : 'Something happens to stock'}</h2>
{#if e?.does_not_fit}<p class="rounded-xl bg-stop-wash p-3 text-stop">
    This cannot have been: {e.does_not_fit}. It is left out of every figure until you put it right or take it back.
  </p>{/if}
{#if e?.overdue}<p class="rounded-xl bg-now-wash p-3 text-now-ink">
    It was planned for {sayDay(moment(e.planned_on!, '12:00'))}. Until you say it happened, it counts from today on.
  </p>{/if}
{#if e && !e.planned && e.planned_on && e.planned_on !== e.happened_on}<p class="text-sm text-soft">
    Planned for {sayDay(moment(e.planned_on!, '12:00'))}{e.planned_head ? `, ${many(e.planned_head, 'animal')}` : ''}; it happened
    on {sayDay(moment(e.happened_on!, '12:00'))}.
  </p>{/if}
<Drafted {draft} />
<form class="flex flex-col gap-3" onsubmit={(ev) => (ev.preventDefault(), void save())}>
  {#if !e}<Choice label="What" bind:value={kind} options={kinds} />{/if}
  <div class="flex gap-2" role="group" aria-label="Plan or fact">
    <Button pressed={!happened} onclick={() => (happened = false)}>Planned</Button>
    <Button pressed={happened} onclick={() => (happened = true)}>It happened</Button>
  </div>
  <TextField
    label={happened ? 'On' : 'For'}
    type="date"
    bind:value={day}
    error={refusal?.at('planned_on') ?? refusal?.at('happened_on') ?? refusal?.at('day')}
  />
  {#if role.of}<Choice
      label="{role.of}{mothers ? ' (may be left out)' : ''}"
      bind:value={of}
      options={[none, ...groups]}
      error={refusal?.at('of_id')}
    />{/if}
  {#if role.from}<Choice
      label={role.from}
      bind:value={from}
      options={[none, ...groups]}
      error={refusal?.at('from_id') ?? refusal?.at('from')}
    />{/if}
  {#if role.into}
    <Choice
      label={role.into}
      bind:value={into}
      options={[none, ...groups, { value: NEW, label: 'a new class…', group: '' }]}
      error={refusal?.at('into_id')}
    />
    {#if into === NEW}
      <div class="flex flex-col gap-3 rounded-xl border border-line p-3">
        <Choice
          label="Who they are"
          bind:value={newRef}
          options={classes.map((c) => ({ value: c.id, label: c.name, group: c.enterprise }))}
        />
        <TextField label="What you call them" bind:value={newName} />
        <Choice
          label="Where they stand"
          bind:value={newMob}
          options={[...mobs.map((m) => ({ value: m.id, label: m.name })), { value: '', label: 'outside any mob: kept in' }]}
        />
      </div>
    {/if}
  {/if}
  {#if role.head}<NumberField
      label={role.head}
      unit="head"
      bind:value={head}
      error={refusal?.unusual ? undefined : refusal?.at('head')}
    />{/if}
  {#if role.weight}<NumberField
      label={role.weight}
      unit="kg"
      bind:value={weight}
      error={refusal?.unusual ? undefined : refusal?.at('weight_kg')}
    />{/if}
  {#if kind === 'stage' || (mothers && of)}
    <Choice
      label={mothers ? 'The mothers become' : 'They become'}
      bind:value={becomes}
      options={[
        { value: '', label: mothers ? 'as is usual' : '– choose –' },
        ...classes.map((c) => ({ value: c.id, label: c.name, group: c.enterprise })),
      ]}
      error={refusal?.at('becomes')}
    />
  {/if}
  <TextField label="Note" bind:value={note} />
  <Refused
    {refusal}
    bind:confirmed={write.confirmed}
    shown={refusal?.unusual
      ? []
      : ['head', 'weight_kg', 'from_id', 'into_id', 'of_id', 'planned_on', 'happened_on', 'day', 'becomes', 'from']}
  />
  <div class="flex flex-wrap gap-3">
    <Button kind="main" type="submit">{e ? 'Save' : 'Write it down'}</Button>
    <Button onclick={onclose}>Leave it</Button>
    {#if e}<Button kind="danger" onclick={takeBack}>Delete</Button>{/if}
  </div>
</form>
