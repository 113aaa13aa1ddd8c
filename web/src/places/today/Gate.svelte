<script lang="ts">
  import type { Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Dialog from '../../ui/Dialog.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import JobForm from './JobForm.svelte'
  import CautionBody from './CautionBody.svelte'
  import Steps from './Steps.svelte'
  import { keepMove } from './moved'
  import { core } from '../../core/core'
  import Reason from '../../ui/Reason.svelte'
  import { number, withUnit } from '../../ui/units'
  import TextField from '../../ui/TextField.svelte'
  import Toggle from '../../ui/Toggle.svelte'
  import { clock, isoDay, moment, now, sayDay } from '../../ui/time.svelte'

  interface Props {
    farm: string
    mob: Schemas['TodayMob']
    paddocks: Schemas['PaddockView'][]
    /** the paddock they go to, where that is decided */
    first?: string
    /** the move on record that is put right; both are kept */
    wrong?: Schemas['MoveView']
    onclose: () => void
  }
  let { farm, mob, paddocks, first = '', wrong, onclose }: Props = $props()

  interface LookBack {
    over_residual_kg_dm_ha: number
    foretold_days: number
    stayed_days: number
    harvest_efficiency: number | null
    reason: Schemas['Reason']
  }

  let open = $state(true)
  // svelte-ignore state_referenced_locally
  const was = wrong
  // svelte-ignore state_referenced_locally
  let to = $state(was ? (was.to_paddock_id ?? 'off') : first || (mob.next?.paddock_id ?? paddocks[0]?.id ?? ''))
  const at = was ? new Date(was.moved_at) : now()
  let day = $state(isoDay(at))
  let time = $state(clock(at))
  let by = $state<'height' | 'mass'>(was && was.height_left_cm === null && was.mass_left_kg_dm_ha !== null ? 'mass' : 'height')
  let height = $state<number | null>(was?.height_left_cm ?? null)
  let mass = $state<number | null>(was && was.height_left_cm === null ? was.mass_left_kg_dm_ha : null)
  let counted = $state<number | null>(was?.counted ?? null)
  let source = $state<number | null>(was?.source_kv ?? null)
  let end = $state<number | null>(was?.end_kv ?? null)
  let drank = $state<boolean | null>(was?.drink_seen ?? null)
  let note = $state(was?.note ?? '')
  let fault = $state<'fence' | 'water' | null>(null)
  let ticked = $state<Record<string, boolean>>({})
  const write = new Write()
  const refusal = $derived(write.refusal)

  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    was ? `gate.${was.id}` : `gate.${mob.mob_id}`,
    0,
    () => ({ height, mass, by, counted, source, end, drank, note, ticked }),
    (d) => {
      height = d.height ?? null
      mass = d.mass ?? null
      by = d.by ?? 'height'
      counted = d.counted ?? null
      source = d.source ?? null
      end = d.end ?? null
      drank = d.drank ?? null
      note = d.note ?? ''
      ticked = Array.isArray(d.ticked) ? {} : (d.ticked ?? {})
    },
  )

  $effect(() => {
    if (!open) onclose()
  })

  const from = $derived(was ? was.from_name : mob.paddock_name)
  const word = (p: Schemas['PaddockView']) =>
    p.mob_ids.some((m) => m !== mob.mob_id)
      ? 'being grazed'
      : p.state === 'mind'
        ? 'past its best'
        : p.state === 'stop'
          ? 'closed'
          : p.state
  const options = $derived([
    ...paddocks
      .filter((p) => p.id !== (was ? was.from_paddock_id : mob.paddock_id))
      .map((p) => ({ value: p.id, label: `${p.name} · ${word(p)}` })),
    ...(from ? [{ value: 'off', label: 'off the pasture' }] : []),
  ])
  // What speaks against the ground is said before it is written.
  const chosen = $derived(paddocks.find((p) => p.id === to))
  const against = $derived(
    !chosen || was
      ? []
      : [
          ...(chosen.mob_ids.some((m) => m !== mob.mob_id) ? ['Others are in it: two mobs in one paddock.'] : []),
          ...(chosen.closed_now
            ? [`It is closed: ${chosen.closed_now}. Say why in the note, if they go there all the same.`]
            : []),
          ...(chosen.state === 'resting' ? ['It is still resting: what they bite now comes back later.'] : []),
        ],
  )
  // What speaks against the fence and the count, said while they are written down.
  let passage = $state.raw<{ fence: Schemas['Reason'] | null; count: Schemas['Reason'] | null } | null>(null)
  $effect(() => {
    const body = { source_kv: source, end_kv: end, least_kv: mob.fence_kv, counted, head: mob.head }
    let late = false
    core<NonNullable<typeof passage>>('passage', body)
      .then((v) => {
        if (!late) passage = v
      })
      .catch(() => {}) // the farm says it once it is there
    return () => (late = true)
  })

  // What was left is answered there: what it means for the paddock, and how the stay went.
  let told = $state.raw<LookBack | null>(null)
  $effect(() => {
    const seen = by === 'height' ? height : mass
    told = null
    if (!mob.gate || was || seen === null || (by === 'height' && !mob.gate.seen.stop_height_cm)) return
    let late = false
    core<LookBack>('look-back', { seen: { ...mob.gate.seen, by, value: seen }, here: mob.gate.here })
      .then((v) => {
        if (!late) told = v
      })
      .catch(() => {}) // it is only said where it is known
    return () => (late = true)
  })

  async function moved() {
    const body: Schemas['NewMove'] = {
      id: write.id(),
      mob_id: mob.mob_id,
      to_paddock_id: to === 'off' ? undefined : to,
      moved_at: moment(day, time).toISOString(),
      height_left_cm: by === 'height' && height !== null ? height : undefined,
      mass_left_kg_dm_ha: by === 'mass' && mass !== null ? mass : undefined,
      counted: counted ?? undefined,
      source_kv: source ?? undefined,
      end_kv: end ?? undefined,
      drink_seen: drank ?? undefined,
      note: note || undefined,
      replaces_id: was?.id,
      confirmed: write.confirmed,
    }
    const where = to === 'off' ? 'off the pasture' : `to ${chosen?.name ?? ''}`
    const says = was ? `${mob.name}, put right: ${where}` : `${mob.name} ${where}, ${sayDay(moment(day, time))} ${time}`
    await keepMove(write, farm, body, was ? says : `${mob.name} moved ${where}`, says, () => {
      draft.done()
      open = false
    })
  }
