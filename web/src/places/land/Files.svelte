<script lang="ts">
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import type { FarmCanvas, GroundShape, Ring } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import { many } from '../../ui/many'
  import Refused from '../../ui/Refused.svelte'
  import { withUnit } from '../../ui/units'
  import { readFile, undoLand } from './ground'

  interface Props {
    farm: string
    swards: Schemas['Sward'][]
    canvas: FarmCanvas | null
    file: File | null
    ondone: () => void
  }
  let { farm, swards, canvas, file, ondone }: Props = $props()

  type As = Schemas['BringItem']['as'] | 'leave'
  type Row = Schemas['Feature'] & { as: As; id: string }

  const most = 20 * 1024 * 1024
  const atOnce = 500
  const formats = [
    { key: 'geojson', label: 'Map file (GeoJSON)' },
    { key: 'kml', label: 'KML' },
    { key: 'gpx', label: 'GPX: fences and corners to walk to' },
    { key: 'shapefile', label: 'Shapefile (.zip)' },
    { key: 'csv', label: 'Areas and facts (.csv)' },
  ]

  let rows = $state<Row[]>([])
  let name = $state('')
  let held: File | null = null
  let near = $state(false) // somebody said that what lies far off is right
  let refusal = $state<Refusal | null>(null)
  let sward = $state('ryegrass_white_clover')
  let confirmed = $state(false)
  let done = $state(-1) // −1: not bringing
  let stopped = false
  let shown = $state(60)

  const far = $derived(near ? [] : rows.filter((r) => r.far_km > 0))
  const taken = $derived(rows.filter((r) => r.as !== 'leave'))

  $effect(() => {
    if (file) void read(file)
  })

  function choices(r: Row): { value: As; label: string }[] {
    const ground = r.shape.length
      ? (['field', 'paddock', 'exclusion', 'zone'] as const).map((v) => ({
          value: v,
          label: { field: 'field', paddock: 'paddock', exclusion: 'not grazed', zone: 'other growth' }[v],
        }))
      : []
    const line = r.line.length ? (['fence', 'lane'] as const).map((v) => ({ value: v, label: v })) : []
    const place = r.point ? (['water', 'gate'] as const).map((v) => ({ value: v, label: v })) : []
    return [...ground, ...line, ...place, { value: 'leave', label: 'leave out' }]
  }

  function guess(f: Schemas['Feature']): As {
    if (f.problem) return 'leave'
    if (f.point) return /gate|grind|led/i.test(f.name) ? 'gate' : /water|trough|trau|vann/i.test(f.name) ? 'water' : 'leave'
    if (f.shape.length) return f.within === null ? 'field' : 'paddock' // paddocks lie in their field
    return 'fence'
  }

  async function read(f: File, swap = false) {
    held = f
    near = false
    rows = []
    refusal = null
    name = f.name
    if (f.size > most) {
      refusal = new Refusal(413, `The file has ${Math.round(f.size / 1024 / 1024)} MB; at most 20 MB can be read.`, [], false)
      return
    }
    try {
      rows = (await readFile(farm, f.name, f, swap)).map((x) => ({ ...x, as: guess(x), id: newId() }))
      sketch()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
    }
  }

  function sketch(one?: Row) {
    const of = one ? [one] : rows.slice(0, 1500)
    canvas?.sketch(
      of.map((r) => ({
        shape: r.as === 'fence' || r.as === 'lane' ? undefined : (r.shape as GroundShape),
        line: r.line as Ring,
        point: r.point as [number, number] | null,
      })),
      true,
    )
  }

  function all(as: As) {
    for (const r of rows) if (choices(r).some((c) => c.value === as)) r.as = as
  }

  let batch = newId() // the same until all of it is in: what is sent again counts once

  // Fields before what lies in them, in parts of one batch: it can be watched and stopped, and is undone as one.
  async function bring() {
    const order = ['field', 'exclusion', 'zone', 'fence', 'lane', 'water', 'gate', 'paddock']
    const list = [...taken].sort((a, b) => order.indexOf(a.as) - order.indexOf(b.as))
    const parts: Row[][] = []
    for (const r of list) {
      const last = parts[parts.length - 1]
      // The paddocks of a field make one layout, so they go together.
      if (last && last.length < (r.as === 'paddock' ? 1000 : atOnce) && (last[0]!.as === 'paddock') === (r.as === 'paddock'))
        last.push(r)
      else parts.push([r])
    }
    refusal = null
    done = 0
    stopped = false
    for (const part of parts) {
      if (stopped) break
      try {
        await ask(
          api.POST('/api/farms/{farm}/land/bring', {
            params: { path: { farm } },
            body: {
              id: part[0]!.id,
              batch,
              file: name.slice(0, 70),
              confirmed,
              items: part.map((r) => ({
                id: r.id,
                as: r.as as Schemas['BringItem']['as'],
                name: r.name,
                sward_id: sward,
                shape: ['fence', 'lane', 'water', 'gate'].includes(r.as) ? [] : r.shape,
                path: r.point ? [r.point] : ['fence', 'lane'].includes(r.as) ? r.line : [],
              })),
            },
          }),
        )
        done += part.length
        for (const r of part) r.as = 'leave'
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        refusal = error
        if (error.definite) for (const r of part) r.id = newId() // else it may be there: the same is sent again
        break
      }
    }
    const made = done
    done = -1
    await refresh()
    if (made) house.say(`${made} ${made === 1 ? 'thing' : 'things'} of ${name} brought in.`, () => undoLand(farm))
    if (!refusal && !stopped) {
      batch = newId()
      canvas?.sketch(null)
      ondone()
    }
  }
