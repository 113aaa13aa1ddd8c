<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import { useCalibrations, useSwards } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { Draft } from '../../ui/draft.svelte'
  import Drafted from '../../ui/Drafted.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, now } from '../../ui/time.svelte'
  import { number, scale, withUnit } from '../../ui/units'
  import Meters from './Meters.svelte'

  let { farm }: { farm: string } = $props()
  const calibrations = useCalibrations(() => farm)
  const swards = useSwards(() => farm)

  let making = $state(false)
  let name = $state('')
  let method = $state<'plate' | 'stick'>('plate')
  let sward = $state('')
  let season = $state('year')
  let pairs = $state<{ height_cm: number | null; forage_mass_kg_dm_ha: number | null }[]>(blank())
  let restate = $state(true)
  let fit = $state<Schemas['Fit'] | null>(null)
  let unfit = $state<Refusal | null>(null)
  const write = new Write()
  const refusal = $derived(write.refusal ?? unfit)

  function blank() {
    return Array.from({ length: 8 }, () => ({ height_cm: null, forage_mass_kg_dm_ha: null }))
  }
  // Seasons of a sward: leafy, stemmy, autumn. A southern farm has them half a year later.
  const seasons: Record<string, { label: string; from?: string; until?: string }> = {
    year: { label: 'all year' },
    leafy: { label: 'leafy, spring to June', from: '03-15', until: '06-15' },
    stemmy: { label: 'stemmy, June to August', from: '06-15', until: '08-20' },
    autumn: { label: 'autumn and winter', from: '08-20', until: '03-15' },
  }
  const southern = $derived((house.farm?.latitude ?? 0) < 0)
  const turned = (d?: string) =>
    d && (southern ? `${String(((Number(d.slice(0, 2)) + 5) % 12) + 1).padStart(2, '0')}${d.slice(2)}` : d)
  const good = $derived(
    pairs.flatMap((p) =>
      p.height_cm !== null && p.forage_mass_kg_dm_ha !== null
        ? [{ height_cm: p.height_cm, forage_mass_kg_dm_ha: p.forage_mass_kg_dm_ha }]
        : [],
    ),
  )
  const body = $derived({
    name,
    method,
    sward_id: sward || undefined,
    season_from: turned(seasons[season]!.from),
    season_until: turned(seasons[season]!.until),
    pairs: good,
    restate_from: restate ? `${isoDay(now()).slice(0, 4)}-01-01` : undefined,
    confirmed: write.confirmed,
  })

  const draft = new Draft(
    'calibration',
    0,
    () => ({ making, name, method, sward, season, pairs, restate }),
    (d) => ({ making, name, method, sward, season, pairs, restate } = d),
  )

  let turn = 0
  $effect(() => {
    const mine = ++turn
    const b = { ...body, name: body.name || 'trial' }
    if (good.length < 8) {
      fit = null
      return
    }
    ask(api.POST('/api/farms/{farm}/calibrations/fit', { params: { path: { farm } }, body: b }))
      .then((f) => {
        if (mine !== turn) return
        fit = f
        unfit = null
      })
      .catch((error: unknown) => {
        if (mine === turn && error instanceof Refusal) {
          fit = null
          unfit = error
        }
      })
  })

  /** Keeps a change of the line of an id; undo takes that line out of use again, or back into it, over the same days. */
  const keep = (id: string, work: () => Promise<Schemas['CalibrationsView']>, say: string, back: Schemas['RetireInput']) =>
    write.send(work, {
      say: (v) => `${say}${v.restated ? ` ${v.restated} measurements were worked out anew; the earlier ones are kept.` : ''}`,
      undo: (v) => used(id, v.calibrations.find((c) => c.id === id)!.version, back),
      then: () => (making = false),
    })

  const used = (id: string, version: number, body: Schemas['RetireInput']) =>
    ask(
      api.PUT('/api/farms/{farm}/calibrations/{id}', {
        params: { path: { farm, id }, header: { 'If-Match': version } },
        body,
      }),
    )

  const save = () => {
    const id = write.id()
    return keep(
      id,
      () => ask(api.POST('/api/farms/{farm}/calibrations', { params: { path: { farm } }, body: { id, ...body } })),
      `${name} is in use.`,
      { retired: true, restate_from: body.restate_from },
    ).then((went) => {
      if (!went) return
      draft.done()
      pairs = blank()
      name = ''
    })
  }

  const retire = (c: Schemas['CalibrationView']) => {
    const restate_from = `${isoDay(now()).slice(0, 4)}-01-01`
    return keep(
      c.id,
      () => used(c.id, c.version, { retired: !c.retired, restate_from }),
      c.retired ? `${c.name} is in use again.` : `${c.name} is out of use.`,
      { retired: c.retired, restate_from },
    )
  }

  const w = 340
  const h = 220
  interface Line {
    pairs: { height_cm: number; forage_mass_kg_dm_ha: number }[]
    slope: number
    intercept: number
  }
  function chart(l: Line) {
    const far = Math.max(...l.pairs.map((p) => p.height_cm)) * 1.1
    const top = Math.max(...l.pairs.map((p) => p.forage_mass_kg_dm_ha)) * 1.12
    const x = scaleLinear()
      .domain([0, far])
      .range([44, w - 8])
    const y = scaleLinear()
      .domain([0, top])
      .range([h - 24, 8])
    return { x, y, far, top, line: [0, far].map((v) => [x(v), y(l.intercept + l.slope * v)]) }
  }
