<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Schemas } from '../../api/client'
  import ChartTable from '../../charts/ChartTable.svelte'
  import { svgPoints, tone } from '../../ui/glyph'
  import { house } from '../../ui/house.svelte'
  import { phone } from '../../ui/media.svelte'
  import { sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'

  type Row = Schemas['QueueRow']
  interface Props {
    rows: Row[]
    mobs: Schemas['MobView'][]
    /** what each would stand at and its mark with what is tried; null: nothing is */
    tried: Map<string, Schemas['TriedRow']> | null
    /** only what stands above the residual is shown */
    above: boolean
    selected: string
    onselect: (id: string) => void
    onstep: (by: 1 | -1) => void
    /** carries a paddock so many places down; left out: the order is not the user's */
    onplace?: (id: string, by: number) => void
  }
  let { rows, mobs, tried, above, selected, onselect, onstep, onplace }: Props = $props()

  let width = $state(860)
  const label = $derived(phone.current ? 104 : 172)
  const side = $derived(phone.current ? 0 : 176)
  const rowHeight = $derived(phone.current ? 58 : 44)
  const head = 24
  const bar = 24
  const height = $derived(head + rows.length * rowHeight + 4)
  const base = (r: Row) => (above ? r.residual_kg_dm_ha : 0)
  const now = (r: Row) => tried?.get(r.paddock_id)?.forage_mass_kg_dm_ha ?? r.forage_mass_kg_dm_ha
  const mark = (r: Row) => tried?.get(r.paddock_id)?.target_kg_dm_ha ?? r.target_kg_dm_ha
  const most = $derived(
    Math.max(
      1000,
      ...rows.map(
        (r) => Math.max(r.forage_mass_kg_dm_ha + r.half_width_kg_dm_ha, r.target_kg_dm_ha, now(r), mark(r), second(r)) - base(r),
      ),
    ),
  )
  const x = $derived(
    scaleLinear()
      .domain([0, most])
      .range([label, width - side - 22]),
  )
  const ticks = $derived(x.ticks(phone.current ? 3 : 6).filter((t) => t > 0))
  const mobOf = $derived(new Map(mobs.map((m) => [m.id, m])))
  // Darker is more feed: by how much of the way from residual to past its best it has gone.
  const toneOf = (r: Row) => {
    const share = (now(r) - r.residual_kg_dm_ha) / Math.max(1, (r.too_old_kg_dm_ha || r.entry_kg_dm_ha) - r.residual_kg_dm_ha)
    return Math.min(4, Math.max(0, Math.floor(share * 4.2)))
  }
  const words: Record<string, string> = {
    ready: 'ready',
    soon: 'soon',
    resting: 'resting',
    mind: 'past its best',
    stop: 'not now',
  }
  const stateOf = (r: Row) => tried?.get(r.paddock_id)?.state ?? r.state
  const word = (r: Row) => {
    if (r.grazed) return 'grazed now'
    if (stateOf(r) === 'mind' && now(r) <= r.too_old_kg_dm_ha) return 'look at this'
    return words[stateOf(r)] ?? stateOf(r)
  }
  const rest = (r: Row) =>
    r.grazed ? '' : r.rest_days === null ? 'rest unknown' : `rested ${withUnit(r.rest_days, 'day', house.system, 0)}`
  const turn = (r: Row) => {
    const next = tried?.get(r.paddock_id) ?? r
    return next.turn_at
      ? `${sayDay(new Date(next.turn_at))}, ${number(next.turn_mass_kg_dm_ha, 'kg_ha', house.system)}`
      : 'no turn yet'
  }
  const off = (r: Row) => now(r) - mark(r)
  // A second mark: as it is, where something is tried; without the supplement, where one is fed.
  const second = (r: Row) => {
    const other = tried ? r.target_kg_dm_ha : r.target_unfed_kg_dm_ha
    return other && mark(r) && Math.abs(other - mark(r)) > 1 ? other : 0
  }
  const doubled = $derived(rows.some(second))
  const facts = (r: Row) => `${withUnit(r.area_ha, 'ha', house.system, 1)}${rest(r) ? ` · ${rest(r)}` : ''}`
  const leaves = (r: Row) => (r.leaves === null ? '' : withUnit(r.leaves, 'leaf', house.system, 1))
  const stands = (r: Row) => `${number(now(r) - base(r), 'kg_ha', house.system)}${r.guessed ? '?' : ''}`
  // What is read out begins with what is seen.
  const seen = (r: Row) =>
    phone.current
      ? `${r.name} ${word(r)} · ${turn(r)} ${stands(r)}`
      : `${r.name} ${r.leaves === null ? '' : `${leaves(r)} `}${facts(r)} ${stands(r)} ${r.grazed ? `${mobOf.get(r.mob_id)?.letter ?? ''} ` : ''}${word(r)} ${turn(r)}`
  const spoken = (r: Row) =>
    `${seen(r)}${mark(r) ? `, ${withUnit(Math.abs(off(r)), 'kg_ha', house.system)} ${off(r) < 0 ? 'below' : 'above'} its mark` : ''}`

  let frame = $state<SVGSVGElement | null>(null)
  /** The picture as it stands, for whoever takes it along: every tone written out. */
  export function picture(): string {
    const copy = frame!.cloneNode(true) as SVGSVGElement
    copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
    const style = getComputedStyle(document.documentElement)
    const text = new XMLSerializer().serializeToString(copy)
    return text
      .replace(/var\((--[\w-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim() || '#000')
      .replace('<svg', '<svg font-family="sans-serif"')
  }

  let carried = $state<{ id: string; from: number; by: number; y: number } | null>(null)
  function lift(e: PointerEvent, r: Row) {
    if (!onplace || e.button) return
    carried = { id: r.paddock_id, from: e.clientY, by: 0, y: 0 }
    frame?.setPointerCapture(e.pointerId)
  }
  function carry(e: PointerEvent) {
    if (!carried) return
    const y = e.clientY - carried.from
    carried = { ...carried, y, by: Math.round(y / rowHeight) }
  }
  function drop() {
    if (carried?.by) onplace?.(carried.id, carried.by)
    carried = null
  }

  function key(e: KeyboardEvent, i: number) {
    if (e.altKey && (e.key === 'ArrowDown' || e.key === 'ArrowUp')) {
      const id = rows[i]!.paddock_id
      onplace?.(id, e.key === 'ArrowDown' ? 1 : -1)
      requestAnimationFrame(() => frame?.querySelector<SVGElement>(`[data-id="${id}"]`)?.focus())
    } else if (e.key === 'Enter' || e.key === ' ') onselect(rows[i]!.paddock_id)
    else if (e.key === 'ArrowDown' || e.key === 'ArrowUp')
      (frame?.querySelectorAll('[role=button]')[i + (e.key === 'ArrowDown' ? 1 : -1)] as SVGElement | undefined)?.focus()
    else if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') onstep(e.key === 'ArrowLeft' ? 1 : -1)
    else return
    e.preventDefault()
  }
</script>

<div bind:clientWidth={width}>
  <svg
    bind:this={frame}
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    class="print:h-auto print:max-h-[8.8cm] print:w-full {onplace ? 'touch-none' : ''}"
    onpointermove={carry}
    onpointerup={drop}
    onpointercancel={() => (carried = null)}
    role="group"
    aria-label="Paddocks, the next to be grazed first"
  >
    <defs>
      <pattern id="missing" width="6" height="6" patternUnits="userSpaceOnUse">
        <circle cx="2" cy="2" r="1.3" fill="var(--stop)" />
      </pattern>
      <pattern id="more" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" x2="0" y1="0" y2="7" stroke="var(--surface)" stroke-width="1.6" opacity="0.75" />
      </pattern>
    </defs>
    {#each ticks as t (t)}
      <line x1={x(t)} x2={x(t)} y1={head - 4} y2={height} stroke="var(--line)" />
      <text x={x(t)} y="14" font-size="12" text-anchor="middle" fill="var(--soft)"
        >{t === ticks[ticks.length - 1] ? withUnit(t, 'kg_ha', house.system) : number(t, 'kg_ha', house.system)}</text
      >
    {/each}
    {#each rows as r, i (r.paddock_id)}
      {@const top = head + i * rowHeight + (phone.current ? 27 : 8)}
      {@const high = now(r) - base(r)}
      {@const end = x(Math.max(0, high))}
      {@const at = x(Math.max(0, mark(r) - base(r)))}
      {@const m = mobOf.get(r.mob_id)}
      {@const inside = end - label > 62}
      <g
        role="button"
        tabindex="0"
        aria-label={spoken(r)}
        aria-pressed={selected === r.paddock_id}
        data-id={r.paddock_id}
        onpointerdown={(e) => lift(e, r)}
        transform={carried?.id === r.paddock_id ? `translate(0 ${carried.y})` : undefined}
        class="{onplace ? 'cursor-grab' : 'cursor-pointer'} focus-visible:outline-none [&:focus-visible_.ring]:stroke-(--tarn)"
        onclick={() => onselect(r.paddock_id)}
        onkeydown={(e) => key(e, i)}
      >
        <rect
          class="ring"
          x="1"
          y={head + i * rowHeight + 1}
          width={Math.max(0, width - 2)}
          height={rowHeight - 2}
          rx="8"
          fill={selected === r.paddock_id ? 'var(--tarn-wash)' : 'transparent'}
          stroke="transparent"
          stroke-width="2.5"
        />
        {#if phone.current}
          <text x="4" y={top - 10} font-size="14" font-weight="700" fill="var(--ink)"
            >{`${r.name} `}<tspan font-weight="400" font-size="12.5" fill="var(--soft)" dx="6">{`${word(r)} · ${turn(r)} `}</tspan
            ></text
          >
        {:else}
          <text x="6" y={top + 9} font-size="15" font-weight="700" fill="var(--ink)">{`${r.name} `}</text>
          {#if r.leaves !== null}<text x={label - 10} y={top + 9} font-size="12.5" text-anchor="end" fill="var(--soft)"
              >{`${leaves(r)} `}</text
            >{/if}
          <text x="6" y={top + 25} font-size="12.5" fill="var(--soft)">{`${facts(r)} `}</text>
        {/if}
        {#if !above}<rect x={label} y={top} width={x(r.residual_kg_dm_ha) - label} height={bar} fill="var(--sunken)" />{/if}
        <rect
          x={label}
          y={top}
          width={Math.max(0, end - label)}
          height={bar}
          rx="3"
          fill="var(--feed-{toneOf(r)})"
          opacity={above ? 1 : 0.95}
        />
        {#if !above}<rect
            x={label}
            y={top}
            width={Math.max(0, Math.min(end, x(r.residual_kg_dm_ha)) - label)}
            height={bar}
            fill="var(--sunken)"
            opacity="0.55"
          />{/if}
        {#if mark(r) && off(r) > 0}
          <rect x={at} y={top} width={Math.max(0, end - at)} height={bar} fill="url(#more)" />
          <path d="M{end} {top}l9 {bar / 2}l-9 {bar / 2}z" fill="var(--feed-{toneOf(r)})" />
        {:else if mark(r)}
          <rect
            x={end}
            y={top + 1}
            width={Math.max(0, at - end)}
            height={bar - 2}
            fill="url(#missing)"
            stroke="var(--stop)"
            stroke-dasharray="3 3"
          />
        {/if}
        {#if tried && Math.abs(now(r) - r.forage_mass_kg_dm_ha) > 1}
          <line
            x1={x(Math.max(0, r.forage_mass_kg_dm_ha - base(r)))}
            x2={x(Math.max(0, r.forage_mass_kg_dm_ha - base(r)))}
            y1={top - 3}
            y2={top + bar + 3}
            stroke="var(--ink)"
            stroke-dasharray="3 3"
          />
        {/if}
        <line
          x1={x(Math.max(0, high - r.half_width_kg_dm_ha))}
          x2={x(Math.max(0, high + r.half_width_kg_dm_ha))}
          y1={top + bar + 3}
          y2={top + bar + 3}
          stroke="var(--ink)"
          stroke-width="1.5"
        />
        {#if second(r)}
          {@const other = x(Math.max(0, second(r) - base(r)))}
          <path d="M{other - 6} {top - 6}h12l-6 8z" fill="var(--surface)" stroke="var(--ink)" stroke-width="1.5" />
          <line x1={other} x2={other} y1={top} y2={top + bar} stroke="var(--ink)" stroke-width="1.5" stroke-dasharray="3 3" />
        {/if}
        {#if mark(r)}
          <path d="M{at - 6} {top - 6}h12l-6 8z" fill="var(--ink)" />
          <line x1={at} x2={at} y1={top} y2={top + bar} stroke="var(--ink)" stroke-width="2" />
        {/if}
        <text
          x={label + 8}
          y={top + 17}
          font-size="14.5"
          font-weight="700"
          fill={toneOf(r) < 3 || !inside || !above ? 'var(--bar-ink)' : 'var(--on-bar)'}>{`${stands(r)} `}</text
        >
        {#if side}
          <g transform="translate({width - side + 4} {top + 2})">
            {#if r.grazed && m}
              <polygon points={svgPoints(m.glyph, 20)} transform="translate(10 10)" fill={tone(m.glyph)} />
              <text
                x="10"
                y={m.glyph === 'triangle' ? 16 : 13.5}
                font-size="9"
                font-weight="700"
                text-anchor="middle"
                fill="var(--surface)">{`${m.letter} `}</text
              >
            {:else}
              <g
                transform="scale(0.83)"
                fill="none"
                stroke={stateOf(r) === 'mind'
                  ? 'var(--now-ink)'
                  : stateOf(r) === 'stop'
                    ? 'var(--stop)'
                    : stateOf(r) === 'resting'
                      ? 'var(--soft)'
                      : 'var(--tarn)'}
                stroke-width="2"
              >
                {#if stateOf(r) === 'ready'}<path d="M1 18 12 2l11 16z" fill="var(--tarn)" />
                {:else if stateOf(r) === 'soon'}<path d="M1.5 17.5 12 2.5l10.5 15z" /><path
                    d="M1 18 12 2v16z"
                    fill="var(--tarn)"
                  />
                {:else if stateOf(r) === 'mind'}<path d="M1 18 9.5 5.6l2.5 4 2.5-4L23 18z" fill="var(--now-ink)" />
                {:else if stateOf(r) === 'resting'}<path d="M2 17 12 3l10 14z" />
                {:else}<path d="M2 17 12 3l10 14z" /><path d="M2 11.5h20" stroke-width="2.6" />{/if}
              </g>
            {/if}
            <text x="27" y="7" font-size="14" font-weight="700" fill="var(--ink)">{`${word(r)} `}</text>
            <text x="27" y="23" font-size="12.5" fill="var(--soft)">{`${turn(r)} `}</text>
          </g>
        {/if}
      </g>
    {/each}
  </svg>
</div>
{#if doubled}<p class="text-sm text-soft">
    ▽ hollow mark: {tried ? 'as it is, with nothing tried' : 'without the supplement that is fed'}.
  </p>{/if}
<ChartTable
  unseen
  caption="Paddocks, the next to be grazed first"
  heads={['Paddock', 'Stands at', 'Its mark', 'Residual', 'Rest', 'Verdict', 'Next turn']}
  rows={rows.map((r) => [
    r.name,
    withUnit(now(r), 'kg_ha', house.system),
    mark(r) ? withUnit(mark(r), 'kg_ha', house.system) : 'none',
    withUnit(r.residual_kg_dm_ha, 'kg_ha', house.system),
    rest(r),
    word(r),
    turn(r),
  ])}
/>
