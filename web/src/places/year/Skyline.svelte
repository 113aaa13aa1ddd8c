<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Schemas } from '../../api/client'
  import ChartTable from '../../charts/ChartTable.svelte'
  import { house } from '../../ui/house.svelte'
  import { phone } from '../../ui/media.svelte'
  import { number, withUnit } from '../../ui/units'

  type Month = Schemas['BudgetMonth']
  interface Props {
    months: Month[]
    /** what the bars are stacked by, and how much of each can be eaten in a month */
    parts: string[]
    of: (m: Month) => number[]
    chosen: number
    onchoose: (month: number) => void
  }
  let { months, parts, of, chosen, onchoose }: Props = $props()

  let width = $state(860)
  const height = $derived(phone.current ? 300 : 340)
  const top = 26
  const foot = $derived(height - 46)
  const left = 44
  const wanted = (m: Month) => m.wanted_kg_dm
  const supply = (m: Month) => m.supply_kg_dm
  const most = $derived(Math.max(1000, ...months.map((m) => Math.max(wanted(m), m.supply_high_kg_dm, supply(m) + m.fed_kg_dm))))
  const y = $derived(
    scaleLinear()
      .domain([0, most * 1.04])
      .range([foot, top]),
  )
  const step = $derived((width - left - 4) / Math.max(1, months.length))
  const x = (i: number) => left + i * step
  const gap = $derived(step > 26 ? 3 : 1)
  const ticks = $derived(y.ticks(4).filter((t) => t > 0))
  // Four tones, and the same again paler: two that look alike never lie on one another.
  const tone = (s: number) => {
    const full = `var(--feed-${1 + (s % 4)})`
    return s < 4 ? full : `color-mix(in srgb, ${full} 50%, var(--surface))`
  }
  const initial = (m: Month) => new Date(m.from).toLocaleDateString('en', { month: 'short', timeZone: house.farm?.time_zone })
  const yearOf = (m: Month) => new Date(m.from).toLocaleDateString('en', { year: 'numeric', timeZone: house.farm?.time_zone })
  const named = (m: Month) => `${initial(m)} ${yearOf(m)}`
  // The line of what is wanted steps from month to month.
  const demand = $derived(months.map((m, i) => `${i ? 'L' : 'M'}${x(i)} ${y(wanted(m))}H${x(i) + step}`).join(''))
  // Bars stand on one another: what each is, from where to where.
  const bars = (m: Month) => {
    let at = 0
    const eatable = of(m)
    const out = parts.map((_, s) => {
      const from = at
      at += eatable[s]!
      return { from, to: at, fill: tone(s) }
    })
    return { parts: out, snow: { from: at, to: at + m.over_kg_dm } }
  }
  const spoken = (m: Month) =>
    `${initial(m)} ${yearOf(m)}: ${withUnit(supply(m), 'kg_fodder', house.system)} to eat, ${withUnit(wanted(m), 'kg_fodder', house.system)} wanted${m.hungry ? `, ${withUnit(m.missing_kg_dm, 'kg_fodder', house.system)} missing` : ''}`
  function key(e: KeyboardEvent, i: number) {
    const to =
      e.key === 'ArrowRight'
        ? i + 1
        : e.key === 'ArrowLeft'
          ? i - 1
          : e.key === 'Home'
            ? 0
            : e.key === 'End'
              ? months.length - 1
              : -1
    if (e.key === 'Enter' || e.key === ' ') onchoose(i)
    else if (to >= 0 && to < months.length) {
      onchoose(to)
      ;(e.currentTarget as SVGElement).parentElement?.querySelectorAll<SVGElement>('[role=button]')[to]?.focus()
    } else return
    e.preventDefault()
  }
</script>

