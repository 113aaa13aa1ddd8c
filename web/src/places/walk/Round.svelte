<script lang="ts">
  import { many } from '../../ui/many'
  import { api, ask, type Schemas } from '../../api/client'
  import { outbox, type Item } from '../../api/outbox.svelte'
  import { press } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import { number, withUnit } from '../../ui/units'
  import { clock, sayDay } from '../../ui/time.svelte'
  import { begun, methodUnits, type Method } from './draft.svelte'
  import Search from '../../ui/Search.svelte'
  import { found, sayFound } from '../../ui/seen.svelte'
  import Photos from './Photos.svelte'

  interface Props {
    farm: string
    walk: Schemas['WalkView']
    onmeasure: (i: number) => void
    onsection: (s: 'Calibrations') => void
  }
  let { farm, walk, onmeasure, onsection }: Props = $props()

  let ordering = $state(false)
  let setting = $state(false)
  let moving = $state<Schemas['OddView'] | null>(null)
  const stops = $derived(walk.stops)
  const manyStops = 30
  let words = $state('')
  const listed = $derived(
    found(
      stops.map((s, i) => ({ s, i })),
      words,
      ({ s }) => s.name,
    ),
  )
  const held = $derived(new Map(outbox.items.flatMap((i) => (i.kind === 'measurement' ? [[i.body.paddock_id, i]] : []))))
  const troubled = $derived(outbox.troubled.filter((t) => !['move', 'record'].includes(t.kind)))
  /** What was refused, by its own name: the paddock, and of a reading its figure and its hour. */
  function named(t: Item): string {
    if (t.kind === 'photo') return 'A photo'
    if (t.kind === 'move' || t.kind === 'call' || t.kind === 'record') return t.says
    if (t.kind === 'unrecord') return 'Something taken back'
    const paddock = stops.find((s) => s.paddock_id === t.body.paddock_id)?.name ?? 'A paddock'
    if (t.kind !== 'reading') return paddock
    return `${paddock}, ${number(t.body.value, methodUnits[t.body.method as Method] ?? '', house.system)} at ${clock(new Date(t.body.taken_at!))}`
  }
  const isDone = (s: Schemas['WalkStop']) => s.measured_today || held.has(s.paddock_id)
  let allOdd = $state(false)
  const anyPhotos = $derived(stops.some((s) => s.last?.photos.length))
  const done = $derived(stops.filter(isDone).length)
  const next = $derived(stops.findIndex((s) => !isDone(s)))
  const most = $derived(Math.max(3000, ...stops.map((s) => s.mass.forage_mass_kg_dm_ha + s.mass.half_width_kg_dm_ha)))

  async function setOrder(ids: string[]) {
    if (setting) return // one after the other: each rests on the order before it
    setting = true
    const before = stops.map((s) => s.paddock_id)
    const put = (version: number, paddock_ids: string[]) =>
      ask(
        api.PUT('/api/farms/{farm}/walk/order', {
          params: { path: { farm }, header: { 'If-Match': version } },
          body: { paddock_ids },
        }),
      )
    await press(() => put(walk.version, ids), { say: 'Order kept.', undo: (kept) => put(kept.version, before) })
    setting = false
  }

  function shift(i: number, by: number) {
    const ids = stops.map((s) => s.paddock_id)
    const [id] = ids.splice(i, 1)
    ids.splice(i + by, 0, id!)
    void setOrder(ids)
  }

  async function answer(o: Schemas['OddView'], how: Schemas['OddAnswer']['answer'], paddock?: string) {
    const went = await press(
      () =>
        ask(
          api.POST('/api/farms/{farm}/measurements/{id}/answer', {
            params: { path: { farm, id: o.id } },
            body: { answer: how, paddock_id: paddock },
          }),
        ),
      { then: () => (moving = null) },
    )
    if (went && how === 'wrong_calibration') onsection('Calibrations')
  }
</script>

