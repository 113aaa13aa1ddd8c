<script lang="ts">
  import { many } from '../../ui/many'
  import { scaleLinear } from 'd3-scale'
  import { api, ask, type Schemas } from '../../api/client'
  import { useWeather } from '../../api/queries.svelte'
  import { Write } from '../../api/write.svelte'
  import BadRows from '../../ui/BadRows.svelte'
  import Button from '../../ui/Button.svelte'
  import Columns from '../../ui/Columns.svelte'
  import FilePick from '../../ui/FilePick.svelte'
  import FileUnits from '../../ui/FileUnits.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { house } from '../../ui/house.svelte'
  import Loading from '../../ui/Loading.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, moment, now, sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Climate from './Climate.svelte'

  let { farm }: { farm: string } = $props()
  const weather = useWeather(() => farm)

  let day = $state(isoDay(now()))
  let rain = $state<number | null>(null)
  let mean = $state<number | null>(null)
  let sun = $state<number | null>(null)
  let soil = $state<number | null>(null)
  const write = new Write()
  const refusal = $derived(write.refusal)
  let text = $state('')
  let units = $state<'' | 'metric' | 'imperial'>('')
  let file = $state<Schemas['WeatherFileView'] | null>(null)

  const shown = 60
  const days = $derived((weather.data?.days ?? []).slice(-shown))
  const width = 900
  const height = 190
  const x = $derived((i: number) => 40 + (i * (width - 60)) / shown)
  const step = $derived((width - 60) / shown)
  const mostRain = $derived(Math.max(12, ...days.map((d) => d.rain_mm)))
  const rainY = $derived(
    scaleLinear()
      .domain([0, mostRain])
      .range([height - 22, height - 92]),
  )
  const waterY = $derived(
    scaleLinear()
      .domain([0, weather.data?.soil_mm ?? 90])
      .range([height - 102, 10]),
  )
  const path = $derived(days.map((d, i) => `${i ? 'L' : 'M'}${x(i) + step / 2} ${waterY(d.water_mm)}`).join(''))
  const ground = $derived(
    days.length ? `${path}L${x(days.length - 1) + step / 2} ${waterY(0)}L${x(0) + step / 2} ${waterY(0)}Z` : '',
  )
  const last = $derived(days[days.length - 1])

  const keep = () =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/weather/days', {
            params: { path: { farm } },
            body: { day, rain_mm: rain ?? 0, mean_c: mean ?? NaN, sun_h: sun ?? undefined, confirmed: write.confirmed },
          }),
        ),
      { say: `Weather of ${sayDay(moment(day, '12:00'))} written down.`, then: () => (rain = mean = sun = null) },
    )

  interface Place {
    elevation_m: number
    coast: Schemas['ClimateView']['coast']
    normals_c: number[]
  }
  const here = (): Place => {
    const c = weather.data!.climate
    return { elevation_m: c.elevation_m, coast: c.coast, normals_c: c.from === 'typed' ? c.normals_c : [] }
  }
  const set = (station: boolean, place: Place = here()) => {
    const { version, soil_mm, station: stood } = weather.data!
    const put = (version: number, body: Schemas['WeatherSettings']) =>
      ask(api.PUT('/api/farms/{farm}/weather', { params: { path: { farm }, header: { 'If-Match': version } }, body }))
    const before = { soil_mm, station: stood, confirmed: true, ...here() }
    return write.send(() => put(version, { soil_mm: soil ?? soil_mm, station, confirmed: write.confirmed, ...place }), {
      say: 'Kept.',
      undo: (kept) => put(kept.version, before),
    })
  }

  const read = (columns?: Record<string, number>, kept = false) =>
    write.send(
      () =>
        ask(
          api.POST('/api/farms/{farm}/weather/file', { params: { path: { farm } }, body: { text, columns, units, keep: kept } }),
        ),
      {
        say: kept ? (v) => `${many(v.kept, 'day')} of weather brought in.` : undefined,
        then: (v) => {
          file = kept ? null : v
          if (kept) text = ''
        },
      },
    )
</script>