</script>

{#snippet scatter(l: Line, label: string)}
  {@const c = chart(l)}
  <svg viewBox="0 0 {w} {h}" class="w-full max-w-[340px]" role="img" aria-label={label}>
    {#each c.y.ticks(4) as t (t)}
      <line x1="44" x2={w - 8} y1={c.y(t)} y2={c.y(t)} stroke="var(--line)" />
      <text x="40" y={c.y(t) + 4} font-size="11" text-anchor="end" fill="var(--soft)">{number(t, 'kg_ha', house.system)}</text>
    {/each}
    {#each c.x.ticks(5) as t (t)}<text x={c.x(t)} y={h - 8} font-size="11" text-anchor="middle" fill="var(--soft)"
        >{number(t, 'cm', house.system, 0)}</text
      >{/each}
    <line x1={c.line[0]![0]} y1={c.line[0]![1]} x2={c.line[1]![0]} y2={c.line[1]![1]} stroke="var(--tarn)" stroke-width="2.5" />
    {#each l.pairs as p, i (i)}<circle
        cx={c.x(p.height_cm)}
        cy={c.y(p.forage_mass_kg_dm_ha)}
        r="4.5"
        fill="var(--feed-2)"
        stroke="var(--feed-4)"
      />{/each}
    <text x={w - 8} y={h - 26} font-size="11" text-anchor="end" fill="var(--soft)">{scale('cm', house.system).symbol}</text>
  </svg>
{/snippet}

{#if calibrations.data && swards.data}
  <div class="mb-4 flex flex-wrap items-center gap-4">
    <p class="flex-1">
      A plate or a height knows centimetres; clips know feed. A line through both, made for a sward and a season, is what turns
      your readings into mass.
    </p>
    {#if house.may('manager') && !making}<Button kind="main" onclick={() => (making = true)}>New calibration</Button>{/if}
  </div>
  {#if making}
    <form class="mb-5 rounded-2xl border border-line bg-surface p-5" onsubmit={(e) => (e.preventDefault(), void save())}>
      <Drafted {draft} />
      <h2 class="mb-3">A new calibration</h2>
      <div class="grid grid-cols-4 gap-3 max-lg:grid-cols-2">
        <TextField label="Name" bind:value={name} error={refusal?.at('name')} />
        <Choice
          label="Of"
          bind:value={method}
          options={[
            { value: 'plate', label: 'a plate' },
            { value: 'stick', label: 'a height' },
          ]}
        />
        <Choice
          label="Sward"
          bind:value={sward}
          options={[{ value: '', label: 'every sward' }, ...swards.data.map((s) => ({ value: s.id, label: s.name }))]}
        />
        <Choice
          label="Season"
          bind:value={season}
          options={Object.entries(seasons).map(([value, s]) => ({ value, label: s.label }))}
        />
      </div>
      <div class="mt-4 grid grid-cols-[minmax(0,1fr)_auto] gap-8 max-lg:grid-cols-1">
        <div>
          <p class="mb-2 text-sm text-soft">
            Read, then clip the same spot to the ground, dry and weigh: {good.length} of at least 8 pairs, spread from just grazed to
            ready.
          </p>
          <div class="grid grid-cols-2 gap-x-5 gap-y-2 max-md:grid-cols-1">
            {#each pairs as p, i (i)}
              <div class="grid grid-cols-2 gap-2">
                <NumberField
                  compact
                  label="Height {i + 1}"
                  unit="cm"
                  bind:value={p.height_cm}
                  error={refusal?.at(`pairs[${i}].height_cm`)}
                />
                <NumberField
                  compact
                  label="Clip {i + 1}"
                  unit="kg_ha"
                  bind:value={p.forage_mass_kg_dm_ha}
                  error={refusal?.at(`pairs[${i}].forage_mass_kg_dm_ha`)}
                />
              </div>
            {/each}
          </div>
          <div class="mt-2">
            <Button kind="quiet" onclick={() => (pairs = [...pairs, { height_cm: null, forage_mass_kg_dm_ha: null }])}
              >One more pair</Button
            >
          </div>
        </div>
        {#if fit}
          <div>
            {@render scatter(
              { pairs: good, slope: fit.slope_kg_per_cm, intercept: fit.intercept_kg },
              'The pairs and the line through them',
            )}
            <p class="text-lg">
              <strong>{number(fit.slope_kg_per_cm, 'kg_ha_cm', house.system)}</strong> a {scale('cm', house.system).symbol},
              <strong>{withUnit(fit.intercept_kg, 'kg_ha', house.system)}</strong> at zero
            </p>
            <p class="text-soft">
              A single pair lies ± {withUnit(fit.residual_standard_error_kg, 'kg_ha', house.system)} off
            </p>
          </div>
        {/if}
      </div>
      <label class="mt-3 flex min-h-11 items-center gap-3"
        ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={restate} /> Work this year's masses out anew with it;
        the earlier ones are kept</label
      >
      <Refused {refusal} bind:confirmed={write.confirmed} shown={['name']} />
      <div class="mt-3 flex gap-3">
        <Button kind="main" type="submit" disabled={!fit}>Take into use</Button>
        <Button onclick={() => ((making = false), (write.refusal = unfit = null))}>Leave it</Button>
      </div>
    </form>
  {/if}
  {#if calibrations.data.calibrations.length}
    <div class="grid gap-4 lg:grid-cols-2">
      {#each calibrations.data.calibrations as c (c.id)}
        <article class="rounded-2xl border border-line bg-surface p-5 {c.retired ? 'opacity-75' : ''}" aria-label={c.name}>
          <div class="flex items-baseline gap-3">
            <h2>{c.name}</h2>
            <span class="text-sm {c.in_use ? 'font-bold text-tarn' : 'text-soft'}"
              >{c.in_use ? 'in use' : c.retired ? 'out of use' : 'not its season'}</span
            >
          </div>
          <p class="text-sm text-soft">
            {c.method === 'plate' ? 'plate' : 'height'} · {c.sward_name} · {c.season_from
              ? `${c.season_from} to ${c.season_until}`
              : 'all year'} · made {c.made_on}
          </p>
          {@render scatter({ pairs: c.pairs, slope: c.slope_kg_per_cm, intercept: c.intercept_kg }, `${c.name}: pairs and line`)}
          <p>
            <strong>{number(c.slope_kg_per_cm, 'kg_ha_cm', house.system)}</strong> a {scale('cm', house.system).symbol} +
            <strong>{withUnit(c.intercept_kg, 'kg_ha', house.system)}</strong> · ± {withUnit(
              c.residual_standard_error_kg,
              'kg_ha',
              house.system,
            )} · {c.pairs.length} pairs, {number(c.height_low_cm, 'cm', house.system)} to {withUnit(
              c.height_high_cm,
              'cm',
              house.system,
            )}
          </p>
          {#if house.may('manager')}<div class="mt-2">
              <Button kind="quiet" onclick={() => retire(c)}>{c.retired ? 'Use it again' : 'Take out of use'}</Button>
            </div>{/if}
        </article>
      {/each}
    </div>
  {:else if !making}
    <p class="rounded-2xl border border-dashed border-line p-5 text-soft">
      None yet: readings go by the reference line of the sward, which may be a quarter off on your ground.
    </p>
  {/if}
  <Meters {farm} />
{:else}
  <Loading error={calibrations.error} what="the calibrations" />
{/if}
