<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { area, line } from 'd3-shape'
  import type { Schemas } from '../../api/client'
  import { address } from '../../ui/address'
  import { outbox, type Item } from '../../api/outbox.svelte'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { keepMove } from './moved'
  import Figure from '../../ui/Figure.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import { phone } from '../../ui/media.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { now, sayDay, sayMoment, sayUntil } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Verdict from '../../ui/Verdict.svelte'

  interface Props {
    mob: Schemas['TodayMob']
    farm: string
    onmove: () => void
    onask: () => void
  }
  let { mob, farm, onmove, onask }: Props = $props()

  let why = $state(!phone.current) // theirs, once the place is open: a sheet that opens must not fold it

  // The latest move or decision of theirs that is not with the farm yet.
  const held = $derived(
    outbox.own.findLast(
      (i): i is Extract<Item, { kind: 'move' | 'call' }> =>
        (i.kind === 'move' || i.kind === 'call') && i.body.mob_id === mob.mob_id && i.farm === farm,
    ),
  )

  let width = $state(380)
  const height = 46
  const x = $derived(
    scaleLinear()
      .domain([mob.points[0]?.[0] ?? 0, mob.points[mob.points.length - 1]?.[0] ?? 1])
      .range([0, width]),
  )
  const y = $derived(
    scaleLinear()
      .domain([0, Math.max(...mob.points.map((p) => p[1]!), 1) * 1.08])
      .range([height, 0]),
  )
  const fill = $derived(
    area<number[]>()
      .x((p) => x(p[0]!))
      .y0(height)
      .y1((p) => y(p[1]!)),
  )
  const edge = $derived(
    line<number[]>()
      .x((p) => x(p[0]!))
      .y((p) => y(p[1]!)),
  )
  const due = $derived(mob.next ? Date.parse(mob.next.enter_at) - now().getTime() < 14 * 3_600_000 : false)
  // The bare move, in one touch: where the plan goes, now. What it does not say can be put right.
  const write = new Write()
  async function bare(next: Schemas['VisitView']) {
    const body = { id: write.id(), mob_id: mob.mob_id, to_paddock_id: next.paddock_id, moved_at: now().toISOString() }
    await keepMove(
      write,
      farm,
      body,
      `${mob.name} moved to ${next.paddock_name}`,
      `${mob.name} to ${next.paddock_name}, ${sayMoment(now())}`,
      () => {},
    )
    if (write.refusal && write.refusal.status !== 0) onmove() // it is asked about: there the answer can be given
  }
  // One answer: it is the plan's, by its hour.
  const answer = $derived.by(() => {
    if (!mob.next) return used ? 'Feed them: nothing is left' : 'Stay here'
    const at = new Date(mob.next.enter_at)
    if (+at <= +now()) return `Move to ${mob.next.paddock_name} now`
    return due ? `Move to ${mob.next.paddock_name} ${sayUntil(at)}` : `Stay until ${sayUntil(at)}`
  })
  const word = (state: string) => (state === 'mind' ? 'past its best' : state)
  const early = $derived(mob.feed_earliest ? sayUntil(new Date(mob.feed_earliest)) : '')
  const late = $derived(mob.feed_latest ? sayUntil(new Date(mob.feed_latest)) : '')
  const used = $derived(!mob.feed_until || Date.parse(mob.feed_until) <= now().getTime())
</script>

