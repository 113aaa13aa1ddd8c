<script lang="ts">
  import type { Refusal, Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Glyph from '../../ui/Glyph.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Reason from '../../ui/Reason.svelte'
  import InStrips from './InStrips.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { addDays, clock, shortDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Verdict from '../../ui/Verdict.svelte'
  import { stepSlot } from './slots'
  import WhyNot from './WhyNot.svelte'

  type Visit = Schemas['VisitView']

  interface Props {
    farm: string
    visit: Visit
    plan: Schemas['PlanView']
    mobs: Schemas['MobView'][]
    movable: boolean
    refusal: Refusal | null
    onpin: (v: Visit, to: { paddock?: string; enter?: Date; leave?: Date | null }) => void
    onunpin: (v: Visit) => void
    onclose: () => void
  }
  let { farm, visit, plan, mobs, movable, refusal, onpin, onunpin, onclose }: Props = $props()

  const mob = $derived(mobs.find((m) => m.id === visit.mob_id))
  const enter = $derived(new Date(visit.enter_at))
  const leave = $derived(new Date(visit.leave_at))
  const free = $derived(movable && (visit.kind === 'planned' || visit.kind === 'beyond'))
  const kinds: Record<string, string> = {
    past: 'on record',
    now: 'in it now',
    planned: 'planned',
    beyond: 'past the plan: a forecast',
  }
  const checks = $derived(
    plan.checks.filter(
      (c) =>
        c.mob_id === visit.mob_id &&
        c.paddock_id === visit.paddock_id &&
        Date.parse(c.at) >= +enter - 1 &&
        Date.parse(c.at) <= +leave + 1,
    ),
  )
</script>

<div class="flex items-start justify-between gap-2">
  <div>
    <p class="flex items-center gap-2 text-sm text-soft">
      {#if mob}<Glyph glyph={mob.glyph} letter={mob.letter} size={22} />{/if}{mob?.name} · {kinds[visit.kind]}{visit.pin_id
        ? ', fixed'
        : ''}
    </p>
    <h2 class="mt-1 !text-2xl">{visit.paddock_name}</h2>
    <p>in {shortDay(enter)} {clock(enter)}<br />out {shortDay(leave)} {clock(leave)}</p>
  </div>
  <button type="button" class="rounded p-2 text-soft hover:text-ink" aria-label="Close" onclick={onclose}
    ><Icon name="close" size={20} /></button
  >
</div>
<div>
  <Figure value={visit.stay_days} unit="day" size="huge" />
  <p class="text-soft">
    {number(visit.mass_in_kg_dm_ha, 'kg_ha', house.system)} in, {withUnit(visit.mass_out_kg_dm_ha, 'kg_ha', house.system)} out
  </p>
</div>
<Refused {refusal} />
{#if visit.kind !== 'past'}
  <dl class="grid grid-cols-[1fr_auto] gap-y-1.5">
    <dt class="text-soft">Feed above what you leave</dt>
    <dd><Figure value={visit.feed_kg_dm} unit="kg" /></dd>
    <dt class="text-soft">{visit.kind === 'now' ? 'They need, from now on' : 'They need, over the stay'}</dt>
    <dd><Figure value={visit.demand_kg_dm} unit="kg" /></dd>
    {#if visit.short_kg_dm > 1}
      <dt class="font-semibold text-stop">Short</dt>
      <dd class="text-stop"><Figure value={visit.short_kg_dm} unit="kg" /></dd>
    {/if}
    <dt class="text-soft">Rest before</dt>
    <dd>
      {#if visit.rest_days === null}unknown{:else}<Figure value={visit.rest_days} unit="day" decimals={0} />{/if}
    </dd>
    <dt class="text-soft">Used, of what stood</dt>
    <dd><Figure value={visit.used_share} unit="share" /></dd>
    {#if visit.rest_needed_days !== null}
      <dt class="text-soft" title="Set by {visit.rest_binds}">Ready again</dt>
      <dd>about {shortDay(addDays(leave, visit.rest_needed_days))}</dd>
    {/if}
  </dl>
  <div>
    <h3 class="flex items-center gap-2">Why here <Verdict state={visit.state} /></h3>
    <ul>
      {#if visit.found}<li>Of all the plans looked through, the one that costs least goes here then.</li>{/if}
      {#each visit.reasons as r, i (i)}<li><Reason reason={r} /></li>{/each}
    </ul>
    {#each checks as c, i (i)}<p class="mt-1 font-semibold text-stop"><Reason reason={c.reason} /></p>{/each}
  </div>
  {#if visit.instead.length}
    <div>
      <h3>Instead</h3>
      {#each visit.instead as a (a.paddock_id)}
        <div class="flex min-h-11 items-center gap-2 border-b border-line">
          <Verdict state={a.state} word={false} size={18} />
          <span class="flex-1"
            >{a.name}<br /><span class="text-sm text-soft">{withUnit(a.forage_mass_kg_dm_ha, 'kg_ha', house.system)}</span></span
          >
          {#if free}<Button kind="quiet" onclick={() => onpin(visit, { paddock: a.paddock_id })}>Take it</Button>{/if}
        </div>
      {/each}
    </div>
  {/if}
  {#if visit.kind === 'planned'}<WhyNot {farm} {visit} />{/if}
  <InStrips {farm} {visit} />
  {#if visit.linger}
    <p class="rounded-xl bg-now-wash p-3 text-now-ink"><Reason reason={visit.linger} /></p>
  {/if}
{/if}
{#if free}
  <div class="flex flex-col gap-2">
    <div class="grid grid-cols-2 gap-2">
      <Button onclick={() => onpin(visit, { enter: stepSlot(enter, -1) })} title="Arrow left">½ day earlier</Button>
      <Button onclick={() => onpin(visit, { enter: stepSlot(enter, 1) })} title="Arrow right">½ day later</Button>
      <Button onclick={() => onpin(visit, { leave: stepSlot(leave, -1) })} disabled={visit.stay_days <= 0.5}>Shorten</Button>
      <Button onclick={() => onpin(visit, { leave: stepSlot(leave, 1) })}>Stretch</Button>
    </div>
    <Choice
      label="Another paddock"
      value={visit.paddock_id}
      options={plan.rows.filter((r) => r.has_mob && !r.closed_for).map((r) => ({ value: r.paddock_id, label: r.name }))}
      onchange={(p) => onpin(visit, { paddock: p })}
    />
    {#if visit.pin_id}
      <Button onclick={() => onunpin(visit)}>Unfix</Button>
    {:else}
      <Button kind="main" onclick={() => onpin(visit, {})}>Pin this move</Button>
    {/if}
  </div>
{/if}
