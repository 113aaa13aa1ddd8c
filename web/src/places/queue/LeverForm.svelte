<script lang="ts">
  import type { Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Reason from '../../ui/Reason.svelte'
  import { wordsOf, type Kind, type Lever } from './levers'

  // One lever and what it is asked; prices and labour are the user's own, and may be left out.
  interface Props {
    kind: Kind
    rows: Schemas['QueueRow'][]
    apart: Schemas['QueueApart'][]
    spares: Schemas['QueueSpare'][]
    mobs: Schemas['MobView'][]
    /** every mob of the farm: they may go to one of another queue */
    all: Schemas['MobView'][]
    schools: Schemas['QueueSchool'][]
    onadd: (lever: Lever) => void
    oncancel: () => void
  }
  let { kind, rows, apart, spares, mobs, all, schools, onadd, oncancel }: Props = $props()

  const words = $derived(wordsOf(kind))
  // Ranked by what can be spared best, the farm's own ranking; nitrogen goes where the next feed is wanted: the other way about.
  const spare = $derived.by(() => {
    const names = new Map(rows.map((r) => [r.paddock_id, r]))
    const list = spares.flatMap((s) => names.get(s.paddock_id) ?? [])
    return kind === 'nitrogen' ? rows.filter((r) => !r.grazed) : list.length ? list : rows.filter((r) => !r.grazed)
  })
  const open = $derived(
    kind === 'reopen'
      ? apart.map((a) => ({ value: a.paddock_id, label: `${a.name}, ${a.why}` }))
      : spare.map((r) => ({ value: r.paddock_id, label: r.name })),
  )
  let paddock = $state('')
  let mob = $state('')
  let cls = $state('')
  let into = $state('')
  let school = $state('')
  // svelte-ignore state_referenced_locally
  let days = $state<number | null>(kind === 'close' ? 35 : kind === 'pace' ? 25 : 14)
  let after = $state<number | null>(0)
  // svelte-ignore state_referenced_locally
  let kg = $state<number | null>(kind === 'nitrogen' ? 30 : 2)
  let waste = $state<number | null>(null)
  let count = $state<number | null>(null)
  let area = $state<number | null>(null)
  let bale = $state<number | null>(null)
  let price = $state<number | null>(null)
  let hours = $state<number | null>(null)
  const why = $derived(
    ['cut', 'close', 'pass', 'top'].includes(kind) ? spares.find((s) => s.paddock_id === picked)?.why : undefined,
  )
  const picked = $derived(paddock || (open[0]?.value ?? ''))
  const of = $derived(mob || (mobs[0]?.id ?? ''))
  const asks = $derived(words.asks)
  const others = $derived(all.filter((m) => m.id !== of).map((m) => ({ value: m.id, label: m.name })))
  const goes = $derived(into || (words.into?.none ? '' : (others[0]?.value ?? '')))
  const classes = $derived(mobs.find((m) => m.id === of)?.classes ?? [])
  // Young are weaned: the lightest class is the one to begin with.
  const young = $derived([...classes].sort((a, b) => a.live_weight_kg - b.live_weight_kg)[0]?.id ?? '')
  const which = $derived(cls || (kind === 'wean' ? young : ''))
  const opt = (v: number | null) => v ?? undefined

  const add = () =>
    onadd({
      kind,
      paddock_id: asks.includes('paddock') ? picked : undefined,
      mob_id: asks.includes('mob') ? of : undefined,
      class_id: asks.includes('class') ? which || undefined : undefined,
      into_mob_id: asks.includes('into') ? goes || undefined : undefined,
      school: asks.includes('school') ? school || schools[0]?.key : undefined,
      days: asks.includes('days') ? opt(days) : undefined,
      after_days: asks.includes('after') ? opt(after) : undefined,
      kg: asks.includes('kg') ? opt(kg) : undefined,
      waste: opt(waste),
      count: opt(count),
      area_ha: opt(area),
      bale_kg_dm: opt(bale),
      price: opt(price),
      hours: opt(hours),
    })
</script>

<form class="flex flex-col gap-3 rounded-xl border border-line p-3" onsubmit={(e) => (e.preventDefault(), add())}>
  <p class="font-semibold">{words.label}</p>
  {#if asks.includes('paddock')}<Choice label="Which" bind:value={() => picked, (v) => (paddock = v)} options={open} />{/if}
  {#if why?.length}<p class="-mt-2 text-sm text-soft">
      {#each why as w, i (i)}{i ? '; ' : ''}<Reason reason={w} />{/each}
    </p>{/if}
  {#if asks.includes('mob')}<Choice
      label="Mob"
      bind:value={() => of, (v) => ((mob = v), (cls = ''))}
      options={mobs.map((m) => ({ value: m.id, label: m.name }))}
    />{/if}
  {#if asks.includes('class')}<Choice
      label="Which of them"
      bind:value={() => which, (v) => (cls = v)}
      options={[
        ...(kind === 'wean' ? [] : [{ value: '', label: 'of all alike' }]),
        ...classes.map((c) => ({ value: c.id!, label: `${c.name}, ${c.count}` })),
      ]}
    />{/if}
  {#if asks.includes('into')}<Choice
      label={words.into!.label}
      bind:value={() => goes, (v) => (into = v)}
      options={[
        ...(words.into!.none ? [{ value: '', label: words.into!.none }] : []),
        ...others.map((o) => ({ ...o, label: words.into!.none ? `to ${o.label}` : o.label })),
      ]}
    />{/if}
  {#if asks.includes('school')}<Choice
      label="By"
      bind:value={() => school || (schools[0]?.key ?? ''), (v) => (school = v)}
      options={schools.map((s) => ({ value: s.key, label: s.name }))}
      hint="with its usual figures"
    />{/if}
  <div class="grid grid-cols-2 gap-3">
    {#if asks.includes('count')}<NumberField
        compact
        label={kind === 'split' ? 'How many go' : 'Come, or −go'}
        unit="head"
        bind:value={count}
      />{/if}
    {#if asks.includes('kg')}<NumberField compact label={words.kg!} unit={words.kgUnit} bind:value={kg} />{/if}
    {#if asks.includes('area')}<NumberField compact label="Area" unit="ha" bind:value={area} />{/if}
    {#if asks.includes('days')}<NumberField compact label={words.days!} unit="day" bind:value={days} />{/if}
    {#if asks.includes('after')}<NumberField compact label="In" unit="day" bind:value={after} />{/if}
    {#if asks.includes('waste')}<NumberField
        compact
        label={kind === 'cut' ? 'Lost on the way' : 'Wasted'}
        unit="share"
        bind:value={waste}
      />{/if}
    {#if asks.includes('bale')}<NumberField compact label="A bale, dry matter" unit="kg" bind:value={bale} />{/if}
    {#if asks.includes('price')}<NumberField compact label={words.price!} bind:value={price} />{/if}
    {#if asks.includes('hours')}<NumberField compact label="Labour, in all" unit="hour" bind:value={hours} />{/if}
  </div>
  <div class="flex flex-wrap gap-2">
    <Button kind="main" type="submit" disabled={(asks.includes('paddock') && !picked) || (asks.includes('count') && !count)}
      >Try it</Button
    >
    <Button kind="quiet" onclick={oncancel}>Cancel</Button>
  </div>
</form>
