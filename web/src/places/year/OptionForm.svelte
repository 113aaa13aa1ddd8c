<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { number, withUnit } from '../../ui/units'
  import { own } from './cards'

  // One card: what, where, in which month, how much, at whose price.
  interface Props {
    means: Schemas['YearMeans']
    months: Schemas['BudgetMonth'][]
    prices: Schemas['PriceRow'][]
    onadd: (o: Schemas['Option']) => void
    oncancel: () => void
  }
  let { means, months, prices, onadd, oncancel }: Props = $props()

  const zone = $derived(house.farm?.time_zone)
  const calendar = (at: string) => Number(new Date(at).toLocaleDateString('en', { month: 'numeric', timeZone: zone }))
  const named = (at: string) => new Date(at).toLocaleDateString('en', { month: 'long', year: 'numeric', timeZone: zone })

  let what = $state('bought_hay')
  let field = $state('')
  let group = $state('0')
  let month = $state('')
  let area = $state<number | null>(null)
  let tonnes = $state<number | null>(null)
  let head = $state<number | null>(null)
  let typed = $state<number | null>(null)
  let hours = $state<number | null>(null)
  let term = $state<number | null>(null)
  let yields = $state<number | null>(null)
  let eaten = $state<number | null>(null)
  let loss = $state<number | null>(null)
  let kind = $state('')
  let obliged = $state<Record<string, number | null>>({})

  const input = $derived(means.inputs.find((i) => i.id === what))
  const rents = $derived(what === 'rent')
  const weans = $derived(what === 'wean')
  const behind = $derived(what === 'behind')
  const shares = $derived(what === 'divide' || what === 'top')
  const ground = $derived(shares || behind || (!!input && input.kind !== 'buy'))
  const perHead = $derived(behind || weans || what === 'head')
  const grouped = $derived(what === 'head' || rents || weans)
  const when = $derived(
    months.map((m, i) => ({ i, m })).filter(({ m }) => !input || input.apply_months.includes(calendar(m.from))),
  )
  const chosen = $derived(when.some(({ i }) => String(i) === month) ? month : String(when[0]?.i ?? 0))
  // The farm's own price of that month stands there until another is typed.
  const then = (item: string) =>
    prices.find((p) => p.item === item && p.from_day <= (months[Number(chosen)]?.from ?? '').slice(0, 10))
  const held = $derived(then(what))
  const companion = (id: string) => (id in obliged ? (obliged[id] ?? null) : (then(id)?.price ?? null))
  const price = $derived(typed ?? held?.price ?? null)
  // Where it is meant to go stands first.
  const fields = $derived([...means.fields].sort((a, b) => Number(b.inputs.includes(what)) - Number(a.inputs.includes(what))))
  const on = $derived(field || (fields[0]?.id ?? ''))
  const class_ = $derived(kind || (means.behind.find((b) => b.id === 'doe_dry') ?? means.behind[0])?.id || '')
  const kinds = { buy: 'Buy', grow: 'Grow', move: 'Keep for later', protect: 'Grow' }
  const options = $derived([
    ...Object.entries(own).map(([value, o]) => ({ value, label: o.label })),
    ...[...means.inputs]
      .sort((a, b) => kinds[a.kind].localeCompare(kinds[b.kind]))
      .map((i) => ({ value: i.id, label: `${kinds[i.kind]}: ${i.name}` })),
  ])
  const add = () =>
    onadd({
      input: what === 'head' ? undefined : what,
      field_id: ground ? on : undefined,
      month: Number(chosen),
      area_ha: rents || (ground && !shares) ? (area ?? undefined) : undefined,
      tonnes: input?.kind === 'buy' ? (tonnes ?? undefined) : undefined,
      group: grouped ? Number(group) : undefined,
      head: what === 'head' || weans || behind ? (head ?? undefined) : undefined,
      class: behind ? class_ : undefined,
      loss_share: input?.kind === 'buy' ? (loss ?? undefined) : undefined,
      months: rents || behind ? (term ?? undefined) : undefined,
      yield_t_ha: rents ? (yields ?? undefined) : undefined,
      share: shares || behind ? (eaten ?? undefined) : undefined,
      companions: input?.obliges.length
        ? input.obliges.map((id) => ({ input: id, price: companion(id) ?? undefined }))
        : undefined,
      price: price ?? undefined,
      hours: hours ?? undefined,
    })
</script>

