<script lang="ts">
  import { scaleLinear, scaleTime } from 'd3-scale'
  import { area, line } from 'd3-shape'
  import type { Schemas } from '../../api/client'
  import { svgPoints, tone } from '../../ui/glyph'
  import { house } from '../../ui/house.svelte'
  import { clock, dayMonth, sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import { untrack } from 'svelte'
  import { Seen } from '../../ui/seen.svelte'
  import { nearestSlot, stepSlot } from './slots'
  import Tried from './Tried.svelte'

  type Visit = Schemas['VisitView']
  type Row = Schemas['RidgeRow']

  interface Props {
    farm: string
    plan: Schemas['PlanView']
    mobs: Schemas['MobView'][]
    selected: Visit | null
    movable: boolean
    onselect: (v: Visit) => void
    onmove: (v: Visit, paddock: string, enter: Date) => void
  }
  let { farm, plan, mobs, selected, movable, onselect, onmove }: Props = $props()

  const label = 148
  const rowHeight = 54
  const crest = 41
  let shown = $state(900)
  const width = $derived(Math.max(shown - 20, 720))
  let dragging = $state.raw<{ visit: Visit; dx: number; row: number; enter: Date } | null>(null)

  // Ground in the order of the land, but closed ground and ground nobody grazes last.
  const rows = $derived([
    ...plan.rows.filter((r) => r.has_mob && !r.closed_for),
    ...plan.rows.filter((r) => !r.has_mob || r.closed_for),
  ])
  const seen = new Seen(
    () => rows.length,
    rowHeight,
    () => rowsTop,
  )
  const drawn = $derived(rows.slice(seen.from, seen.to))
  const inSight = (row: number) => row >= seen.from && row < seen.to
  const index = $derived(new Map(rows.map((r, i) => [r.paddock_id, i])))
  const mobOf = $derived(new Map(mobs.map((m) => [m.id, m])))
  const x = $derived(
    scaleTime()
      .domain([new Date(plan.from), new Date(plan.to)])
      .range([label, width - 4]),
  )
  // Every ridge stands on half its residual and is as tall as its own entry asks, so that rows can be read alike.
  const scales = $derived(
    new Map(
      rows.map((r) => [
        r.paddock_id,
        scaleLinear()
          .domain([r.residual_kg_dm_ha * 0.5, Math.max(r.entry_kg_dm_ha * 1.1, ...r.points.map((p) => p[1]!))])
          .range([crest, 2])
          .clamp(true),
      ]),
    ),
  )
  const y = (r: Row, mass: number) => scales.get(r.paddock_id)!(mass)
  const here = $derived(x(new Date(plan.now)))
  const ticks = $derived(x.ticks(8).filter((t) => x(t) > label + 16 && x(t) < width - 30))
  const strips = $derived(mobs.filter((m) => plan.visits.some((v) => v.mob_id === m.id)))
  const stripTop = 28
  const stripHeight = 30
  const rowsTop = $derived(stripTop + strips.length * stripHeight + 12)
  const height = $derived(rowsTop + rows.length * rowHeight + 8)
  const at = (p: number[]) => x(new Date(p[0]! * 1000))

  const fill = (r: Row) =>
    area<number[]>()
      .x(at)
      .y0(crest)
      .y1((p) => y(r, p[1]!))(r.points)
  const edge = (r: Row) =>
    line<number[]>()
      .x(at)
      .y((p) => y(r, p[1]!))(r.points)
  // The mist is as wide as the figure was sure then, and widens into what is only expected.
  const mist = (r: Row) =>
    area<number[]>()
      .x(at)
      .y0((p) => y(r, p[1]! - p[2]!))
      .y1((p) => y(r, p[1]! + p[2]!))(r.points) ?? ''

  interface Saddle {
    row: number
    from: number
    to: number
    days: number
  }
  // Rest, written in the saddle between two stays.
  const saddles = $derived.by(() => {
    const out: Saddle[] = []
    const last = new Map<string, Visit>()
    for (const v of [...plan.visits].sort((a, b) => Date.parse(a.enter_at) - Date.parse(b.enter_at))) {
      const before = last.get(v.paddock_id)
      if (before) {
        const days = (Date.parse(v.enter_at) - Date.parse(before.leave_at)) / 86_400_000
        out.push({ row: index.get(v.paddock_id)!, from: x(new Date(before.leave_at)), to: x(new Date(v.enter_at)), days })
      } else if (v.rest_days !== null && v.kind !== 'past') {
        out.push({
          row: index.get(v.paddock_id)!,
          from: Math.max(label, x(new Date(Date.parse(v.enter_at) - v.rest_days * 86_400_000))),
          to: x(new Date(v.enter_at)),
          days: v.rest_days,
        })
      }
      last.set(v.paddock_id, v)
    }
    return out.filter((s) => s.to - s.from > 34)
  })

  // One pin a visit, the gravest first.
  const pins = $derived.by(() => {
    const out = new Map<string, Schemas['CheckView']>()
    for (const c of plan.checks) {
      if (!c.paddock_id || c.rule === 'too_late') continue
      const key = c.paddock_id + c.mob_id
      if (!out.has(key) || c.severity === 'stop') out.set(key, c)
    }
    return [...out.values()]
  })
  const words: Record<string, string> = {
    short_of_feed: 'short',
    too_soon: 'too soon',
    below_residual: 'too short',
    stay_too_long: 'too long',
    rest_too_short: 'little rest',
    two_mobs: 'two mobs',
    no_paddock: 'nowhere to go',
    never_ready: 'never ready',
    reserve_grazed: 'reserve',
    too_many_moves: 'many moves',
  }

  const chosen = (v: Visit) =>
    selected !== null && selected.mob_id === v.mob_id && selected.enter_at === v.enter_at && selected.paddock_id === v.paddock_id
  const free = (v: Visit) => movable && (v.kind === 'planned' || v.kind === 'beyond')

  let frame: SVGSVGElement
  function down(e: PointerEvent, v: Visit) {
    onselect(v)
    if (!free(v) || e.button !== 0) return
    const box = frame.getBoundingClientRect()
    const startX = e.clientX
    const began = x(new Date(v.enter_at))
    const target = e.currentTarget as SVGGElement
    target.setPointerCapture(e.pointerId)
    const move = (m: PointerEvent) => {
      const dx = m.clientX - startX
      const row = Math.max(0, Math.min(rows.length - 1, Math.floor((m.clientY - box.top - rowsTop) / rowHeight)))
      const enter = nearestSlot(x.invert(began + dx))
      if (dragging?.row === row && +dragging.enter === +enter) return
      dragging = { visit: v, dx: x(enter) - began, row, enter }
    }
    const up = () => {
      target.removeEventListener('pointermove', move)
      target.removeEventListener('pointerup', up)
      target.removeEventListener('pointercancel', up)
      const d = dragging
      dragging = null
      const paddock = d && rows[d.row]?.paddock_id
      if (d && paddock && (d.enter.getTime() !== Date.parse(v.enter_at) || paddock !== v.paddock_id)) onmove(v, paddock, d.enter)
    }
    target.addEventListener('pointermove', move)
    target.addEventListener('pointerup', up)
    target.addEventListener('pointercancel', up)
  }

  function key(e: KeyboardEvent, v: Visit) {
    if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault()
      onselect(v)
      return
    }
    if (!free(v)) return
    const step = e.shiftKey ? 2 : 1
    const enter = new Date(v.enter_at)
    const row = index.get(v.paddock_id) ?? 0
    let next: [string, Date] | null = null
    if (e.key === 'ArrowRight') next = [v.paddock_id, stepSlot(enter, step)]
    else if (e.key === 'ArrowLeft') next = [v.paddock_id, stepSlot(enter, -step)]
    else if (e.key === 'ArrowDown' && rows[row + 1]) next = [rows[row + 1]!.paddock_id, enter]
    else if (e.key === 'ArrowUp' && rows[row - 1]) next = [rows[row - 1]!.paddock_id, enter]
    if (!next) return
    e.preventDefault()
    onselect(v)
    onmove(v, next[0], next[1])
  }

  // What is spoken of is in sight, also above the sheet of a phone.
  $effect(() => {
    const row = selected && index.get(selected.paddock_id)
    if (row != null) untrack(() => setTimeout(() => seen.show(row), 60))
  })

  // A nudged move keeps the keyboard, wherever it went.
  $effect(() => {
    if (!selected || !frame?.contains(document.activeElement)) return
    frame.querySelector<SVGGElement>(`[data-visit="${selected.mob_id}${selected.enter_at}"]`)?.focus()
  })

  const say = (v: Visit) =>
    `${mobOf.get(v.mob_id)?.name ?? ''} in ${v.paddock_name}, ${sayDay(new Date(v.enter_at))} ${clock(new Date(v.enter_at))} for ${withUnit(v.stay_days, 'day', house.system)}${v.pin_id ? ', fixed' : ''}`

  const short = (name: string) => (name.length > 8 ? name.replace(/^(\S{3})\S*/, '$1') : name)
