<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale'
  import { area, curveMonotoneX, line } from 'd3-shape'
  import { push } from 'svelte-spa-router'
  import { api, ask } from '../api/client'
  import { useMobs, useRidge } from '../api/queries.svelte'
  import { press } from '../api/write.svelte'
  import ChartTable from './ChartTable.svelte'
  import { tone } from '../ui/glyph'
  import { house } from '../ui/house.svelte'
  import { addDays, dayMonth, isHeld, now, shortDay } from '../ui/time.svelte'
  import { number, withUnit } from '../ui/units'

  let { farm, current }: { farm: string; current: string } = $props()

  const ridge = useRidge(() => farm)
  const mobs = useMobs(() => farm)
  let width = $state(1200)
  let height = $state(96)
  let read = $state<number | null>(null)

  const data = $derived(ridge.data)
  const days = $derived((data?.days ?? []).map((d) => ({ ...d, t: new Date(d.at) })))
  const x = $derived(
    scaleTime()
      .domain(data ? [new Date(data.from), new Date(data.to)] : [now(), addDays(now(), 1)])
      .range([0, width]),
  )
  const top = $derived(
    Math.max(1000, ...days.map((d) => d.cover_kg_dm_ha + d.half_width_kg_dm_ha * 0.6), (data?.needed_kg_dm_ha ?? 0) * 1.2),
  )
  const foot = $derived(height > 60 ? height - 16 : height)
  const y = $derived(
    scaleLinear()
      // Below half of what the plan needs there is nothing to read: the skyline starts there, and says so by its label.
      .domain([Math.min(0.5 * (data?.needed_kg_dm_ha ?? 0), ...days.map((d) => d.cover_kg_dm_ha * 0.9)), top])
      .range([foot, 12]),
  )
  const shape = $derived(
    area<(typeof days)[number]>()
      .x((d) => x(d.t))
      .y0(foot)
      .y1((d) => y(d.cover_kg_dm_ha))
      .curve(curveMonotoneX),
  )
  const mist = $derived(
    area<(typeof days)[number]>()
      .x((d) => x(d.t))
      .y0((d) => y(Math.max(0, d.cover_kg_dm_ha - d.half_width_kg_dm_ha)))
      .y1((d) => y(d.cover_kg_dm_ha + d.half_width_kg_dm_ha))
      .curve(curveMonotoneX),
  )
  const crest = $derived(
    line<(typeof days)[number]>()
      .x((d) => x(d.t))
      .y((d) => y(d.cover_kg_dm_ha))
      .curve(curveMonotoneX),
  )
  const planned = $derived(days.filter((d) => data && d.t <= new Date(data.plan_ends)))
  const beyond = $derived(days.filter((d) => data && d.t >= addDays(new Date(data.plan_ends), -1)))
  const here = $derived(data ? x(new Date(data.now)) : 0)
  const ticks = $derived(x.ticks(width > 800 ? 8 : 4).filter((t) => x(t) > 20 && x(t) < width - 40 && Math.abs(x(t) - here) > 34))
  const glyphOf = $derived(new Map((mobs.data ?? []).map((m) => [m.id, m.glyph])))
  const chosen = $derived(read === null ? null : (days[read] ?? null))

  // Shortages: where the plan runs short, and where cover falls below what the plan needs.
  const below = $derived.by(() => {
    const spans: { from: Date; to: Date }[] = []
    for (const d of days) {
      if (!data || d.t < new Date(data.now) || d.cover_kg_dm_ha >= data.needed_kg_dm_ha) continue
      const last = spans[spans.length - 1]
      if (last && d.t.getTime() - last.to.getTime() < 3 * 86_400_000) last.to = d.t
      else spans.push({ from: d.t, to: d.t })
    }
    return spans
  })
  const cuts = $derived([...(data?.short ?? []).map((s) => ({ from: new Date(s.from), to: new Date(s.to) }))])
  const firstShort = $derived(cuts[0] ?? below[0])

  function nearest(clientX: number, box: DOMRect) {
    const t = x.invert(clientX - box.left).getTime()
    let best = 0
    days.forEach((d, i) => {
      if (Math.abs(d.t.getTime() - t) < Math.abs(days[best]!.t.getTime() - t)) best = i
    })
    return best
  }

  function key(e: KeyboardEvent) {
    const step = e.shiftKey ? 7 : 1
    const start = read ?? days.findIndex((d) => data && d.t >= new Date(data.now))
    if (e.key === 'ArrowRight') read = Math.min(days.length - 1, start + step)
    else if (e.key === 'ArrowLeft') read = Math.max(0, start - step)
    else if (e.key === 'Enter' || e.key === ' ') choose()
    else if (e.key === 'Escape') read = null
    else return
    e.preventDefault()
  }

  // A chosen day is shown where days can be seen: in the plan of moves.
  function choose() {
    if (!chosen) return
    house.chosenDay = chosen.t.getTime()
    if (current !== 'moves') void push(`/f/${farm}/moves`)
  }

  const forward = () => press(() => ask(api.POST('/api/clock/forward', { body: { days: 1 } })))
