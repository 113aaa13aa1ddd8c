<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { area, curveStepAfter, stack } from 'd3-shape'
  import type { Schemas } from '../api/client'
  import ChartTable from './ChartTable.svelte'
  import { outline, tone } from '../ui/glyph'
  import { house } from '../ui/house.svelte'
  import { number, scale, withUnit } from '../ui/units'

  // A year of stock: every class a band on the ones beneath it, what happens to them as pegs above. A planned peg is
  // dragged to another day, or moved with the arrow keys and set with Enter.
  interface Props {
    year: Schemas['YearView']
    mobs: Schemas['MobView'][]
    movable: boolean
    chosen: string
    onday: (day: string) => void
    onpeg: (e: Schemas['EventView']) => void
    onmove: (e: Schemas['EventView'], day: string) => void
  }
  let { year, mobs, movable, chosen, onday, onpeg, onmove }: Props = $props()

  let width = $state(1000)
  const left = 58
  const right = 14
  const laneH = 30
  const n = $derived(year.total.length)

  const x = $derived(
    scaleLinear()
      .domain([0, n])
      .range([left, width - right]),
  )
  const dayOf = (iso: string) => Math.round((Date.parse(iso) - Date.parse(year.from)) / 86_400_000)
  // Where there is no room for words, the pegs' shapes stand alone and the words are listed beneath.
  const narrow = $derived(width < 640)
  const wordsWide = (e: Schemas['EventView']) => (narrow ? 26 : e.says.length * 7 + 32)

  let drag = $state<{ id: string; day: number } | null>(null)
  const shown = $derived(year.events.filter((e) => dayOf(e.day) >= 0 && dayOf(e.day) < n))
  // Pegs share lanes so that their words do not lie over each other; a new lane is begun where they would.
  const pegs = $derived.by(() => {
    const ends: number[] = []
    return shown
      .map((e) => ({ e, day: drag?.id === e.id ? drag.day : dayOf(e.day) }))
      .sort((a, b) => a.day - b.day)
      .map(({ e, day }) => {
        const at = x(day + 0.5)
        const wide = wordsWide(e)
        const flip = !narrow && at + wide > width - 4
        const start = flip ? at - wide : at - 12
        let lane = ends.findIndex((end) => start > end)
        if (lane < 0) lane = ends.length
        ends[lane] = start + wide + 10
        return { e, day, at, lane, flip, wide }
      })
  })

  const lanes = $derived(Math.max(2, ...pegs.map((p) => p.lane + 1)))
  const top = $derived(lanes * laneH + 14)
  const bandH = 250
  const foot = $derived(top + bandH)
  const height = $derived(foot + 26)
  const y = $derived(
    scaleLinear()
      .domain([0, Math.max(1, year.most) * 1.06])
      .range([foot, top + 8]),
  )
  // Round in the units that are read: pounds are not marked at 4 409.
  const rounded = $derived(
    scaleLinear()
      .domain([0, scale(year.unit, house.system).factor * Math.max(1, year.most) * 1.06])
      .ticks(4)
      .map((t) => t / scale(year.unit, house.system).factor),
  )
  const glyphOf = $derived(new Map(mobs.map((m) => [m.id, m])))
  const order = $derived(mobs.map((m) => m.id))
  const bands = $derived([...year.bands].sort((a, b) => order.indexOf(a.mob_id) - order.indexOf(b.mob_id)))
  const layers = $derived(
    stack<number, number>()
      .keys(bands.map((_, i) => i))
      .value((d, k) => bands[k]!.days[d] ?? 0)([...Array(n).keys()]),
  )
  const shape = $derived(
    area<[number, number]>()
      .x((_, i) => x(i))
      .y0((d) => y(d[0]))
      .y1((d) => y(d[1]))
      .curve(curveStepAfter),
  )
  // Within a mob each class is a shade of its tone, the first the darkest.
  const shade = $derived(
    bands.map((b, i) => {
      const k = bands.slice(0, i).filter((o) => o.mob_id === b.mob_id).length
      return [0.82, 0.5, 0.3, 0.62, 0.4][k % 5]!
    }),
  )
  const labels = $derived(
    bands.flatMap((b, i) => {
      const thin = [...Array(n).keys()].map((d) =>
        d < 20 || d > n - 30 ? 0 : Math.min(b.days[d]!, b.days[d - 18]!, b.days[d + 18]!),
      )
      const most = Math.max(...thin)
      const level = thin.flatMap((t, d) => (t > 0.97 * most ? [d] : []))
      const best = level[Math.floor(level.length / 2)] ?? -1
      const l = layers[i]!
      const room = x(level[level.length - 1] ?? 0) - x(level[0] ?? 0) + 40
      if (best < 0 || most <= 0 || room < b.name.length * 8 || y(0) - y(most) < 19) return []
      return [{ name: b.name, x: x(best), y: (y(l[best]![0]) + y(l[best]![1])) / 2 + 5, light: shade[i]! > 0.55 }]
    }),
  )
  const isoOf = (d: number) => new Date(Date.parse(year.from) + d * 86_400_000).toISOString().slice(0, 10)
  const sayIso = (iso: string) =>
    new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', weekday: 'short', day: 'numeric', month: 'long' }).format(new Date(iso))

  function inkOf(e: Schemas['EventView']): string {
    const mob = glyphOf.get(e.mob_ids[0] ?? '')
    return e.overdue ? 'var(--now-ink)' : mob ? tone(mob.glyph) : 'var(--soft)'
  }

  let read = $state<number | null>(null)
  const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
  const monthAt = $derived(months.map((m, i) => ({ m, d: dayOf(`${year.year}-${String(i + 1).padStart(2, '0')}-01`) })))

  function dayAt(e: PointerEvent | MouseEvent): number {
    const box = (e.currentTarget as Element).closest('svg')!.getBoundingClientRect()
    return Math.max(0, Math.min(n - 1, Math.floor(x.invert(((e.clientX - box.left) / box.width) * width))))
  }
  function grab(p: PointerEvent, e: Schemas['EventView']) {
    if (!movable || !e.planned) return
    ;(p.currentTarget as Element).setPointerCapture(p.pointerId)
    drag = { id: e.id, day: dayOf(e.day) }
  }
  function pull(p: PointerEvent) {
    if (drag) drag.day = Math.max(0, Math.min(n - 1, dayAt(p)))
  }
  function let_go(e: Schemas['EventView']) {
    if (!drag) return
    const day = drag.day
    drag = null
    if (day !== dayOf(e.day)) onmove(e, isoOf(day))
    else onpeg(e)
  }
  function keyed(k: KeyboardEvent, e: Schemas['EventView']) {
    const by = (k.shiftKey ? 7 : 1) * (k.key === 'ArrowRight' ? 1 : k.key === 'ArrowLeft' ? -1 : 0)
    if (by && movable && e.planned) {
      const from = drag?.id === e.id ? drag.day : dayOf(e.day)
      drag = { id: e.id, day: Math.max(0, Math.min(n - 1, from + by)) }
    } else if (k.key === 'Enter' || k.key === ' ') {
      if (drag?.id === e.id) let_go(e)
      else onpeg(e)
    } else if (k.key === 'Escape') drag = null
    else return
    k.preventDefault()
  }
  function readKey(k: KeyboardEvent) {
    const step = k.shiftKey ? 7 : 1
    const from = read ?? Math.max(0, Math.min(n - 1, year.today))
    if (k.key === 'ArrowRight') read = Math.min(n - 1, from + step)
    else if (k.key === 'ArrowLeft') read = Math.max(0, from - step)
    else if ((k.key === 'Enter' || k.key === ' ') && read !== null) onday(isoOf(read))
    else if (k.key === 'Escape') read = null
    else return
    k.preventDefault()
  }
  const readout = $derived(read ?? Math.max(0, Math.min(n - 1, year.today)))