{#if weather.data}
  <section class="rounded-2xl border border-line bg-surface p-5">
    <div class="flex flex-wrap items-baseline gap-x-8 gap-y-1">
      <div>
        <p class="text-sm text-soft">Growth today, of an ordinary year's</p>
        <p>
          <Figure value={weather.data.growth.value} unit="share" size="huge" working={weather.data.growth} title="Growth today" />
        </p>
      </div>
      {#if last}
        <div>
          <p class="text-sm text-soft">Water within reach of roots</p>
          <p>
            <span class="figure text-2xl">{number(last.water_mm, 'mm', house.system, house.system === 'metric' ? 0 : 1)}</span>
            <span class="text-soft"
              >of {withUnit(weather.data.soil_mm, 'mm', house.system, house.system === 'metric' ? 0 : 1)}</span
            >
          </p>
        </div>
      {/if}
      <p class="min-w-[260px] flex-1 text-lg">{weather.data.sentence}</p>
    </div>
    {#if days.length}
      <svg
        viewBox="0 0 {width} {height}"
        class="mt-4 w-full"
        role="img"
        aria-label="Water in the soil and rain, the last {days.length} days"
      >
        <path d={ground} fill="var(--feed-1)" opacity="0.55" />
        <path d={path} fill="none" stroke="var(--feed-4)" stroke-width="2.5" />
        <line
          x1="40"
          x2={width - 20}
          y1={waterY(weather.data.soil_mm / 2)}
          y2={waterY(weather.data.soil_mm / 2)}
          stroke="var(--soft)"
          stroke-dasharray="3 5"
        />
        <text x={width - 20} y={waterY(weather.data.soil_mm / 2) + 15} font-size="12" text-anchor="end" fill="var(--soft)"
          >below this growth is held back</text
        >
        {#each days as d, i (d.day)}
          {#if d.rain_mm > 0}<rect
              x={x(i) + 1}
              y={rainY(d.rain_mm)}
              width={step - 3}
              height={rainY(0) - rainY(d.rain_mm)}
              fill="var(--tarn)"
              opacity={d.source ? 1 : 0.3}
            />{/if}
          {#if d.day.endsWith('-01') || d.day.endsWith('-15')}
            <text x={x(i)} y={height - 5} font-size="12" fill="var(--soft)"
              >{sayDay(new Date(d.day + 'T12:00:00Z')).replace(/^\w+ /, '')}</text
            >
          {/if}
        {/each}
        <text x="4" y={rainY(mostRain) + 10} font-size="12" fill="var(--soft)"
          >{withUnit(mostRain, 'mm', house.system, house.system === 'metric' ? 0 : 1)}</text
        >
        <text x="4" y={rainY(0)} font-size="12" fill="var(--soft)">rain</text>
        <text x="4" y={waterY(0)} font-size="12" fill="var(--soft)">soil</text>
      </svg>
    {/if}
  </section>
  {#if house.may('hand')}
    <div class="mt-4 grid gap-4 md:grid-cols-2">
      <form
        class="flex flex-col gap-3 rounded-2xl border border-line bg-surface p-5"
        onsubmit={(e) => (e.preventDefault(), void keep())}
      >
        <h2>Write a day down</h2>
        <div class="grid grid-cols-2 gap-3">
          <TextField label="Day" type="date" bind:value={day} error={refusal?.at('day')} />
          <NumberField label="Rain" unit="mm" bind:value={rain} error={refusal?.unusual ? undefined : refusal?.at('rain_mm')} />
          <NumberField
            label="Mean temperature"
            unit="c"
            bind:value={mean}
            error={refusal?.unusual ? undefined : refusal?.at('mean_c')}
          />
          <NumberField label="Sun" unit="hour" bind:value={sun} error={refusal?.unusual ? undefined : refusal?.at('sun_h')} />
        </div>
        <Refused
          {refusal}
          bind:confirmed={write.confirmed}
          shown={refusal?.unusual ? [] : ['day', 'rain_mm', 'mean_c', 'sun_h']}
        />
        <div><Button kind="main" type="submit">Write it down</Button></div>
      </form>
      <div class="flex flex-col gap-3 rounded-2xl border border-line bg-surface p-5">
        <h2>Where weather comes from</h2>
        <FilePick label="Weather of days as CSV" accept=".csv,.txt,text/csv" onread={(t) => ((text = t), void read())} />
        {#if file}
          <FileUnits bind:units metric="millimetres, °C" imperial="inches, °F" onchange={() => read(file!.columns)} />
          <Columns
            heads={file.heads}
            columns={file.columns}
            fields={[
              { key: 'day', label: 'Day', needed: true },
              { key: 'rain', label: 'Rain, mm', needed: true },
              { key: 'mean', label: 'Mean, °C' },
              { key: 'least', label: 'Lowest, °C' },
              { key: 'most', label: 'Highest, °C' },
              { key: 'sun', label: 'Sun, h' },
            ]}
            onchange={(c) => read(c)}
          />
          <p>
            {many(file.good, 'day')}{file.from
              ? `, ${sayDay(moment(file.from, '12:00'))} to ${sayDay(moment(file.until!, '12:00'))}`
              : ''}.
          </p>
          <BadRows rows={file.bad} />
          <div>
            <Button kind="main" disabled={!file.good} onclick={() => read(file!.columns, true)}
              >Bring in {many(file.good, 'day')}</Button
            >
          </div>
        {/if}
        {#if house.may('manager')}
          <p class="text-[15px]">
            {weather.data.station
              ? 'Made-up weather fills the days nobody wrote down: for trying things out.'
              : 'Without a station at hand Fjell can make weather up, the same each time, so that everything can be tried.'}
          </p>
          <div class="flex flex-wrap items-end gap-3">
            <Button onclick={() => set(!weather.data!.station)}
              >{weather.data.station ? 'Switch made-up weather off' : 'Use made-up weather'}</Button
            >
            <div class="w-44">
              <NumberField
                label="Water the soil holds"
                unit="mm"
                bind:value={() => soil ?? weather.data!.soil_mm, (v) => (soil = v)}
                error={refusal?.at('soil_mm')}
              />
            </div>
            <Button kind="quiet" disabled={soil === null} onclick={() => set(weather.data!.station)}>Keep</Button>
          </div>
          <Climate climate={weather.data.climate} {refusal} onkeep={(place) => set(weather.data!.station, place)} />
          <p class="text-sm text-soft">Sand holds about 50 mm, loam 90, deep clay loam 140, within reach of grass roots.</p>
        {/if}
      </div>
    </div>
  {/if}
{:else}
  <Loading error={weather.error} what="the weather" />
{/if}
