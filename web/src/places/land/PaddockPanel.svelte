<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { number, withUnit } from '../../ui/units'
  import Verdict from '../../ui/Verdict.svelte'
  import { facts } from './facts'
  import { undoLand } from './ground'
  import CloseForm from './CloseForm.svelte'
  import CutForm from './CutForm.svelte'
  import Limits from './Limits.svelte'

  interface Props {
    farm: string
    paddock: Schemas['PaddockView']
    field: Schemas['FieldView']
    mobs: Schemas['MobView'][]
    swards: Schemas['Sward'][]
    ondivide: () => void
    onclose: () => void
  }
  let { farm, paddock, field, mobs, swards, ondivide, onclose }: Props = $props()

  // The form starts from the paddock and is made anew when its version changes.
  // svelte-ignore state_referenced_locally
  let form = $state({
    ...facts(paddock),
    growth_factor: paddock.growth_factor as number | null,
    legume_share: paddock.legume_share as number | null,
    slope_degrees: paddock.slope_degrees as number | null,
    limits: paddock.limits.map((l) => ({ ...l })),
  })
  const write = new Write()
  const refusal = $derived(write.refusal)
  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    `paddock.${paddock.id}`,
    paddock.version,
    () => form,
    (d) => (form = d),
  )
  const labels: Record<string, string> = {
    name: 'Name',
    sward_id: 'Sward',
    growth_factor: 'Grows as much as usual',
    legume_share: 'Legumes',
    closed_for: 'Closed for',
    purpose: 'Kept for',
    slope_degrees: 'Slope',
    wetness: 'Wetness',
    aspect: 'Slope faces',
    shade: 'Shade',
    has_water: 'Water',
    limits: 'Limits',
    notes: 'Notes',
  }
  function said(key: string, value: unknown): string {
    if (key === 'sward_id') return swards.find((s) => s.id === value)?.name ?? ''
    if (key === 'limits')
      return (
        (value as Schemas['PaddockView']['limits']).map((l) => [l.kind, l.from, l.until].filter(Boolean).join(' ')).join('; ') ||
        'none'
      )
    return value === null || value === undefined || value === '' ? 'not said' : String(value)
  }
  const here = $derived(mobs.filter((m) => paddock.mob_ids.includes(m.id)))
  const choice = (...values: string[]) => values.map((v) => ({ value: v, label: v || 'not said' }))

  const put = (version: number, body: Schemas['PaddockInput']) =>
    ask(
      api.PUT('/api/farms/{farm}/paddocks/{id}', {
        params: { path: { farm, id: paddock.id }, header: { 'If-Match': version } },
        body,
      }),
    )

  const save = () =>
    write.send(
      () =>
        put(draft.version, {
          ...$state.snapshot(form),
          growth_factor: form.growth_factor ?? 0,
          legume_share: form.legume_share ?? undefined,
          slope_degrees: form.slope_degrees ?? undefined,
          confirmed: write.confirmed,
        }),
      { say: (saved) => `${saved.name} saved.`, undo: () => undoLand(farm), then: () => draft.done() },
    )

  // svelte-ignore state_referenced_locally
  let fieldName = $state(field.name)

  const renameField = () =>
    write.send(
      () =>
        ask(
          api.PUT('/api/farms/{farm}/fields/{id}', {
            params: { path: { farm, id: field.id }, header: { 'If-Match': field.version } },
            body: { name: fieldName },
          }),
        ),
      { say: (saved) => `The field is called ${saved.name}.`, undo: () => undoLand(farm) },
    )

  const removeField = () =>
    write.send(() => ask(api.DELETE('/api/farms/{farm}/fields/{id}', { params: { path: { farm, id: field.id } } })), {
      say: `${field.name} taken off the map.`,
      undo: () => undoLand(farm),
      then: onclose,
    })
</script>

<div class="flex items-start justify-between gap-2">
  <div>
    <p class="text-sm text-soft">{field.name} · {field.layout_name}</p>
    <h2 class="!text-2xl">{paddock.name}</h2>
  </div>
  <button type="button" class="rounded p-2 text-soft hover:text-ink" aria-label="Close" onclick={onclose}
    ><Icon name="close" size={20} /></button
  >
</div>
<div>
  <span class="text-soft">about</span>
  <Figure value={paddock.mass.forage_mass_kg_dm_ha} half={paddock.mass.half_width_kg_dm_ha} unit="kg_ha" size="huge" />
  <p class="mt-1 text-sm text-soft">
    {paddock.mass.sources}
  </p>