</script>

{#if house.may('manager')}
  <h2>Bring a file</h2>
  <p class="text-sm">
    GeoJSON, KML, KMZ, GPX, a shapefile in a .zip, or a .csv of corners, at most 20 MB. Drop it on the map or choose it here;
    nothing is written until you say so.
  </p>
  <label class="flex flex-col gap-1 font-semibold"
    >File
    <input
      type="file"
      accept=".geojson,.json,.kml,.kmz,.gpx,.zip,.csv,.txt"
      class="rounded-lg border border-soft bg-surface p-2 font-normal"
      onchange={(e) => e.currentTarget.files?.[0] && void read(e.currentTarget.files[0])}
    />
  </label>
  {#if far.length}
    <div class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert">
      <p>
        {far.length === rows.length ? 'All of it lies' : `${many(far.length, 'thing lies', 'things lie')} `}
        {many(Math.round(far[0]!.far_km), 'kilometre')} from the farm.
        {far.every((r) => r.swapped) ? 'With latitude and longitude the other way round it would lie near.' : ''}
      </p>
      <div class="mt-2 flex flex-wrap gap-2">
        {#if far.every((r) => r.swapped)}<Button onclick={() => void read(held!, true)}>Swap latitude and longitude</Button>{/if}
        <Button kind="quiet" onclick={() => (near = true)}>It does lie there</Button>
      </div>
    </div>
  {/if}
  {#if rows.length}
    <p class="font-semibold">{rows.length} {rows.length === 1 ? 'thing' : 'things'} found: what becomes of them?</p>
    {#if rows.length > 1}
      <div class="flex flex-wrap gap-2">
        {#if rows.some((r) => r.shape.length)}
          <Button kind="quiet" onclick={() => all('field')}>All fields</Button>
          <Button kind="quiet" onclick={() => all('paddock')}>All paddocks</Button>
        {/if}
        <Button kind="quiet" onclick={() => all('leave')}>Leave all</Button>
      </div>
    {/if}
    <ul class="flex flex-col gap-2">
      {#each rows.slice(0, shown) as r (r.id)}
        <li class="rounded-xl border border-line p-2 {r.as === 'leave' ? 'opacity-80' : ''}">
          <div class="flex items-center gap-2">
            <input
              class="min-w-0 flex-1 rounded-lg border border-soft bg-surface px-2 py-1.5"
              bind:value={r.name}
              aria-label="Name"
              onfocus={() => sketch(r)}
            />
            <span class="figure text-sm whitespace-nowrap"
              >{r.area_ha
                ? withUnit(r.area_ha, 'ha', house.system)
                : r.length_m
                  ? withUnit(r.length_m, 'm', house.system, 0)
                  : ''}</span
            >
          </div>
          {#if r.problem}<p class="mt-1 text-sm font-semibold text-stop">{r.problem}</p>
          {:else}
            <select
              class="mt-1 w-full rounded-lg border border-soft bg-surface px-2 py-1.5 text-sm"
              bind:value={r.as}
              aria-label="{r.name} becomes"
            >
              {#each choices(r) as c (c.value)}<option value={c.value}>{c.label}</option>{/each}
            </select>
            {#if r.closed && (r.as === 'field' || r.as === 'paddock')}<p class="mt-1 text-sm text-soft">
                A walked line: closed over a gap of {withUnit(r.closed.gap_m, 'm', house.system, 0)}{r.closed.spikes
                  ? `, ${r.closed.spikes} leaps dropped`
                  : ''}.
              </p>{/if}
          {/if}
        </li>
      {/each}
    </ul>
    {#if rows.length > shown}<Button kind="quiet" onclick={() => (shown += 200)}>Show more of {rows.length}</Button>{/if}
    {#if taken.some((r) => r.as === 'field' || r.as === 'paddock')}
      <Choice label="What grows there" bind:value={sward} options={swards.map((s) => ({ value: s.id, label: s.name }))} />
    {/if}
  {/if}
  <Refused {refusal} bind:confirmed />
  {#if done >= 0}
    <div role="status">
      <progress class="h-3 w-full" max={done + taken.length} value={done}></progress>
      <p class="text-sm">{done} of {done + taken.length} brought in</p>
      <Button onclick={() => (stopped = true)}>Stop after these</Button>
    </div>
  {:else if taken.length}
    <Button kind="main" onclick={bring} disabled={far.length > 0}>Bring in {many(taken.length, 'thing')}</Button>
  {/if}
{/if}

<section class="mt-auto border-t border-line pt-4">
  <h3>Save as a file</h3>
  <ul class="mt-1 flex flex-col">
    {#each formats as f (f.key)}
      <li>
        <a
          class="flex min-h-10 items-center font-semibold text-tarn underline-offset-4 hover:underline"
          href="/api/farms/{farm}/land/export/{f.key}"
          download>{f.label}</a
        >
      </li>
    {/each}
  </ul>
</section>
