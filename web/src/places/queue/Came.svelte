<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale'
  import { curveMonotoneX, line } from 'd3-shape'
  import type { Schemas } from '../../api/client'
  import ChartTable from '../../charts/ChartTable.svelte'
  import { house } from '../../ui/house.svelte'
  import { dayMonth, now, shortDay } from '../../ui/time.svelte'
  import { number } from '../../ui/units'

  // Eight weeks of cover: expected without, expected with, and what stood.
  let { days }: { days: Schemas['DecisionDay'][] } = $props()

  let width = $state(400)
  const height = 128
  const foot = 104
  const at = $derived(days.map((d) => ({ ...d, t: new Date(d.at) })))
  const all = $derived(days.flatMap((d) => [d.without_kg_dm_ha, d.with_kg_dm_ha, d.stood_kg_dm_ha ?? d.with_kg_dm_ha]))
  const x = $derived(
    scaleTime()
      .domain([at[0]?.t ?? now(), at[at.length - 1]?.t ?? now()])
      .range([2, width - 2]),
  )
  const y = $derived(
    scaleLinear()
      .domain([Math.min(...all) * 0.9, Math.max(...all) * 1.05])
      .range([foot, 22]),
  )
  const path = (of: (d: (typeof at)[number]) => number) =>
    line<(typeof at)[number]>()
      .x((d) => x(d.t))
      .y((d) => y(of(d)))
      .curve(curveMonotoneX)
  const without = $derived(path((d) => d.without_kg_dm_ha)(at) ?? '')
  const withIt = $derived(path((d) => d.with_kg_dm_ha)(at) ?? '')
  const past = $derived(at.filter((d) => d.stood_kg_dm_ha !== null))
  const stood = $derived(path((d) => d.stood_kg_dm_ha!)(past) ?? '')
  const last = $derived(past[past.length - 1])
</script>

<div bind:clientWidth={width}>
  <svg {width} {height} aria-hidden="true">
    <text x="2" y="13" font-size="12.5" fill="var(--ink)"
      >{past.length > 1 ? 'thick: what stood · ' : ''}line: expected · dashed: without it</text
    >
    <line x1="0" x2={width} y1={foot} y2={foot} stroke="var(--line)" />
    <path d={without} fill="none" stroke="var(--soft)" stroke-width="1.6" stroke-dasharray="6 4" />
    <path d={withIt} fill="none" stroke="var(--tarn)" stroke-width="2" />
    {#if past.length > 1}<path d={stood} fill="none" stroke="var(--feed-4)" stroke-width="5" stroke-linecap="round" />{/if}
    {#if last}<circle cx={x(last.t)} cy={y(last.stood_kg_dm_ha!)} r="5.5" fill="var(--feed-4)" />{/if}
    {#each at.filter((_, i) => i % 14 === 0) as d, i (d.t.getTime())}
      <text
        x={x(d.t)}
        y={height - 8}
        font-size="12.5"
        fill="var(--soft)"
        text-anchor={i === 0 ? 'start' : i === 4 ? 'end' : 'middle'}>{dayMonth(d.t)}</text
      >
    {/each}
  </svg>
</div>
<ChartTable
  unseen
  caption="Cover after the decision: expected without it, expected with it, and what stood"
  heads={['Week', 'Without it', 'Expected', 'Stood']}
  rows={at
    .filter((_, i) => i % 7 === 0)
    .map((d) => [
      shortDay(d.t),
      number(d.without_kg_dm_ha, 'kg_ha', house.system),
      number(d.with_kg_dm_ha, 'kg_ha', house.system),
      d.stood_kg_dm_ha === null ? '' : number(d.stood_kg_dm_ha, 'kg_ha', house.system),
    ])}
/>