{#if troubled.length}
  <section class="mb-4 rounded-2xl border-2 border-now bg-now-wash p-4 text-now-ink" role="alert">
    {#each troubled as t (t.key)}
      <div class="flex flex-wrap items-center gap-3 py-1">
        <p class="flex-1">
          <strong>{named(t)}</strong>: {t.problem}
        </p>
        {#if t.unusual}<Button onclick={() => outbox.settle(t, true)}>Yes, it is so</Button>{/if}
        <Button kind="quiet" onclick={() => outbox.settle(t, false)}>Delete it</Button>
      </div>
    {/each}
  </section>
{/if}

{#each walk.odd.slice(0, allOdd ? undefined : 2) as o (o.id)}
  <section class="mb-4 rounded-2xl border-2 border-now bg-now-wash p-4 text-now-ink" aria-label="A measurement far off">
    <p class="text-lg">
      <strong>{o.paddock}</strong>: measured {number(o.measured_kg_dm_ha, 'kg_ha', house.system)}, where {withUnit(
        o.believed_kg_dm_ha,
        'kg_ha',
        house.system,
      )} was believed on {sayDay(new Date(o.at))}.
    </p>
    <p>{o.question}</p>
    {#if house.may('hand')}
      <div class="mt-2 flex flex-wrap gap-2">
        <Button onclick={() => answer(o, 'kept')}>It is right</Button>
        <Button onclick={() => (moving = moving ? null : o)}>Wrong paddock</Button>
        <Button onclick={() => answer(o, 'wrong_calibration')}>Wrong calibration</Button>
        <Button onclick={() => answer(o, 'eaten')}>Something ate it</Button>
      </div>
      {#if moving?.id === o.id}
        <div class="mt-2 flex flex-wrap items-center gap-2">
          <span>It was</span>
          {#each stops.filter((s) => s.paddock_id !== o.paddock_id) as s (s.paddock_id)}
            <button
              type="button"
              class="min-h-11 rounded-lg border border-now-ink px-3"
              onclick={() => answer(o, 'wrong_paddock', s.paddock_id)}>{s.name}</button
            >
          {/each}
          <button type="button" class="min-h-11 px-3 underline" onclick={() => answer(o, 'wrong_paddock')}
            >none of these: take it back</button
          >
        </div>
      {/if}
    {/if}
  </section>
{/each}
{#if walk.odd.length > 2 && !allOdd}
  <p class="mb-4"><Button onclick={() => (allOdd = true)}>{walk.odd.length - 2} more lie far off: see them all</Button></p>
{/if}

<div class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-3">
  <p class="flex-1 text-soft max-md:basis-full">
    {done} of {stops.length} measured today{walk.days_since !== null
      ? ` · last walk ${withUnit(walk.days_since, 'day', house.system, 0)} ago`
      : ''} · {walk.own_order ? 'your own order' : 'the shortest way round'}
    {#if outbox.waiting}<strong class="text-now-ink">
        · {outbox.waiting} held here, safe{outbox.signedOut ? ': sign in again to send them' : ''}</strong
      >{/if}
  </p>
  {#if house.may('manager')}
    <Button kind="quiet" pressed={ordering} onclick={() => (ordering = !ordering)}>Order</Button>
    {#if ordering && walk.own_order}<Button kind="quiet" onclick={() => setOrder([])}>Shortest way round</Button>{/if}
  {/if}
  {#if house.may('hand')}
    <Button kind="main" onclick={() => onmeasure(next < 0 ? 0 : next)}
      >{done ? `On to ${stops[next < 0 ? 0 : next]!.name}` : `Start at ${stops[0]!.name}`}</Button
    >
  {/if}
</div>
{#if stops.length > manyStops}<div class="mb-2 max-w-[320px]"><Search bind:words said={sayFound(listed.length)} /></div>{/if}
<ol class="overflow-hidden rounded-2xl border border-line bg-surface">
  {#each listed as { s, i } (s.paddock_id)}
    {@const open = begun(farm, s.paddock_id)}
    <li
      class="flex items-stretch border-b border-line last:border-b-0 {stops.length > manyStops
        ? '[contain-intrinsic-size:auto_64px] [content-visibility:auto]'
        : ''}"
    >
      {#if ordering}
        <span class="flex flex-col justify-center border-r border-line">
          <button
            type="button"
            class="px-3 py-1 text-tarn"
            disabled={i === 0}
            aria-label="{s.name} earlier"
            onclick={() => shift(i, -1)}><Icon name="up" size={20} /></button
          >
          <button
            type="button"
            class="px-3 py-1 text-tarn"
            disabled={i === stops.length - 1}
            aria-label="{s.name} later"
            onclick={() => shift(i, 1)}><Icon name="down" size={20} /></button
          >
        </span>
      {/if}
      <button
        type="button"
        class="grid min-h-14 w-full grid-cols-[28px_minmax(110px,1.1fr)_minmax(120px,1.6fr)_auto] items-center gap-3 px-4 py-1.5 text-left hover:bg-tarn-wash max-md:grid-cols-[24px_1fr_auto] max-md:px-3"
        disabled={!house.may('hand')}
        title={s.mass.sources}
        onclick={() => onmeasure(i)}
      >
        {#if isDone(s)}<span class={held.has(s.paddock_id) ? 'text-now-ink' : 'text-tarn'}
            ><Icon name="tick" size={22} /><span class="sr-only">measured today</span></span
          >{:else}<span class="text-sm text-soft">{i + 1}</span>{/if}
        <span class="min-w-0"
          ><strong>{s.name}</strong>{#if s.leaves !== null}<span class="ml-1.5 text-sm text-soft">
              · {withUnit(s.leaves, 'leaf', house.system)}</span
            >{/if}<br /><span class="block text-sm text-soft"
            >{#if held.has(s.paddock_id)}<strong class="text-now-ink">held here, safe</strong>
            {:else if open}<strong class="text-now-ink">{many(open, 'reading')} begun</strong>
            {:else}{s.last
                ? `${s.last.readings > 1 ? s.last.readings + ' by ' : ''}${s.last.method.replace('_', ' ')}, ${sayDay(new Date(s.last.measured_at))}`
                : 'never measured'}{#if s.last?.photos.length}<span class="ml-1"
                  >· {s.last.photos.length} photo{s.last.photos.length > 1 ? 's' : ''}</span
                >{/if}{/if}</span
          ></span
        >
        <span class="relative block h-5 max-md:hidden" aria-hidden="true">
          <span
            class="absolute inset-y-0 left-0 rounded-r-sm bg-[var(--feed-2)]"
            class:opacity-40={s.mass.guessed}
            style:width="{(s.mass.forage_mass_kg_dm_ha / most) * 100}%"
          ></span>
          <span
            class="absolute top-1/2 h-0.5 bg-ink"
            style:left="{(Math.max(0, s.mass.forage_mass_kg_dm_ha - s.mass.half_width_kg_dm_ha) / most) * 100}%"
            style:width="{((2 * s.mass.half_width_kg_dm_ha) / most) * 100}%"
          ></span>
        </span>
        <span class="text-right whitespace-nowrap"
          ><span class="text-sm text-soft">about</span>
          <span class="figure text-lg">{number(s.mass.forage_mass_kg_dm_ha, 'kg_ha', house.system)}</span>
          <span class="text-sm text-soft max-md:block"
            >± {withUnit(s.mass.half_width_kg_dm_ha, 'kg_ha', house.system)}{s.mass.guessed ? ', guessed' : ''}</span
          ></span
        >
      </button>
      {#if anyPhotos}
        <span class="flex w-16 shrink-0 items-center pl-1"><Photos {farm} stop={s} /></span>
      {/if}
    </li>
  {/each}
</ol>
<p class="mt-3 text-sm text-soft">
  Between walks each mass is carried on by growth, weather and what stock ate, and every walk corrects it. Point at a row to read
  what it rests on.{#if location.protocol !== 'https:' && location.hostname !== '127.0.0.1' && location.hostname !== 'localhost'}
    On a phone, work without a signal needs Fjell over HTTPS.{/if}
</p>