<div bind:clientWidth={width}>
  <svg
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    class="print:h-auto print:max-h-[6cm] print:w-full"
    role="group"
    aria-label="Feed month by month"
  >
    <defs>
      <pattern id="hungry" width="6" height="6" patternUnits="userSpaceOnUse"
        ><circle cx="2" cy="2" r="1.3" fill="var(--stop)" /></pattern
      >
      <pattern id="stored" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
        ><line x1="0" x2="0" y1="0" y2="6" stroke="var(--now)" stroke-width="2.4" /></pattern
      >
      <linearGradient id="mist" x1="0" x2="0" y1="0" y2="1"
        ><stop offset="0" stop-color="var(--tarn)" stop-opacity="0.04" /><stop
          offset="0.5"
          stop-color="var(--tarn)"
          stop-opacity="0.26"
        /><stop offset="1" stop-color="var(--tarn)" stop-opacity="0.04" /></linearGradient
      >
    </defs>
    {#each ticks as t (t)}
      <line x1={left} x2={width} y1={y(t)} y2={y(t)} stroke="var(--line)" />
      <text x={left - 6} y={y(t) + 4} font-size="12" text-anchor="end" fill="var(--soft)"
        >{number(t, 'kg_fodder', house.system, 0)}</text
      >
    {/each}
    <text x="2" y="12" font-size="12" fill="var(--soft)"
      >{withUnit(1, 'kg_fodder', house.system).replace(/[\d.,\s]/g, '')} a month, dry matter</text
    >
    {#each months as m, i (m.from)}
      {@const b = bars(m)}
      {@const stands = supply(m)}
      <g
        role="button"
        tabindex={i === Math.max(0, chosen) ? 0 : -1}
        aria-label={spoken(m)}
        aria-pressed={chosen === i}
        class="cursor-pointer focus-visible:outline-none [&:focus-visible_.ring]:stroke-(--tarn)"
        onclick={() => onchoose(i)}
        onkeydown={(e) => key(e, i)}
      >
        <rect
          class="ring"
          x={x(i) + 1}
          y={top - 4}
          width={Math.max(0, step - 2)}
          height={foot - top + 8}
          rx="4"
          fill={chosen === i ? 'var(--tarn-wash)' : 'transparent'}
          stroke="transparent"
          stroke-width="2.5"
        />
        {#each b.parts as s, k (k)}
          <rect
            x={x(i) + gap}
            y={y(s.to)}
            width={Math.max(1, step - 2 * gap)}
            height={Math.max(0, y(s.from) - y(s.to))}
            fill={s.fill}
          />
        {/each}
        <rect
          x={x(i) + gap}
          y={y(b.snow.to)}
          width={Math.max(1, step - 2 * gap)}
          height={Math.max(0, y(b.snow.from) - y(b.snow.to))}
          fill="var(--surface)"
          stroke="var(--feed-3)"
          stroke-width={b.snow.to > b.snow.from ? 1 : 0}
        />
        {#if m.fed_kg_dm > 1}
          {@const base = m.eaten_kg_dm}
          <rect
            x={x(i) + gap}
            y={y(base + m.fed_kg_dm)}
            width={Math.max(1, step - 2 * gap)}
            height={Math.max(0, y(base) - y(base + m.fed_kg_dm))}
            fill="url(#stored)"
            stroke="var(--now)"
            stroke-width="1"
          />
        {/if}
        {#if m.hungry}
          {@const base = m.eaten_kg_dm + m.fed_kg_dm}
          <rect
            x={x(i) + gap}
            y={y(wanted(m))}
            width={Math.max(1, step - 2 * gap)}
            height={Math.max(0, y(base) - y(wanted(m)))}
            fill="url(#hungry)"
            stroke="var(--stop)"
            stroke-dasharray="3 3"
          />
        {/if}
        <rect
          x={x(i) + gap}
          y={y(m.supply_high_kg_dm)}
          width={Math.max(1, step - 2 * gap)}
          height={Math.max(0, y(m.supply_low_kg_dm) - y(m.supply_high_kg_dm))}
          fill="url(#mist)"
        >
          <title
            >{spoken(m)}; {withUnit(m.supply_low_kg_dm, 'kg_fodder', house.system)} to {withUnit(
              m.supply_high_kg_dm,
              'kg_fodder',
              house.system,
            )} in eight years of ten, {withUnit(stands, 'kg_fodder', house.system)} in an ordinary one</title
          >
        </rect>
      </g>
      {#if step > 24 || i % 3 === 0}
        <text x={x(i) + step / 2} y={foot + 17} font-size="12.5" text-anchor="middle" fill="var(--ink)"
          >{step > 30 ? initial(m) : initial(m).slice(0, 1)}</text
        >
      {/if}
      {#if i === 0 || initial(m) === 'Jan'}
        <text
          x={x(i) + (step > 30 ? step / 2 : 2)}
          y={foot + 34}
          font-size="12"
          text-anchor={step > 30 ? 'middle' : 'start'}
          fill="var(--soft)">{yearOf(m)}</text
        >
      {/if}
    {/each}
    <path d={demand} fill="none" stroke="var(--ink)" stroke-width="2.4" stroke-linejoin="round" pointer-events="none" />
    <line x1={left} x2={width} y1={foot} y2={foot} stroke="var(--soft)" />
  </svg>
</div>
<ul class="flex flex-wrap gap-x-5 gap-y-1 text-sm" aria-label="What is drawn">
  <li class="flex items-center gap-1.5">
    <svg width="20" height="12" aria-hidden="true"><path d="M0 6h20" stroke="var(--ink)" stroke-width="2.4" /></svg>what they want
  </li>
  {#each parts as s, i (s)}<li class="flex items-center gap-1.5">
      <span class="inline-block size-3.5 rounded-sm" style:background={tone(i)}></span>{s}
    </li>{/each}
  <li class="flex items-center gap-1.5">
    <span class="inline-block size-3.5 rounded-sm border border-(--feed-3) bg-surface"></span>stands over from before
  </li>
  <li class="flex items-center gap-1.5">
    <svg width="14" height="14" aria-hidden="true"><rect width="14" height="14" fill="url(#stored)" stroke="var(--now)" /></svg
    >out of the store
  </li>
  <li class="flex items-center gap-1.5">
    <svg width="14" height="14" aria-hidden="true"
      ><rect width="14" height="14" fill="url(#hungry)" stroke="var(--stop)" stroke-dasharray="3 3" /></svg
    >missing
  </li>
  <li class="flex items-center gap-1.5">
    <svg width="14" height="14" aria-hidden="true"><rect width="14" height="14" fill="url(#mist)" /></svg>eight years of ten
  </li>
</ul>
<ChartTable
  unseen
  caption="Feed month by month, dry matter"
  heads={['Month', 'Wanted', 'Grows, to eat', 'Stands over', 'Out of the store', 'Missing', 'Chance of missing']}
  rows={months.map((m) => [
    named(m),
    withUnit(wanted(m), 'kg_fodder', house.system),
    withUnit(m.eatable_kg_dm, 'kg_fodder', house.system),
    withUnit(m.over_kg_dm, 'kg_fodder', house.system),
    withUnit(m.fed_kg_dm, 'kg_fodder', house.system),
    withUnit(m.missing_kg_dm, 'kg_fodder', house.system),
    withUnit(m.short_chance, 'share', house.system),
  ])}
/>