{#snippet aside(word: string, to: Record<string, string>)}
  <button type="button" class="min-h-12 font-semibold text-tarn" onclick={() => address.show(to)}>{word}</button>
{/snippet}

<article class="flex flex-col gap-2.5 rounded-2xl border border-line bg-surface p-4.5" aria-label={mob.name}>
  <header class="flex items-center gap-3">
    <Glyph glyph={mob.glyph} letter={mob.letter} size={32} />
    <h2 class="flex-1">{mob.name}</h2>
    <span class="text-soft" title={mob.counts.map((c) => `${c.count} ${c.name}`).join(', ')}
      >{mob.counts.map((c) => number(c.count, 'head', house.system)).join(' + ')}</span
    >
  </header>

  {#if held}
    <p class="rounded-xl bg-now-wash px-3 py-2 text-now-ink" role="status">
      <strong>{held.says}</strong>: {held.problem ??
        'held here, safe. It goes to the farm by itself, and what follows is worked out then.'}
      {#if held.problem}
        <span class="mt-1 flex flex-wrap gap-2">
          {#if held.unusual}<Button onclick={() => outbox.settle(held, true)}>Yes, it is so</Button>{/if}
          <Button kind="quiet" onclick={() => outbox.settle(held, false)}>Delete it</Button>
        </span>
      {/if}
    </p>
  {/if}
  {#each mob.withheld as w (w.product + w.until_on)}
    <p class="rounded-xl border border-stop px-3 py-2 text-stop">
      <strong>Withheld until {sayDay(new Date(w.until_on + 'T12:00'))}</strong>: {w.product}{w.tags ? `, ${w.tags}` : ''}
    </p>
  {/each}
  {#if mob.paddock_id && mob.since}
    <p class="text-soft">in <strong class="text-ink">{mob.paddock_name}</strong> since {sayMoment(new Date(mob.since))}</p>
    <p class="text-[30px] leading-tight font-bold tracking-tight">{answer}</p>
    {#if mob.leaves_because}<p>
        <Reason reason={mob.leaves_because} />{#if mob.next && !due}. Then {mob.next.paddock_name}{/if}
      </p>{/if}
  {:else}
    <p class="text-lg">Not on pasture. Record a move to turn them out.</p>
  {/if}
  {#if mob.last_call}
    <p class="text-sm text-soft">
      At the gate, {sayMoment(new Date(mob.last_call.at))}: {withUnit(mob.last_call.forage_mass_kg_dm_ha, 'kg_ha', house.system)} seen,
      {mob.last_call.reason ? `done otherwise than said: ${mob.last_call.reason}` : 'done as it was said'}.
    </p>
  {/if}
  <div class="flex flex-wrap gap-2">
    {#if house.may('hand') && due && mob.next && !held}
      <Button kind="main" disabled={write.busy} onclick={() => void bare(mob.next!)}>Moved just now</Button>
    {/if}
    {#if house.may('hand')}
      <Button kind={mob.paddock_id ? 'plain' : 'main'} onclick={onmove}
        >{mob.paddock_id ? 'Go through the gate' : 'Put them out'}</Button
      >
    {/if}
    {#if mob.gate}<Button kind={due ? 'quiet' : 'plain'} onclick={onask}>Stay or move?</Button>{/if}
  </div>
  {#if house.may('hand')}
    <div class="no-print -my-2 flex flex-wrap gap-x-5">
      {#if mob.paddock_id}{@render aside('Look', { look: mob.paddock_id })}{/if}
      {#if mob.paddock_id}{@render aside('Key plants', { tally: mob.paddock_id })}{/if}
      {@render aside('Treat', { given: mob.mob_id })}
      {@render aside('Split or join', { part: mob.mob_id })}
    </div>
  {/if}

  <details bind:open={why} class="group">
    <summary class="min-h-12 py-2.5 font-semibold text-tarn md:hidden">Why, and what else</summary>
    <div class="flex flex-col gap-2.5">
      {#if mob.paddock_id && mob.since}
        <p>
          Feed left <strong
            >{used
              ? 'used up'
              : mob.feed_beyond
                ? 'for more than two months'
                : `until ${sayUntil(new Date(mob.feed_until!))}`}</strong
          >{#if !used && !mob.feed_beyond && early !== late}<span class="text-soft">, between {early} and {late}</span>{/if}
        </p>
        {#if mob.points.length > 1 && mob.mass}
          <div bind:clientWidth={width}>
            <svg {width} height={height + 2} aria-hidden="true">
              <path d={fill(mob.points) ?? ''} fill="var(--feed-2)" opacity="0.45" />
              <path d={edge(mob.points) ?? ''} fill="none" stroke="var(--feed-4)" stroke-width="1.5" />
              <line
                x1="0"
                x2={width}
                y1={y(mob.residual_kg_dm_ha)}
                y2={y(mob.residual_kg_dm_ha)}
                stroke="var(--ink)"
                stroke-dasharray="2 4"
              />
              <line
                x1={x(now().getTime() / 1000)}
                x2={x(now().getTime() / 1000)}
                y1="0"
                y2={height}
                stroke="var(--now)"
                stroke-width="2.5"
              />
            </svg>
          </div>
          <p class="text-sm text-soft">
            about <Figure value={mob.mass.forage_mass_kg_dm_ha} half={mob.mass.half_width_kg_dm_ha} unit="kg_ha" />{mob.mass
              .guessed
              ? ', guessed'
              : ''} · leave at {number(mob.residual_kg_dm_ha, 'kg_ha', house.system)}{#if mob.stay}&nbsp;· <Figure
                value={mob.stay.value}
                unit="day"
                working={mob.stay}
                title="How long the feed lasts"
              /> without growth{/if}
          </p>
        {/if}
      {/if}
      {#if mob.next}
        <div class="border-t border-line pt-3">
          <p class="text-soft">Next, {sayMoment(new Date(mob.next.enter_at))}</p>
          <p class="flex items-center gap-2 text-xl font-bold">
            <Verdict state={mob.next.state} word={false} size={24} />{mob.next.paddock_name}: {word(mob.next.state)}
          </p>
          <ul class="mt-1 text-[15px]">
            {#each mob.next.reasons as r, i (i)}<li><Reason reason={r} /></li>{/each}
            {#if mob.next_stay}
              <li>
                enough for <Figure
                  value={mob.next_stay.value}
                  unit="day"
                  working={mob.next_stay}
                  title="Feed in {mob.next.paddock_name}"
                />, leave at {withUnit(mob.next.mass_out_kg_dm_ha, 'kg_ha', house.system)}
              </li>
            {/if}
          </ul>
        </div>
      {/if}
      {#if mob.linger}
        <p class="rounded-xl bg-now-wash px-3 py-2 text-[15px] text-now-ink"><Reason reason={mob.linger} /></p>
      {/if}
      {#if mob.next?.instead.length}
        <p class="text-sm text-soft">
          Instead:
          {#each mob.next.instead as a, i (a.paddock_id)}{i ? ', ' : ''}{a.name}, {withUnit(
              a.forage_mass_kg_dm_ha,
              'kg_ha',
              house.system,
            )}, {word(a.state)}{/each}.
        </p>
      {/if}
      <a href="#/f/{farm}/moves" class="no-print inline-flex min-h-12 items-center self-start font-semibold text-tarn"
        >See the plan, and why not another</a
      >
      {#if house.may('hand')}<div class="no-print -mt-3">
          {@render aside('Anybody new to electric fence?', { training: mob.mob_id })}
        </div>{/if}
    </div>
  </details>
  {#each mob.cautions.slice(0, 1).filter((c) => c.id === 'bloat') as c (c.id)}
    <p class="rounded-xl border border-now px-3 py-2 text-[15px] text-now-ink">
      <strong>{c.title}.</strong>
      {c.usual_precautions.slice(0, 2).join(' ')}
      {c.who_to_ask}
    </p>
  {/each}
</article>
