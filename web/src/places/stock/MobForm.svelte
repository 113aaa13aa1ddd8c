<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Conflict from '../../ui/Conflict.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import { glyphs, type GlyphName } from '../../ui/glyph'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now } from '../../ui/time.svelte'
  import { withUnit } from '../../ui/units'

  interface Props {
    farm: string
    mob?: Schemas['MobView']
    taken: Schemas['MobView'][]
    fields: Schemas['FieldView'][]
    classes: Schemas['StockClass'][]
    onclose: () => void
  }
  let { farm, mob, taken, fields, classes, onclose }: Props = $props()

  interface Row {
    reference_id: string
    name: string
    count: number | null
    id?: string
    live_weight_kg: number | null
    intake_share: number | null
    daily_gain_kg: number | null
    supplements: { name?: string; from: string; until?: string; supplement_kg_dm: number | null; substitution: number | null }[]
  }

  const rowOf = (c: Schemas['ClassView']): Row => ({
    id: c.id,
    reference_id: c.reference_id,
    name: c.name,
    count: c.count,
    live_weight_kg: c.live_weight_kg,
    intake_share: c.intake_share,
    supplements: (c.supplements ?? []).map((f) => ({ ...f })),
    daily_gain_kg: c.daily_gain_kg ?? 0,
  })

  const usual = (id: string): Row => {
    const c = classes.find((x) => x.id === id) ?? classes[0]!
    return {
      reference_id: c.id,
      name: '',
      count: null,
      live_weight_kg: c.live_weight_kg.typical,
      intake_share: c.intake_share.typical,
      supplements: [],
      daily_gain_kg: c.daily_gain_kg,
    }
  }

  // svelte-ignore state_referenced_locally
  let name = $state(mob?.name ?? '')
  // svelte-ignore state_referenced_locally
  let letter = $state(mob?.letter ?? '') // empty: the first of its name
  // svelte-ignore state_referenced_locally
  let glyph = $state<GlyphName>((mob?.glyph as GlyphName) ?? glyphs.find((g) => !taken.some((m) => m.glyph === g)) ?? 'triangle')
  // svelte-ignore state_referenced_locally
  let rows = $state<Row[]>(mob?.classes.map(rowOf) ?? [usual('beef_cow_lactating')])
  // svelte-ignore state_referenced_locally
  let ground = $state<string[]>([...(mob?.field_ids ?? [])])
  // svelte-ignore state_referenced_locally
  let since = $state(mob?.here_since ?? '')
  // svelte-ignore state_referenced_locally
  let housed = $state<Schemas['Housed'][]>((mob?.housed ?? []).map((h) => ({ ...h })))
  const write = new Write()
  const refusal = $derived(write.refusal)
  const making = new Write()

  // svelte-ignore state_referenced_locally
  const draft = new Draft(
    `mob.${mob?.id ?? 'new'}`,
    mob?.version ?? 0,
    () => ({ name, letter, glyph, rows, ground, since, housed }),
    (d) => ({ name, letter, glyph, rows, ground, since, housed } = d),
  )
  const finished = () => {
    draft.done()
    onclose()
  }
  const labels = {
    name: 'Name',
    letter: 'Letter on the map',
    glyph: 'Shape on the map',
    classes: 'Animals',
    field_ids: 'Grazes',
    here_since: 'Here since',
  }
  function said(key: string, value: unknown): string {
    if (key === 'classes')
      return (value as Schemas['ClassInput'][])
        .map(
          (c) =>
            `${c.count} ${c.name || classes.find((x) => x.id === c.reference_id)?.name}, ${withUnit(c.live_weight_kg, 'kg', house.system)}, eating ${withUnit(c.intake_share, 'share', house.system)}`,
        )
        .join('; ')
    if (key === 'field_ids') {
      const ids = value as string[]
      return ids.length ? ids.map((id) => fields.find((f) => f.id === id)?.name ?? '').join(', ') : 'every field'
    }
    return String(value || 'not said')
  }
  function take(key: string, value: unknown) {
    if (key === 'name') name = value as string
    else if (key === 'letter') letter = value as string
    else if (key === 'glyph') glyph = value as GlyphName
    else if (key === 'here_since') since = (value as string) ?? ''
    else if (key === 'field_ids') ground = [...(value as string[])]
    else rows = (value as Schemas['ClassView'][]).map(rowOf)
  }

  // An intake said as a share of weight is said in kilograms too, and what must grow for it.
  let eats = $state<(Schemas['Eats'] | null)[]>([])
  $effect(() => {
    rows.forEach((r, i) => {
      const body = { reference_id: r.reference_id, live_weight_kg: r.live_weight_kg ?? 0, intake_share: r.intake_share ?? 0 }
      if (!body.live_weight_kg || !body.intake_share) {
        eats[i] = null
        return
      }
      ask(api.POST('/api/farms/{farm}/stock/intake', { params: { path: { farm } }, body }))
        .then((v) => (eats[i] = v))
        .catch(() => (eats[i] = null))
    })
  })
  async function eatsKilos(i: number, kilos: number | null) {
    const r = rows[i]!
    if (!kilos || !r.live_weight_kg) return
    const v = await ask(
      api.POST('/api/farms/{farm}/stock/intake', {
        params: { path: { farm } },
        body: { reference_id: r.reference_id, live_weight_kg: r.live_weight_kg, intake_kg_dm_head_day: kilos },
      }),
    )
    r.intake_share = v.intake_share
  }

  let own = $state<{ name: string; row: number } | null>(null)
  async function keepOwn() {
    const r = rows[own!.row]!
    const made = making.id()
    const like = classes.find((c) => c.id === r.reference_id)
    await making.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/stock/classes', {
            params: { path: { farm } },
            body: {
              id: made,
              name: own!.name,
              like_id: like?.id ?? r.reference_id,
              live_weight_kg: r.live_weight_kg ?? 0,
              intake_share: r.intake_share ?? 0,
              daily_gain_kg: r.daily_gain_kg ?? 0,
              livestock_unit_eu: like?.livestock_unit_eu ?? 0,
              confirmed: making.confirmed,
            },
          }),
        ),
      {
        say: `${own!.name} is a class of this farm now.`,
        then: () => {
          r.reference_id = made
          own = null
        },
      },
    )
  }

  const options = $derived(classes.map((c) => ({ value: c.id, label: c.name, group: c.enterprise })))

  // svelte-ignore state_referenced_locally
  const before = mob ? body() : null // as they stood when the form opened: what undo says again

  function body(): Schemas['MobInput'] {
    return {
      name,
      letter,
      glyph,
      field_ids: ground,
      here_since: since || undefined,
      housed: housed.map((h) => ({ from: h.from, until: h.until || undefined })),
      confirmed: write.confirmed,
      classes: rows.map((r) => ({
        id: r.id,
        reference_id: r.reference_id,
        name: r.name,
        count: r.count ?? 0,
        live_weight_kg: r.live_weight_kg ?? 0,
        intake_share: r.intake_share ?? 0,
        daily_gain_kg: r.daily_gain_kg ?? 0,
        supplements: r.supplements.map((f) => ({
          ...f,
          until: f.until || undefined,
          supplement_kg_dm: f.supplement_kg_dm ?? 0,
          substitution: f.substitution ?? 1,
        })),
      })),
    }
  }

  const removed = (id: string) => ask(api.DELETE('/api/farms/{farm}/mobs/{id}', { params: { path: { farm, id } } }))

  const save = () => {
    const made = write.id()
    const id = mob?.id ?? '' // the form is gone when it is undone
    const put = (version: number, as: Schemas['MobInput']) =>
      ask(
        api.PUT('/api/farms/{farm}/mobs/{id}', {
          params: { path: { farm, id }, header: { 'If-Match': version } },
          body: as,
        }),
      )
    return mob
      ? write.send(() => put(draft.version, body()), {
          say: `${name} saved, as they are today.`,
          undo: (saved) => put(saved.version, { ...before!, confirmed: true }),
          then: finished,
        })
      : write.send(() => ask(api.POST('/api/farms/{farm}/mobs', { params: { path: { farm } }, body: { id: made, ...body() } })), {
          say: `${name} made.`,
          undo: () => removed(made),
          then: finished,
        })
  }

  const remove = () => {
    const gone = mob!.id
    return write.send(() => removed(gone), {
      say: `${name} taken off the farm.`,
      undo: () => ask(api.POST('/api/farms/{farm}/mobs/{id}/restore', { params: { path: { farm, id: gone } } })),
      then: finished,
    })
  }