</script>

<div class="relative" bind:clientWidth={width}>
  <p class="mb-1 text-[15px]" aria-live="polite">
    <strong>{sayIso(isoOf(readout))}</strong>:
    <span class="figure text-lg">{number(year.total[readout] ?? 0, year.unit, house.system)}</span>
    <span class="text-soft">{withUnit(0, year.unit, house.system).replace(/^[\d.\u00a0]+/, '')}</span>
    <span class="inline-flex flex-wrap gap-x-3 text-sm text-soft">
      {#each bands.filter((b) => (b.days[readout] ?? 0) > 0) as b (b.group_id)}
        <span class="whitespace-nowrap">{b.name} {number(b.days[readout]!, year.unit, house.system)}</span>
      {/each}
    </span>
  </p>
  <svg {width} {height} class="block max-w-full select-none" viewBox="0 0 {width} {height}">
    {#each rounded as t (t)}
      <line x1={left} x2={width - right} y1={y(t)} y2={y(t)} stroke="var(--line)" />
      <text x={left - 8} y={y(t) + 4} font-size="13" text-anchor="end" fill="var(--soft)"
        >{number(t, year.unit, house.system, 0)}</text
      >
    {/each}
    <g
      role="slider"
      tabindex="0"
      aria-label="Read the year day by day"
      aria-valuemin={0}
      aria-valuemax={n - 1}
      aria-valuenow={readout}
      aria-valuetext="{sayIso(isoOf(readout))}: {withUnit(year.total[readout] ?? 0, year.unit, house.system)}"
      onpointermove={(e) => (read = dayAt(e))}
      onpointerleave={() => (read = null)}
      onclick={(e) => onday(isoOf(dayAt(e)))}
      onkeydown={readKey}
      class="cursor-pointer"
    >
      <rect x={left} y={top} width={width - left - right} height={bandH} fill="transparent" />
      {#each layers as l, i (bands[i]!.group_id)}
        <path
          d={shape(l as unknown as [number, number][]) ?? ''}
          fill={tone(glyphOf.get(bands[i]!.mob_id)?.glyph ?? '')}
          fill-opacity={shade[i]}
          stroke="var(--surface)"
          stroke-width="1"
        />
      {/each}
      {#each labels as l (l.name)}
        <text
          x={l.x}
          y={l.y}
          font-size="14"
          font-weight="700"
          text-anchor="middle"
          fill={l.light ? 'var(--surface)' : 'var(--ink)'}>{l.name}</text
        >
      {/each}
      {#if read !== null}<line
          x1={x(read + 0.5)}
          x2={x(read + 0.5)}
          y1={top}
          y2={foot}
          stroke="var(--ink)"
          stroke-width="1.5"
        />{/if}
    </g>
    {#each monthAt as { m, d } (m)}
      <line x1={x(d)} x2={x(d)} y1={foot} y2={foot + 6} stroke="var(--soft)" />
      {#if Math.abs(d + 15 - year.today) > 12}<text
          x={x(d + 15)}
          y={foot + 19}
          font-size="13"
          text-anchor="middle"
          fill="var(--soft)">{m}</text
        >{/if}
    {/each}
    <line x1={left} x2={width - right} y1={foot} y2={foot} stroke="var(--soft)" />
    {#if year.today >= 0 && year.today < n}
      <line x1={x(year.today + 0.5)} x2={x(year.today + 0.5)} y1={top - 6} y2={foot} stroke="var(--now)" stroke-width="3" />
      <text x={x(year.today + 0.5)} y={foot + 19} font-size="13" font-weight="700" text-anchor="middle" fill="var(--now-ink)"
        >today</text
      >
    {/if}
    {#each pegs as { e, at, lane } (e.id)}
      <line
        x1={at}
        x2={at}
        y1={lane * laneH + 16}
        y2={foot}
        stroke={inkOf(e)}
        stroke-width={drag?.id === e.id ? 2.5 : 1.2}
        stroke-dasharray={e.planned ? '3 4' : undefined}
        opacity="0.6"
      />
    {/each}
    {#each pegs as { e, day, at, lane, flip, wide } (e.id)}
      {@const py = lane * laneH + 16}
      {@const mob = glyphOf.get(e.mob_ids[0] ?? '')}
      {@const ink = inkOf(e)}
      <g
        role="button"
        tabindex="0"
        aria-label="{e.says}, {e.planned ? 'planned for' : ''} {sayIso(isoOf(day))}{e.overdue ? ', overdue' : ''}"
        class={movable && e.planned ? 'cursor-ew-resize' : 'cursor-pointer'}
        data-peg={e.id}
        style="touch-action: none"
        onpointerdown={(p) => grab(p, e)}
        onpointermove={pull}
        onpointerup={() => (movable && e.planned ? let_go(e) : undefined)}
        onclick={() => (movable && e.planned ? undefined : onpeg(e))}
        onkeydown={(k) => keyed(k, e)}
      >
        <rect
          x={flip ? at - wide : at - 12}
          y={py - 13}
          width={wide}
          height="26"
          rx="6"
          fill={chosen === e.id || drag?.id === e.id ? 'var(--tarn-wash)' : 'var(--surface)'}
          opacity="0.94"
        />
        <polygon
          points={outline(mob?.glyph ?? 'circle')
            .map(([a, b]) => `${at + a * 15},${py + b * 15}`)
            .join(' ')}
          fill={e.planned ? 'var(--surface)' : ink}
          stroke={ink}
          stroke-width="2"
        />
        {#if !narrow}<text
            x={flip ? at - 14 : at + 14}
            y={py + 5}
            font-size="13.5"
            text-anchor={flip ? 'end' : 'start'}
            fill="var(--ink)"
            font-weight={e.overdue ? 700 : 500}>{e.says}</text
          >{/if}
      </g>
    {/each}
  </svg>
  {#if narrow}
    <ul class="mt-2">
      {#each pegs as { e, day } (e.id)}
        <li class="border-t border-line">
          <button type="button" class="flex min-h-12 w-full items-center gap-3 text-left" onclick={() => onpeg(e)}
            ><span class="w-24 shrink-0 text-sm text-soft">{sayIso(isoOf(day)).replace(/^\w+,? /, '')}</span><span class="flex-1"
              >{e.says}</span
            ><span class="text-sm text-soft">{e.overdue ? 'overdue' : e.planned ? 'planned' : ''}</span></button
          >
        </li>
      {/each}
    </ul>
  {/if}
  <ChartTable
    caption="The year of the stock, on the first of each month"
    heads={['First of', 'All', ...bands.map((b) => b.name)]}
    rows={monthAt
      .filter(({ d }) => d >= 0 && d < n)
      .map(({ m, d }) => [
        m,
        ...[year.total, ...bands.map((b) => b.days)].map((of) => withUnit(of[d] ?? 0, year.unit, house.system)),
      ])}
  />
  {#if drag}<p class="text-sm font-semibold text-tarn" role="status">to {sayIso(isoOf(drag.day))}</p>{/if}
</div>
