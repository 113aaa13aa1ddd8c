<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Schemas } from '../../api/client'
  import Reason from '../../ui/Reason.svelte'
  import ChartTable from '../../charts/ChartTable.svelte'
  import Figure from '../../ui/Figure.svelte'
  import { withUnit } from '../../ui/units'
  import { dayMonth, moment } from '../../ui/time.svelte'
  import { house } from '../../ui/house.svelte'

  let { carrying: c }: { carrying: Schemas['Carrying'] } = $props()
  const months = ['J', 'F', 'M', 'A', 'M', 'J', 'J', 'A', 'S', 'O', 'N', 'D']
  const names = months.map((_, i) => new Date(Date.UTC(2026, i, 1)).toLocaleString('en-GB', { month: 'long', timeZone: 'UTC' }))
  const w = 420
  const h = 120
  const most = $derived(Math.max(1, ...c.eatable_kg_dm, ...c.eaten_kg_dm))
  const y = $derived(
    scaleLinear()
      .domain([0, most])
      .range([h - 18, 6]),
  )
  const step = w / 12
</script>

<section class="rounded-2xl border border-line bg-surface p-5" aria-label="Does the land carry them?">
  <div class="flex flex-wrap items-center gap-x-8 gap-y-3">
    <div class="min-w-[260px] flex-1">
      <h2>Does the land carry them?</h2>
      <p class="mt-1">
        <span class={c.severity === 'short' ? 'text-stop' : c.severity === 'close' ? 'text-now-ink' : ''}
          ><Figure
            value={c.figure.value}
            unit="share"
            size="huge"
            working={c.figure}
            title="Share eaten of what the land grows for them"
          /></span
        >
        <span class="text-soft">of what it grows for them is eaten in the year</span>
      </p>
      <p class="mt-1 {c.severity === 'carries' ? '' : 'font-semibold'}">
        <Reason reason={{ text: c.sentence, figures: c.figures }} />
      </p>
      <p class="mt-1 text-sm text-soft">
        A first warning, not a budget: hay, stored feed and the weather of this year are left out.
      </p>
    </div>
    <svg
      viewBox="0 0 {w} {h}"
      class="w-[420px] max-w-full"
      role="img"
      aria-label="What can be eaten and what is eaten, month by month"
    >
      {#each months as m, i (i)}
        <rect
          x={i * step + 3}
          width={step - 6}
          y={y(c.eatable_kg_dm[i]!)}
          height={y(0) - y(c.eatable_kg_dm[i]!)}
          fill="var(--feed-2)"
        >
          <title>can be eaten: {withUnit(c.eatable_kg_dm[i]!, 'kg', house.system)}</title>
        </rect>
        <line
          x1={i * step + 1}
          x2={(i + 1) * step - 1}
          y1={y(c.eaten_kg_dm[i]!)}
          y2={y(c.eaten_kg_dm[i]!)}
          stroke={c.short_months.includes(i + 1) ? 'var(--stop)' : 'var(--ink)'}
          stroke-width="3"
        />
        <text x={i * step + step / 2} y={h - 3} font-size="12" text-anchor="middle" fill="var(--soft)">{m}</text>
      {/each}
    </svg>
  </div>
  <p class="text-sm text-soft">
    Bars: grown for them, after what is trodden and lost. Lines: eaten; red where the month falls short. Counted: twelve months
    from
    {dayMonth(moment(c.from, '12:00'))}.
  </p>
  <ChartTable
    caption="What can be eaten and what is eaten, month by month"
    heads={['Month', 'Can be eaten', 'Eaten', 'Short']}
    rows={names.map((m, i) => [
      m,
      withUnit(c.eatable_kg_dm[i]!, 'kg', house.system),
      withUnit(c.eaten_kg_dm[i]!, 'kg', house.system),
      c.short_months.includes(i + 1) ? 'short' : '',
    ])}
  />
</section>