</script>

<section
  class="no-print relative h-24 shrink-0 border-b border-line bg-surface max-md:h-10"
  aria-label="Average grass on the farm, four weeks back and twelve ahead"
>
  <div class="absolute inset-0" bind:clientWidth={width} bind:clientHeight={height}>
    {#if data && days.length > 1}
      <div
        class="h-full w-full focus-visible:outline-offset-[-3px]"
        role="slider"
        tabindex="0"
        aria-label="Read farm cover day by day"
        aria-valuemin={0}
        aria-valuemax={days.length - 1}
        aria-valuenow={read ?? 0}
        aria-valuetext={chosen
          ? `${shortDay(chosen.t)}: cover ${withUnit(chosen.cover_kg_dm_ha, 'kg_ha', house.system)}, give or take ${number(chosen.half_width_kg_dm_ha, 'kg_ha', house.system)}`
          : 'no day chosen'}
        onpointermove={(e) => (read = nearest(e.clientX, e.currentTarget.getBoundingClientRect()))}
        onpointerleave={() => (read = null)}
        onclick={choose}
        onkeydown={key}
      >
        <svg {width} {height} class="block" aria-hidden="true">
          <defs>
            <linearGradient id="ridge-fill" x1="0" y1="0" x2="0" y2="1">
              <stop offset="0" stop-color="var(--feed-3)" />
              <stop offset="0.55" stop-color="var(--feed-2)" />
              <stop offset="1" stop-color="var(--feed-0)" />
            </linearGradient>
            <clipPath id="ridge-ahead"><rect x={here} y="0" width={Math.max(0, width - here)} {height} /></clipPath>
          </defs>
          <path d={mist(days) ?? ''} fill="var(--feed-3)" opacity="0.16" />
          <path d={shape(days) ?? ''} fill="url(#ridge-fill)" opacity="0.5" />
          <path d={shape(days.filter((d) => d.t <= new Date(data.now))) ?? ''} fill="url(#ridge-fill)" />
          {#each cuts as s, i (i)}
            <rect
              x={x(s.from)}
              width={Math.max(3, x(s.to) - x(s.from))}
              y="12"
              height={foot - 12}
              fill="var(--stop)"
              opacity="0.16"
            />
            <rect x={x(s.from)} width={Math.max(3, x(s.to) - x(s.from))} y={foot - 4} height="4" fill="var(--stop)" />
          {/each}
          {#each below as s, i (i)}
            <rect
              x={x(s.from)}
              width={Math.max(3, x(s.to) - x(s.from))}
              y={foot - 4}
              height="4"
              fill="var(--stop)"
              opacity="0.7"
            />
          {/each}
          <path d={crest(planned) ?? ''} fill="none" stroke="var(--feed-4)" stroke-width="1.6" />
          <path d={crest(beyond) ?? ''} fill="none" stroke="var(--feed-4)" stroke-width="1.4" stroke-dasharray="4 4" />
          <line
            x1="0"
            x2={width}
            y1={y(data.needed_kg_dm_ha)}
            y2={y(data.needed_kg_dm_ha)}
            stroke="var(--ink)"
            stroke-width="1"
            stroke-dasharray="1 4"
          />
          {#if height > 60}
            {#each data.moves as m, i (i)}
              <path
                d="M{x(new Date(m.at)) - 3.5} {foot} l3.5 -6 l3.5 6z"
                fill={tone(glyphOf.get(m.mob_id) ?? '')}
                opacity={m.past ? 1 : 0.55}
              />
            {/each}
            {#each ticks as t, i (i)}
              <text x={x(t)} y={height - 4} font-size="12" text-anchor="middle" fill="var(--soft)">{dayMonth(t)}</text>
            {/each}
          {/if}
          <line x1={here} x2={here} y1="4" y2={foot} stroke="var(--now)" stroke-width="2.5" />
          {#if chosen}
            <line x1={x(chosen.t)} x2={x(chosen.t)} y1="0" y2={foot} stroke="var(--ink)" stroke-width="1" />
            <circle
              cx={x(chosen.t)}
              cy={y(chosen.cover_kg_dm_ha)}
              r="4"
              fill="var(--surface)"
              stroke="var(--ink)"
              stroke-width="2"
            />
          {/if}
        </svg>
      </div>
      <ChartTable
        unseen
        caption="Average grass on the farm, week by week"
        heads={['Day', 'Grass standing', 'Give or take']}
        rows={days
          .filter((_, i) => i % 7 === 0)
          .map((d) => [
            shortDay(d.t),
            withUnit(d.cover_kg_dm_ha, 'kg_ha', house.system),
            withUnit(d.half_width_kg_dm_ha, 'kg_ha', house.system),
          ])}
      />
      <div class="pointer-events-none absolute top-1 left-3 flex flex-col rounded bg-surface/80 px-1.5 max-md:top-0.5">
        {#if chosen}
          <span class="text-sm font-bold">{shortDay(chosen.t)}</span>
          <span class="text-sm max-md:hidden"
            >cover {number(chosen.cover_kg_dm_ha, 'kg_ha', house.system)} ± {number(
              chosen.half_width_kg_dm_ha,
              'kg_ha',
              house.system,
            )}</span
          >
        {:else}
          <span class="text-sm font-bold max-md:hidden">{house.farm?.name}</span>
          {#if data.cover}
            <button
              type="button"
              class="pointer-events-auto min-h-8 text-left text-sm underline decoration-line decoration-2 underline-offset-2 hover:decoration-tarn"
              title="Show the working"
              onclick={() => (house.working = { title: 'Average grass on the farm', figure: data.cover! })}
              >cover {number(data.cover.value, 'kg_ha', house.system)} ± {withUnit(
                data.half_width_kg_dm_ha,
                'kg_ha',
                house.system,
              )}</button
            >
          {/if}
        {/if}
      </div>
      {#if height > 60}
        <div
          class="pointer-events-none absolute top-1 rounded bg-surface/80 px-1.5 text-sm font-bold text-now-ink"
          style:left="{here + 6}px"
        >
          today, {shortDay(new Date(data.now))}
        </div>
        <div
          class="pointer-events-none absolute right-2 rounded bg-surface/80 px-1 text-xs text-ink"
          style:top="{Math.max(2, y(data.needed_kg_dm_ha) - 17)}px"
        >
          cover the plan needs, {number(data.needed_kg_dm_ha, 'kg_ha', house.system)}
        </div>
        {#if firstShort && x(firstShort.from) > here + 170}
          <div
            class="pointer-events-none absolute top-6 rounded bg-stop-wash px-1.5 text-sm font-bold text-stop"
            style:left="{Math.min(width - 320, x(firstShort.from))}px"
          >
            {cuts.length ? 'short' : 'below it'} from {dayMonth(firstShort.from)}
          </div>
        {/if}
      {/if}
    {:else if data}
      <div class="flex h-full items-center px-5 text-soft">
        {height > 60
          ? 'The ridge draws itself once a paddock has been walked: farm cover behind you, and twelve weeks ahead.'
          : 'Walk a paddock, and its ridge is drawn here.'}
      </div>
    {/if}
  </div>
  {#if isHeld() && house.farm?.clock_moves && height > 60}
    <button
      type="button"
      class="absolute top-1 right-2 min-h-6 rounded-md border border-now bg-now-wash px-2 text-xs font-semibold text-now-ink"
      title="The demo's clock stands still; this moves it on by a day"
      onclick={forward}>demo clock · a day on</button
    >
  {/if}
</section>
