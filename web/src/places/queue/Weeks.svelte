<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale'
  import { area, curveMonotoneX, line } from 'd3-shape'
  import type { Schemas } from '../../api/client'
  import ChartTable from '../../charts/ChartTable.svelte'
  import { house } from '../../ui/house.svelte'
  import { dayMonth, now, shortDay } from '../../ui/time.svelte'
  import { number } from '../../ui/units'

  // Eight weeks of cover on the ground of a queue: filled with what is tried, dashed as it is.
  let { tried }: { tried: Schemas['TryView'] } = $props()

  let width = $state(300)
  const height = 116
  const foot = 92
  const day = (d: Schemas['TriedDay']) => ({ t: new Date(d.at), mass: d.forage_mass_kg_dm_ha })
  const before = $derived(tried.before.cover.map(day))
  const behind = $derived(tried.behind.cover.map(day))
  const all = $derived([...before, ...behind].map((d) => d.mass))
  const x = $derived(
    scaleTime()
      .domain([before[0]?.t ?? now(), before[before.length - 1]?.t ?? now()])
      .range([0, width]),
  )
  const y = $derived(
    scaleLinear()
      .domain([Math.min(...all, tried.needed_kg_dm_ha) * 0.85, Math.max(...all, tried.needed_kg_dm_ha) * 1.05])
      .range([foot, 18]),
  )
  const fill = $derived(
    area<(typeof before)[number]>()
      .x((d) => x(d.t))
      .y0(foot)
      .y1((d) => y(d.mass))
      .curve(curveMonotoneX)(behind) ?? '',
  )
  const dashed = $derived(
    line<(typeof before)[number]>()
      .x((d) => x(d.t))
      .y((d) => y(d.mass))
      .curve(curveMonotoneX)(before) ?? '',
  )
  const ends = $derived(before.filter((_, i) => i % 14 === 0))
</script>

<div bind:clientWidth={width}>
  <svg {width} {height} aria-hidden="true">
    <path d={fill} fill="var(--feed-2)" opacity="0.75" />
    <line
      x1="0"
      x2={width}
      y1={y(tried.needed_kg_dm_ha)}
      y2={y(tried.needed_kg_dm_ha)}
      stroke="var(--ink)"
      stroke-dasharray="2 4"
    />
    <path d={dashed} fill="none" stroke="var(--ink)" stroke-width="1.6" stroke-dasharray="6 4" />
    {#each tried.behind.gaps as g (g.from)}
      <rect
        x={x(new Date(g.from))}
        width={Math.max(3, x(new Date(g.until)) - x(new Date(g.from)))}
        y={foot - 5}
        height="5"
        fill="var(--stop)"
      />
    {/each}
    <text x="2" y="12" font-size="12" fill="var(--ink)">dashed: as it is · dotted: what the round needs</text>
    {#each ends as d, i (d.t.getTime())}
      <text
        x={x(d.t)}
        y={height - 6}
        font-size="12"
        fill="var(--soft)"
        text-anchor={i === 0 ? 'start' : i === ends.length - 1 ? 'end' : 'middle'}>{dayMonth(d.t)}</text
      >
    {/each}
  </svg>
</div>
<ChartTable
  unseen
  caption="What stands in the next eight weeks, as it is and so"
  heads={['Week', 'As it is', 'So']}
  rows={before
    .filter((_, i) => i % 7 === 0)
    .map((d, i) => [
      shortDay(d.t),
      number(d.mass, 'kg_ha', house.system),
      number(behind[i * 7]?.mass ?? d.mass, 'kg_ha', house.system),
    ])}
/>