</script>

<div class="plain-scroll min-h-0 flex-1 pl-5 max-md:overflow-x-auto" bind:clientWidth={shown} {@attach seen.within}>
  <div class="relative" style:height="{height}px">
    <svg
      bind:this={frame}
      {width}
      {height}
      class="block select-none"
      role="group"
      aria-label="Grass standing in every paddock over time, with the moves"
    >
      <defs>
        <linearGradient id="feed" x1="0" y1="0" x2="0" y2="1">
          <stop offset="0" stop-color="var(--feed-4)" />
          <stop offset="0.35" stop-color="var(--feed-3)" />
          <stop offset="0.7" stop-color="var(--feed-2)" />
          <stop offset="1" stop-color="var(--feed-0)" />
        </linearGradient>
        <clipPath id="was"><rect x="0" y="-4" width={here} height={rowHeight + 8} /></clipPath>
        <clipPath id="will"><rect x={here} y="-4" width={Math.max(0, width - here)} height={rowHeight + 8} /></clipPath>
      </defs>

      {#each ticks as t, i (i)}
        <line x1={x(t)} x2={x(t)} y1="20" y2={height} stroke="var(--line)" />
        <text x={x(t)} y="14" font-size="13" text-anchor="middle" fill="var(--soft)">{dayMonth(t)}</text>
      {/each}

      {#each strips as m, s (m.id)}
        <text x="0" y={stripTop + s * stripHeight + 19} font-size="15" font-weight="700" fill="var(--ink)">{m.name}</text>
        {#each plan.visits.filter((v) => v.mob_id === m.id) as v, i (i)}
          {@const x0 = Math.max(label, x(new Date(v.enter_at)))}
          {@const w = x(new Date(v.leave_at)) - x0 - 2}
          {#if w > 1}
            <rect
              x={x0}
              y={stripTop + s * stripHeight + 2}
              width={w}
              height="24"
              rx="5"
              fill={tone(m.glyph)}
              opacity={v.kind === 'past' || v.kind === 'now' ? 1 : v.kind === 'beyond' ? 0.3 : 0.55}
            />
            {#if w > short(v.paddock_name).length * 7 + 6}
              <text
                x={x0 + w / 2}
                y={stripTop + s * stripHeight + 18.5}
                font-size="12"
                text-anchor="middle"
                font-weight="600"
                fill={v.kind === 'beyond' ? 'var(--ink)' : 'var(--surface)'}>{short(v.paddock_name)}</text
              >
            {/if}
          {/if}
        {/each}
      {/each}

      {#each drawn as r, k (r.paddock_id)}
        {@const i = seen.from + k}
        <g transform="translate(0 {rowsTop + i * rowHeight})" opacity={r.has_mob && !r.closed_for ? 1 : 0.6}>
          {#if dragging?.row === i}<rect x="0" y="-4" {width} height={rowHeight} fill="var(--now-wash)" />{/if}
          <text x="0" y="18" font-size="15" font-weight="700" fill="var(--ink)">{r.name}</text>
          <text x="0" y="35" font-size="13" fill="var(--soft)"
            >{r.closed_for
              ? `closed: ${r.closed_for}`
              : `${number(r.area_ha, 'ha', house.system, 1)} · ${number(r.mass.forage_mass_kg_dm_ha, 'kg_ha', house.system)}${r.mass.guessed ? ' guessed' : ''}`}</text
          >
          <line x1={label} x2={width} y1={crest} y2={crest} stroke="var(--line)" />
          <path d={mist(r)} fill="var(--feed-3)" opacity="0.15" />
          <g clip-path="url(#was)"><path d={fill(r) ?? ''} fill="url(#feed)" /></g>
          <g clip-path="url(#will)"><path d={fill(r) ?? ''} fill="url(#feed)" opacity="0.5" /></g>
          <path d={edge(r) ?? ''} fill="none" stroke="var(--feed-4)" stroke-width="1.2" />
          {#if r.has_mob && !r.closed_for}
            <line
              x1={label}
              x2={width}
              y1={y(r, r.entry_kg_dm_ha)}
              y2={y(r, r.entry_kg_dm_ha)}
              stroke="var(--soft)"
              stroke-width="0.8"
              stroke-dasharray="2 5"
            />
          {/if}
        </g>
      {/each}

      {#each saddles.filter((s) => inSight(s.row)) as s (`${s.row} ${s.from}`)}
        <text
          x={(s.from + s.to) / 2}
          y={rowsTop + s.row * rowHeight + crest - 4}
          font-size="12.5"
          font-weight="700"
          text-anchor="middle"
          fill="var(--ink)"
          stroke="var(--surface)"
          stroke-width="3"
          stroke-opacity="0.65"
          paint-order="stroke">{number(s.days, 'day', house.system, 0)} d</text
        >
      {/each}

      <line x1={here} x2={here} y1="20" y2={height} stroke="var(--now)" stroke-width="2.5" />
      {#if Date.parse(plan.plan_ends) < Date.parse(plan.to)}
        <line
          x1={x(new Date(plan.plan_ends))}
          x2={x(new Date(plan.plan_ends))}
          y1="20"
          y2={height}
          stroke="var(--ink)"
          stroke-dasharray="6 5"
        />
      {/if}
      {#if house.chosenDay && house.chosenDay > Date.parse(plan.from) && house.chosenDay < Date.parse(plan.to)}
        <line x1={x(new Date(house.chosenDay))} x2={x(new Date(house.chosenDay))} y1="20" y2={height} stroke="var(--ink)" />
        <text x={x(new Date(house.chosenDay)) + 5} y="26" font-size="12" font-weight="700" fill="var(--ink)"
          >{sayDay(new Date(house.chosenDay))}</text
        >
      {/if}

      {#each plan.visits as v, i (i)}
        {@const m = mobOf.get(v.mob_id)}
        {@const row = index.get(v.paddock_id) ?? -1}
        {@const x0 = Math.max(label, x(new Date(v.enter_at)))}
        {@const w = Math.max(6, Math.min(width - 12, x(new Date(v.leave_at))) - x0)}
        {@const drag = dragging?.visit === v ? dragging : null}
        {#if m && (inSight(row) || chosen(v) || drag) && x(new Date(v.leave_at)) > label}
          <g
            data-visit="{v.mob_id}{v.enter_at}"
            transform="translate({x0 + (drag?.dx ?? 0)} {rowsTop + (drag ? drag.row : index.get(v.paddock_id)!) * rowHeight})"
            role="button"
            tabindex={v.kind === 'past' ? -1 : 0}
            aria-label={say(v)}
            aria-pressed={chosen(v)}
            class="{free(v) ? 'cursor-grab' : 'cursor-pointer'} focus-visible:outline-3"
            onpointerdown={(e) => down(e, v)}
            onkeydown={(e) => key(e, v)}
          >
            <rect
              x="-2"
              y="-3"
              width={w + 4}
              height={rowHeight - 4}
              rx="6"
              fill={chosen(v) ? 'var(--now)' : 'transparent'}
              fill-opacity="0.14"
              stroke={chosen(v) ? 'var(--now)' : 'transparent'}
              stroke-width="2"
            />
            <rect
              x="0"
              y={crest + 1}
              width={w}
              height="4.5"
              rx="2"
              fill={tone(m.glyph)}
              opacity={v.kind === 'beyond' ? 0.5 : 1}
            />
            <g transform="translate({w / 2} {crest - 9})" opacity={v.kind === 'beyond' ? 0.6 : 1}>
              <polygon points={svgPoints(m.glyph, 17)} fill={tone(m.glyph)} stroke="var(--surface)" stroke-width="1.2" />
              <text
                y={m.glyph === 'triangle' ? 5.5 : 3}
                text-anchor="middle"
                font-size="8.5"
                font-weight="700"
                fill="var(--surface)">{m.letter}</text
              >
            </g>
            {#if v.pin_id}<circle cx={w / 2} cy="2" r="4" fill="var(--now)" stroke="var(--surface)" stroke-width="1.5" />{/if}
          </g>
        {/if}
      {/each}

      {#each pins as c, i (i)}
        {#if index.has(c.paddock_id)}
          {@const px = Math.min(width - 90, Math.max(label + 4, x(new Date(c.at))))}
          <g transform="translate({px} {rowsTop + index.get(c.paddock_id)! * rowHeight - 2})" pointer-events="none">
            <path d="M0 10 L-6 -2 A6.5 6.5 0 1 1 6 -2z" fill={c.severity === 'stop' ? 'var(--stop)' : 'var(--now-ink)'} />
            <text y="0" text-anchor="middle" font-size="10" font-weight="700" fill="var(--surface)">!</text>
            <text
              x="10"
              y="3"
              font-size="12"
              font-weight="700"
              fill={c.severity === 'stop' ? 'var(--stop)' : 'var(--now-ink)'}
              stroke="var(--page)"
              stroke-width="4"
              paint-order="stroke">{words[c.rule] ?? ''}</text
            >
          </g>
        {/if}
      {/each}
    </svg>
    {#if dragging && rows[dragging.row]}
      {@const row = rows[dragging.row]!}
      {@const below = dragging.row < rows.length - 3}
      <div
        class="pointer-events-none absolute w-72 rounded-xl border border-line bg-surface p-3 text-sm"
        style:left="{Math.max(label, Math.min(width - 292, x(dragging.enter)))}px"
        style:top={below ? `${rowsTop + (dragging.row + 1) * rowHeight}px` : undefined}
        style:bottom={below ? undefined : `${height - rowsTop - dragging.row * rowHeight + 6}px`}
      >
        <Tried {farm} visit={dragging.visit} paddock={row.paddock_id} name={row.name} enter={dragging.enter} />
      </div>
    {/if}
  </div>
</div>