</script>

<h2>{mob ? `Change ${mob.name}` : 'A new mob'}</h2>
<Drafted {draft} />
<form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void save())}>
  <TextField label="Name of the mob" bind:value={name} error={refusal?.at('name')} />
  <div class="flex items-start gap-3">
    <div class="w-24"><TextField label="On the map" bind:value={letter} error={refusal?.at('letter')} /></div>
    <fieldset>
      <legend class="text-sm font-semibold">Shape</legend>
      <div class="flex">
        {#each glyphs as g (g)}
          <button
            type="button"
            class="flex size-11 items-center justify-center rounded-lg {glyph === g ? 'bg-tarn-wash ring-2 ring-tarn' : ''}"
            aria-label={g}
            aria-pressed={glyph === g}
            onclick={() => (glyph = g)}><Glyph glyph={g} letter={(letter || name || 'A').charAt(0).toUpperCase()} /></button
          >
        {/each}
      </div>
    </fieldset>
  </div>
  {#each rows as row, i (i)}
    <fieldset class="flex flex-col gap-3 rounded-xl border border-line p-3">
      <legend class="px-1 text-sm font-semibold">Kind of animal {rows.length > 1 ? i + 1 : ''}</legend>
      <Choice
        label="Who they are"
        bind:value={row.reference_id}
        {options}
        onchange={(v) => (rows[i] = { ...usual(v), id: row.id, count: row.count, supplements: row.supplements })}
        error={refusal?.at(`classes[${i}].reference_id`)}
      />
      <div class="grid grid-cols-2 items-end gap-3">
        <NumberField
          compact
          label="Animals"
          unit="head"
          bind:value={row.count}
          error={refusal?.unusual ? undefined : refusal?.at(`classes[${i}].count`)}
        />
        <NumberField
          compact
          label="Live weight"
          unit="kg"
          bind:value={row.live_weight_kg}
          error={refusal?.unusual ? undefined : refusal?.at(`classes[${i}].live_weight_kg`)}
        />
        <NumberField
          compact
          label="Eats a day, % of its weight"
          unit="share"
          bind:value={row.intake_share}
          error={refusal?.unusual ? undefined : refusal?.at(`classes[${i}].intake_share`)}
        />
        <NumberField
          compact
          label="Weight gain a day"
          unit="kg_head_day_gain"
          bind:value={row.daily_gain_kg}
          error={refusal?.unusual ? undefined : refusal?.at(`classes[${i}].daily_gain_kg`)}
        />
      </div>
      {#if eats[i]}
        <p class="text-sm text-soft">
          {withUnit(eats[i].intake_kg_dm_head_day, 'kg_head_day', house.system)} swallowed; {withUnit(
            eats[i].grown_kg_dm_head_day,
            'kg_head_day',
            house.system,
          )} must grow for that.
        </p>
      {/if}
      <details>
        <summary class="min-h-8 py-1 text-sm font-semibold text-tarn"
          >Own name, own class, intake in kilograms, supplement</summary
        >
        <div class="flex flex-col gap-3 pt-1">
          <TextField label="What you call them" bind:value={row.name} />
          <NumberField
            compact
            label="Eats a head and day, instead of a share"
            unit="kg_head_day"
            bind:value={() => eats[i]?.intake_kg_dm_head_day ?? null, (v) => void eatsKilos(i, v)}
          />
          {#if own?.row === i}
            <div class="flex items-end gap-2">
              <div class="flex-1"><TextField label="Name of your own class" bind:value={own.name} /></div>
              <Button kind="quiet" disabled={!own.name.trim() || making.busy} onclick={keepOwn}>Keep</Button>
            </div>
            <Refused refusal={making.refusal} bind:confirmed={making.confirmed} />
          {:else}
            <Button kind="quiet" onclick={() => (own = { name: '', row: i })}>Keep these figures as a class of your own</Button>
          {/if}
          {#each row.supplements as f, k (k)}
            <div class="flex flex-col gap-2 rounded-lg border border-line p-2">
              <div class="grid grid-cols-2 gap-2">
                <TextField
                  label="Fed from"
                  type="date"
                  bind:value={f.from}
                  error={refusal?.at(`classes[${i}].supplements[${k}].from`)}
                />
                <TextField
                  label="until before"
                  type="date"
                  bind:value={() => f.until ?? '', (v) => (f.until = v)}
                  error={refusal?.at(`classes[${i}].supplements[${k}].until`)}
                />
              </div>
              <NumberField
                compact
                label="Dry matter a head and day"
                unit="kg_head_day"
                bind:value={f.supplement_kg_dm}
                error={refusal?.unusual ? undefined : refusal?.at(`classes[${i}].supplements[${k}].supplement_kg_dm`)}
              />
              <NumberField
                compact
                label="Pasture it spares, per kilogram"
                unit="share"
                bind:value={f.substitution}
                error={refusal?.at(`classes[${i}].supplements[${k}].substitution`)}
              />
              <Button kind="quiet" onclick={() => (row.supplements = row.supplements.filter((_, x) => x !== k))}
                >No longer fed</Button
              >
            </div>
          {/each}
          <Button
            kind="quiet"
            onclick={() =>
              (row.supplements = [...row.supplements, { from: isoDay(now()), supplement_kg_dm: null, substitution: 1 }])}
            >Feed beside pasture</Button
          >
        </div>
      </details>
      {#if rows.length > 1}<Button kind="quiet" onclick={() => (rows = rows.filter((_, k) => k !== i))}>Take this kind out</Button
        >{/if}
    </fieldset>
  {/each}
  <Button onclick={() => (rows = [...rows, usual('beef_calf_at_foot')])}>Add a kind of animal</Button>
  {#if fields.length}
    <fieldset>
      <legend class="text-sm font-semibold">The ground they graze this season</legend>
      <p class="text-sm text-soft">None ticked: all of it.</p>
      <div class="grid grid-cols-2">
        {#each fields as f (f.id)}
          <label class="flex min-h-11 items-center gap-2"
            ><input type="checkbox" class="size-5 rounded border-soft" value={f.id} bind:group={ground} />{f.name}</label
          >
        {/each}
      </div>
    </fieldset>
  {/if}
  <fieldset class="flex flex-col gap-3">
    <legend class="text-sm font-semibold">When they eat grass</legend>
    <TextField
      label="Here since, if they came before today"
      type="date"
      bind:value={since}
      error={refusal?.at('here_since')}
      hint="moves written down for earlier days count from their own day"
    />
    {#each housed as h, k (k)}
      <div class="grid grid-cols-2 gap-x-2">
        <TextField label="In the house from" type="date" bind:value={h.from} error={refusal?.at(`housed[${k}].from`)} />
        <TextField
          label="out again on"
          type="date"
          bind:value={() => h.until ?? '', (v) => (h.until = v)}
          error={refusal?.at(`housed[${k}].until`)}
        />
        <div><Button kind="quiet" onclick={() => (housed = housed.filter((_, x) => x !== k))}>Take out</Button></div>
      </div>
    {/each}
    <Button kind="quiet" onclick={() => (housed = [...housed, { from: isoDay(now()) }])}>In the house, eating no grass</Button>
  </fieldset>
  <Refused
    {refusal}
    bind:confirmed={write.confirmed}
    shown={refusal?.unusual
      ? []
      : [
          'name',
          'letter',
          'count',
          'live_weight_kg',
          'intake_share',
          'daily_gain_kg',
          'from',
          'until',
          'here_since',
          'supplement_kg_dm',
          'substitution',
          'reference_id',
        ]}
  />
  <Conflict
    stored={write.stored}
    mine={body() as unknown as Record<string, unknown>}
    {labels}
    say={said}
    ontake={take}
    onkeep={(s) => (draft.over(s), void save())}
  />
  <div class="flex flex-wrap gap-3">
    <Button kind="main" type="submit">{mob ? 'Save' : 'Make the mob'}</Button>
    <Button onclick={onclose}>Leave it</Button>
    {#if mob}<Button kind="danger" onclick={remove}>Delete the mob</Button>{/if}
  </div>
</form>