</script>

{#snippet written(record: string)}
  {#if record === 'fence_kv'}
    <div class="grid grid-cols-2 gap-3 pb-3 pl-9">
      <NumberField compact label="Far end" unit="kv" bind:value={end} error={refusal?.at('end_kv')} />
      <NumberField compact label="At the source" unit="kv" bind:value={source} error={refusal?.at('source_kv')} />
      {#if passage?.fence}<p class="col-span-2 text-sm font-semibold text-stop" role="alert">
          <Reason reason={passage.fence} />.
        </p>{/if}
    </div>
  {:else if record === 'head_count'}
    <div class="pb-3 pl-9">
      <NumberField
        compact
        label="Counted"
        unit="head"
        bind:value={counted}
        error={refusal?.at('counted')}
        hint="{number(mob.head, 'head', house.system)} in the books"
      />
      {#if passage?.count}<p class="text-sm font-semibold text-stop" role="alert">
          <Reason reason={passage.count} /> It is asked about until it is put right.
        </p>{/if}
    </div>
  {:else if record === 'water_runs'}
    <div class="pb-2 pl-9">
      <Button kind="quiet" onclick={() => (fault = 'water')}>Somebody is to refill it: who, and by when</Button>
    </div>
  {:else if record === 'first_drink'}
    <div class="flex flex-col gap-2 pb-3 pl-9">
      <div class="flex flex-wrap gap-2" role="group" aria-label="The first drink">
        <Toggle on={drank === true} onclick={() => (drank = drank === true ? null : true)}>One drank</Toggle>
        <Toggle on={drank === false} onclick={() => (drank = drank === false ? null : false)}>None yet</Toggle>
      </div>
      {#if drank === false}<p class="text-sm font-semibold text-stop" role="alert">
          Stand at the trough until one does. A float or pipe that touches a hot wire shocks every drinker: they thirst beside a
          full trough.
        </p>{/if}
    </div>
  {/if}
{/snippet}

<Dialog
  bind:open
  title={was ? `${mob.name}: put a move right` : mob.paddock_id ? `${mob.name}: through the gate` : `${mob.name}: put them out`}
  size="lg"
>
  <div class="grid grid-cols-2 gap-x-6 gap-y-3 max-md:grid-cols-1">
    <form class="flex flex-col gap-3" onsubmit={(e) => (e.preventDefault(), void moved())}>
      <Choice label="They went to" bind:value={to} {options} error={refusal?.at('to_paddock_id')} />
      {#each against as a (a)}<p class="rounded-xl bg-now-wash px-3 py-2 text-now-ink" role="status">{a}</p>{/each}
      <div class="grid grid-cols-2 gap-3">
        <TextField label="Day" type="date" bind:value={day} max={isoDay(now())} />
        <TextField label="Time" type="time" bind:value={time} />
      </div>
      {#if refusal?.at('moved_at')}<p class="text-sm font-semibold text-stop" role="alert">{refusal.at('moved_at')}</p>{/if}
      {#if was}
        {@render written('fence_kv')}
        {@render written('head_count')}
        {@render written('first_drink')}
      {/if}
      {#if from}
        <fieldset class="rounded-xl border border-line p-3">
          <legend class="px-1 text-sm font-semibold">Left behind in {from}</legend>
          <div class="mb-2 flex gap-4">
            <label class="flex min-h-12 items-center gap-2"
              ><input type="radio" class="size-5" bind:group={by} value="height" /> height</label
            >
            <label class="flex min-h-12 items-center gap-2"
              ><input type="radio" class="size-5" bind:group={by} value="mass" /> mass</label
            >
          </div>
          {#if by === 'height'}
            <NumberField
              label="Height left, leaf"
              unit="cm"
              bind:value={height}
              error={refusal?.at('height_left_cm')}
              hint="May be left out; it corrects the next estimate."
            />
          {:else}
            <NumberField
              label="Mass left"
              unit="kg_ha"
              bind:value={mass}
              error={refusal?.at('mass_left_kg_dm_ha')}
              hint="May be left out; it corrects the next estimate."
            />
          {/if}
          {#if told}
            <p
              class="mt-2 rounded-xl {told.over_residual_kg_dm_ha < -1 ? 'bg-now-wash text-now-ink' : 'bg-tarn-wash'} px-3 py-2"
              role="status"
            >
              <Reason reason={told.reason} />.
              <span class="block text-sm"
                >{withUnit(told.foretold_days, 'day', house.system)} foretold when they came, {withUnit(
                  told.stayed_days,
                  'day',
                  house.system,
                )} it was{#if told.harvest_efficiency !== null}; they can have eaten {withUnit(
                    told.harvest_efficiency,
                    'share',
                    house.system,
                    0,
                  )} of what is gone{/if}.</span
              >
            </p>
          {/if}
        </fieldset>
      {/if}
      <TextField label="Note" bind:value={note} error={refusal?.at('note')} />
      <Drafted {draft} />
      <Refused
        {refusal}
        bind:confirmed={write.confirmed}
        shown={['to_paddock_id', 'moved_at', 'height_left_cm', 'mass_left_kg_dm_ha', 'note', 'counted', 'end_kv', 'source_kv']}
      />
      <button type="submit" class="hidden" aria-hidden="true" tabindex="-1">Enter</button>
    </form>
    {#if !was}
      <div>
        <h3 class="mb-1">In this order</h3>
        <Steps {farm} {mob} when="gate" bind:ticked record={written} />
        <Button kind="quiet" onclick={() => (fault = 'fence')}>Note a fault on the fence or the water</Button>
        <details class="mt-3">
          <summary class="min-h-12 py-3 font-semibold text-tarn">The evening before</summary>
          <Steps {farm} {mob} when="evening" bind:ticked />
        </details>
        {#each mob.cautions as c (c.id)}
          <details class="mt-2 rounded-xl border border-now bg-now-wash px-3 py-2 text-sm text-now-ink">
            <summary class="min-h-12 py-3 font-semibold">{c.title}</summary>
            <CautionBody caution={c} />
          </details>
        {/each}
      </div>
    {/if}
  </div>
  <div class="sticky -bottom-4 -mx-1 flex flex-wrap gap-3 border-t border-line bg-surface px-1 pt-3 pb-5 md:-bottom-5">
    <Button kind="main" disabled={write.busy} onclick={() => void moved()}>{was ? 'Put it right' : 'Moved'}</Button>
    <Button onclick={() => (open = false)}>Cancel</Button>
  </div>
</Dialog>
{#if fault}<JobForm {farm} {paddocks} kind={fault} paddock={to === 'off' ? '' : to} onclose={() => (fault = null)} />{/if}