<form class="flex flex-col gap-3 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), add())}>
  <Choice label="What" bind:value={what} {options} />
  {#if ground}
    <Choice
      label="On"
      bind:value={() => on, (v) => (field = v)}
      options={fields.map((f) => ({
        value: f.id,
        label: shares || behind || f.inputs.includes(what) ? f.name : `${f.name}, not meant for it`,
      }))}
    />
  {/if}
  {#if behind}<Choice
      label="Who comes behind"
      bind:value={() => class_, (v) => (kind = v)}
      options={means.behind.map((b) => ({ value: b.id, label: b.name }))}
    />{/if}
  {#if grouped && means.groups.length > 1}
    <Choice label="Whose" bind:value={group} options={means.groups.map((g, i) => ({ value: String(i), label: g }))} />
  {/if}
  <Choice
    label="In"
    bind:value={() => chosen, (v) => (month = v)}
    options={when.map(({ i, m }) => ({ value: String(i), label: named(m.from) }))}
  />
  <div class="grid grid-cols-2 gap-3">
    {#if rents || (ground && !shares)}<NumberField
        compact
        label="Area"
        unit="ha"
        bind:value={area}
        hint={rents ? undefined : 'empty: all of it'}
      />{/if}
    {#if rents || behind}<NumberField compact label="For months" bind:value={term} hint="empty: to the end" />{/if}
    {#if rents}
      <NumberField compact label="Grows" unit="t_ha" bind:value={yields} hint="in a year, before losses; empty: as your own" />
    {/if}
    {#if shares}<NumberField compact label="Eaten then" unit="share" bind:value={eaten} hint="of all that grows" />{/if}
    {#if behind}<NumberField
        compact
        label="Grass they eat"
        unit="share"
        bind:value={eaten}
        hint="of what they eat, that the others would"
      />{/if}
    {#if input?.kind === 'buy'}
      <NumberField compact label="Delivered" unit="t" bind:value={tonnes} />
      <NumberField compact label="Lost by feeding" unit="share" bind:value={loss} hint="empty: as is usual of it" />
    {/if}
    {#if what === 'head'}<NumberField compact label="Come, or −go" unit="head" bind:value={head} />{/if}
    {#if weans}<NumberField compact label="Young that go" unit="head" bind:value={head} hint="empty: all stay" />{/if}
    {#if behind}<NumberField compact label="Head" unit="head" bind:value={head} />{/if}
    <NumberField
      compact
      label={perHead ? 'Cost a head' : 'Cost'}
      unit={perHead ? '' : ground || rents ? 'per_ha' : 'per_t'}
      bind:value={() => price, (v) => (typed = v)}
      hint={held && typed === null ? `yours since ${held.from_day}` : 'yours, or left out'}
    />
    <NumberField compact label="Work" unit="h" bind:value={hours} hint="or left out" />
  </div>
  {#if input?.obliges.length}
    <fieldset class="rounded-xl border border-line bg-sunken p-3">
      <legend class="sr-only">What it obliges</legend>
      <p class="text-sm">It does not come without these: their cost sits with it.</p>
      {#each input.obliges as id (id)}
        <div class="mt-2">
          <NumberField
            compact
            label={means.inputs.find((i) => i.id === id)?.name ?? id}
            unit="per_ha"
            bind:value={() => companion(id), (v) => (obliged = { ...obliged, [id]: v })}
            hint={then(id) && !(id in obliged) ? `yours since ${then(id)!.from_day}` : 'yours; empty: not known'}
          />
        </div>
      {/each}
    </fieldset>
  {/if}
  {#if input}
    <p class="text-sm">
      {[
        input.nitrogen_kg_ha && `${withUnit(input.nitrogen_kg_ha, 'kg_ha', house.system, 0)} of nitrogen`,
        `feeds ${number(input.lead_time_days, 'day', house.system, 0)} days after`,
        input.life_years > 1 &&
          `works for ${number(input.life_years, 'count', house.system)} years, its cost is spread over them`,
        input.life_years === 1 && 'for one season',
      ]
        .filter(Boolean)
        .join('; ')}.
    </p>
  {/if}
  {#if input?.extra_yield_t_ha}
    <p class="text-sm text-soft">
      {number(input.extra_yield_t_ha.low, 't_ha', house.system, 1)} to {withUnit(
        input.extra_yield_t_ha.high,
        't_ha',
        house.system,
        1,
      )} of dry matter in a year of its life, {number(input.extra_yield_t_ha.typical, 't_ha', house.system, 1)} counted; your own strips
      and records say better.
    </p>
  {/if}
  {#if input}<p class="rounded-xl bg-now-wash px-3 py-2 text-sm text-now-ink">{input.caution}</p>{/if}
  <p class="text-sm text-soft">Burning is no card: it needs a plan of its own, approved where you are, with people and water.</p>
  <div class="flex flex-wrap gap-2">
    <Button
      kind="main"
      type="submit"
      disabled={!when.length ||
        (input?.kind === 'buy' && !tonnes) ||
        (what === 'head' && !head) ||
        (rents && !area) ||
        (behind && !head) ||
        ((shares || behind) && !eaten) ||
        (ground && !on)}>Try it</Button
    >
    <Button kind="quiet" onclick={oncancel}>Cancel</Button>
  </div>
</form>