</div>
{#each here as m (m.id)}
  <p class="flex items-center gap-2"><Glyph glyph={m.glyph} letter={m.letter} />{m.name} are in it</p>
{/each}
{#if !here.length}
  <div>
    <Verdict state={paddock.state} />
    <ul class="text-[15px]">
      {#each paddock.reasons as r, i (i)}<li><Reason reason={r} /></li>{/each}
    </ul>
  </div>
{/if}
<dl class="grid grid-cols-[1fr_auto] gap-y-1.5">
  <dt class="text-soft">Area</dt>
  <dd class="text-right">
    <Figure value={paddock.area_ha} unit="ha" /><br /><span class="text-sm text-soft"
      >{withUnit(paddock.square_m, 'm', house.system, 0)} × {withUnit(paddock.square_m, 'm', house.system, 0)}</span
    >
  </dd>
  {#if paddock.off_equal !== null}
    <dt class="text-soft">Against its equals</dt>
    <dd class="figure text-right">
      {number(Math.abs(paddock.off_equal), 'share', house.system, 1)} % {paddock.off_equal > 0 ? 'larger' : 'smaller'}
    </dd>
  {/if}
  <dt class="text-soft">Feed above what you leave</dt>
  <dd><Figure value={paddock.feed_kg_dm} unit="kg" /></dd>
  <dt class="text-soft">Rest</dt>
  <dd>
    {#if paddock.rest_days !== null}<Figure value={paddock.rest_days} unit="day" decimals={0} />{:else if here.length}being grazed{:else}unknown{/if}
  </dd>
  <dt class="text-soft">Fence around it</dt>
  <dd><Figure value={paddock.fence_m} unit="m" /></dd>
</dl>
{#if house.may('hand') && !here.length}<CutForm {farm} {paddock} />{/if}
{#if house.may('manager')}
  <CloseForm {farm} {paddock} />
  <Button kind="main" onclick={ondivide}>Divide {field.name}</Button>
  <details>
    <summary class="min-h-10 py-2 font-semibold text-tarn">Change its facts</summary>
    <Drafted {draft} />
    <form class="flex flex-col gap-3 pt-1" onsubmit={(e) => (e.preventDefault(), void save())}>
      <TextField label="Name" bind:value={form.name} error={refusal?.at('name')} />
      <Choice label="What grows there" bind:value={form.sward_id} options={swards.map((s) => ({ value: s.id, label: s.name }))} />
      <NumberField
        label="Grows as much as usual"
        unit="share"
        bind:value={form.growth_factor}
        error={refusal?.at('growth_factor')}
      />
      <NumberField label="Share of legume" unit="share" bind:value={form.legume_share} error={refusal?.at('legume_share')} />
      <Choice
        label="Kept for"
        bind:value={form.purpose as string}
        options={[
          { value: 'grazing', label: 'grazing' },
          { value: 'loafing', label: 'resting place: water, shelter, waiting' },
          { value: 'reserve', label: 'reserve' },
        ]}
        hint="Loafing and reserve stay out of the rotation's figures; only in need a plan goes into the reserve, and says so."
      />
      <div class="grid grid-cols-2 gap-3">
        <NumberField label="Slope, degrees" bind:value={form.slope_degrees} error={refusal?.at('slope_degrees')} />
        <Choice
          label="Slope faces"
          bind:value={form.aspect as string}
          options={choice('', 'N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW')}
        />
        <Choice label="Wetness" bind:value={form.wetness as string} options={choice('', 'dry', 'moist', 'wet')} />
        <Choice label="Shade" bind:value={form.shade as string} options={choice('', 'none', 'some', 'plenty')} />
      </div>
      <label class="flex min-h-11 items-center gap-3"
        ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={form.has_water} />Has water of its own</label
      >
      <Limits bind:limits={form.limits} />
      <TextField
        label="Closed because of"
        bind:value={form.closed_for}
        hint="Until you empty it. For days of every year, set a limit above."
        error={refusal?.at('closed_for')}
      />
      <TextField
        label="Last grazed, where no move tells it"
        type="date"
        bind:value={form.rest_from as string}
        error={refusal?.at('rest_from')}
      />
      <TextField label="Notes" bind:value={form.notes as string} rows={3} error={refusal?.at('notes')} />
      <Conflict
        stored={write.stored}
        mine={form}
        {labels}
        say={said}
        ontake={(key, value) => (form = { ...form, [key]: value })}
        onkeep={(s) => (draft.over(s), void save())}
      />
      <Refused {refusal} bind:confirmed={write.confirmed} shown={['name', 'growth_factor', 'legume_share', 'closed_for']} />
      <div><Button type="submit">Save</Button></div>
    </form>
    <form class="mt-5 flex flex-col gap-3 border-t border-line pt-4" onsubmit={(e) => (e.preventDefault(), void renameField())}>
      <TextField label="Name of the field" bind:value={fieldName} />
      <div class="flex flex-wrap gap-3">
        <Button type="submit">Rename the field</Button>
        <Button kind="danger" onclick={removeField}>Take {field.name} off the map</Button>
      </div>
    </form>
  </details>
{/if}
