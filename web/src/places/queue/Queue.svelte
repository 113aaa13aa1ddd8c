<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, type Schemas } from '../../api/client'
  import { useDecisions, useFodder, useMobs, useQueue } from '../../api/queries.svelte'
  import { Trial } from '../../api/trial.svelte'
  import { Write } from '../../api/write.svelte'
  import { address } from '../../ui/address'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import Empty from '../../ui/Empty.svelte'
  import Figure from '../../ui/Figure.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Reason from '../../ui/Reason.svelte'
  import Refused from '../../ui/Refused.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import { isoDay, sayDay } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'
  import Bars from './Bars.svelte'
  import Decisions from './Decisions.svelte'
  import Fodder from './Fodder.svelte'
  import Levers from './Levers.svelte'
  import type { Lever } from './levers'

  let { params }: { params: { farm: string } } = $props()

  const back = $derived(Math.min(26, Math.max(0, Number(address.get('back')) || 0)))
  const queue = useQueue(
    () => params.farm,
    () => address.get('mob'),
    () => back,
  )
  const mobs = useMobs(() => params.farm)
  const decided = useDecisions(
    () => params.farm,
    () => address.get('mob'),
  )
  const fodder = useFodder(() => params.farm)
  const v = $derived(queue.data)
  const trial = new Trial<Lever, Schemas['TryView']>()
  const tried = $derived(trial.answer)
  let above = $state(false)
  let sort = $state<'turn' | 'mass' | 'rest' | 'ready' | 'own'>('turn')
  let bars = $state<Bars | null>(null)
  const selected = $derived(address.get('paddock'))
  const chosen = $derived(v?.rows.find((r) => r.paddock_id === selected))

  const readiness = ['mind', 'ready', 'soon', 'resting', 'stop']
  const rows = $derived.by(() => {
    const list = [...(v?.rows ?? [])]
    if (sort === 'mass') list.sort((a, b) => b.forage_mass_kg_dm_ha - a.forage_mass_kg_dm_ha)
    if (sort === 'rest') list.sort((a, b) => (b.rest_days ?? -1) - (a.rest_days ?? -1))
    if (sort === 'own') {
      const at = new Map((moved ?? v?.own_order ?? []).map((id, i) => [id, i]))
      list.sort((a, b) => (at.get(a.paddock_id) ?? Infinity) - (at.get(b.paddock_id) ?? Infinity) || 0)
    }
    if (sort === 'ready') list.sort((a, b) => readiness.indexOf(a.state) - readiness.indexOf(b.state))
    return list
  })
  const changed = $derived(
    tried && tried.effects.length && !v?.weeks_back ? new Map(tried.behind.rows.map((r) => [r.paddock_id, r])) : null,
  )

  // The farm's own order: a row is carried to another's place, and the order is kept for everybody.
  let moved = $state.raw<string[] | null>(null)
  const ordering = new Write()
  function place(id: string, by: number) {
    const order = rows.map((r) => r.paddock_id)
    const from = order.indexOf(id)
    const to = Math.min(order.length - 1, Math.max(0, from + by))
    if (from === to) return
    order.splice(to, 0, ...order.splice(from, 1))
    // What belongs to another queue keeps its place behind.
    moved = [...order, ...(v?.own_order ?? []).filter((x) => !order.includes(x))]
    saving = saving.then(save)
  }
  // One after another: what is carried while another is on its way is kept with the version that one made.
  let saving = Promise.resolve()
  async function save() {
    const order = moved
    if (!order || !v) return
    const version = v.version
    const kept = await ordering.send(() =>
      ask(
        api.PUT('/api/farms/{farm}/queue/order', {
          params: { path: { farm: params.farm }, header: { 'If-Match': version } },
          body: { paddock_ids: order },
        }),
      ),
    )
    if (moved === order && (kept || ordering.refusal)) moved = null
  }

  const step = (by: 1 | -1) => address.show({ back: String(Math.min(v?.most_weeks_back ?? 26, Math.max(0, back + by))) })
  function key(e: KeyboardEvent) {
    const inField = e.target instanceof Element && e.target.closest('input, select, textarea, dialog, svg')
    if (inField || e.altKey || e.ctrlKey || e.metaKey || !v) return
    if (e.key === 'ArrowLeft') step(1)
    else if (e.key === 'ArrowRight') step(-1)
    else return
    e.preventDefault()
  }

  // The season goes by, a week every so often, until somebody stops it.
  let running = $state(false)
  $effect(() => {
    if (!running) return
    if (back === 0) {
      running = false
      return
    }
    const timer = setTimeout(() => step(-1), 900)
    return () => clearTimeout(timer)
  })
  function run() {
    if (running) running = false
    else {
      if (back === 0) address.show({ back: '12' })
      running = true
    }
  }

  function take(name: string, content: Blob) {
    const a = document.createElement('a')
    a.href = URL.createObjectURL(content)
    a.download = name
    a.click()
    setTimeout(() => URL.revokeObjectURL(a.href), 10_000)
  }
  const named = (ending: string) => `queue ${isoDay(new Date(v!.at))}.${ending}`
  const svg = () => take(named('svg'), new Blob([bars!.picture()], { type: 'image/svg+xml' }))
  async function png() {
    const picture = new Image()
    picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(bars!.picture())}`
    await picture.decode()
    const canvas = document.createElement('canvas')
    canvas.width = picture.width * 2
    canvas.height = picture.height * 2
    const pen = canvas.getContext('2d')!
    pen.fillStyle = '#fff'
    pen.fillRect(0, 0, canvas.width, canvas.height)
    pen.drawImage(picture, 0, 0, canvas.width, canvas.height)
    canvas.toBlob((b) => b && take(named('png'), b), 'image/png')
  }
  const walked = $derived(v?.growth?.walks[v.growth.walks.length - 1])
</script>

<svelte:window onkeydown={key} />

{#snippet figure(label: string)}<p class="text-sm text-soft">{label}</p>{/snippet}

<Frame farm={params.farm} current="queue">
  {#if v && mobs.data}
    {#if !v.queues.length}
      <Empty title="The queue needs land and stock">
        Draw fields, make a mob and walk the paddocks: here they stand in the order in which they are grazed, each against its
        mark.
        {#snippet action()}<Button kind="main" onclick={() => void push(`/f/${params.farm}/land`)}>To the land</Button>{/snippet}
      </Empty>
    {:else}
      <div class="wall flex min-h-0 flex-1 max-md:flex-col max-md:overflow-y-auto">
        <div class="plain-scroll min-w-0 flex-1 p-5 max-md:flex-none max-md:overflow-visible max-md:p-3">
          <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
            <h1>Queue</h1>
            <div class="no-print flex items-center" role="group" aria-label="Week">
              <button
                type="button"
                class="grid size-12 place-items-center text-tarn disabled:opacity-40"
                aria-label="A week back"
                title="A week back (←)"
                disabled={back >= v.most_weeks_back}
                onclick={() => step(1)}><Icon name="back" size={22} /></button
              >
              <span class="min-w-28 text-center {v.weeks_back ? 'font-semibold text-now-ink' : 'text-soft'}"
                >{v.weeks_back ? `${sayDay(new Date(v.at))}, as it was` : 'today'}</span
              >
              <button
                type="button"
                class="grid size-12 place-items-center text-tarn disabled:opacity-40"
                aria-label="A week on"
                title="A week on (→)"
                disabled={!back}
                onclick={() => step(-1)}><Icon name="on" size={22} /></button
              >
              <Button kind="quiet" onclick={run}>{running ? 'Stop' : 'Let it run'}</Button>
            </div>
            {#if v.queues.length > 1}
              <span class="hidden font-semibold print:inline">{v.queues[v.chosen]!.name}</span>
              <div class="no-print ml-auto w-56 max-md:ml-0 max-md:w-full">
                <Choice
                  label="Whose queue"
                  value={v.queues[v.chosen]!.mob_ids[0]!}
                  options={v.queues.map((q) => ({ value: q.mob_ids[0]!, label: q.name }))}
                  onchange={(mob) => address.show({ mob, paddock: '' })}
                />
              </div>
            {/if}
          </div>
          <div
            class="mt-2 grid grid-cols-5 gap-x-4 gap-y-3 border-b border-line pb-3 max-lg:grid-cols-3 max-md:grid-cols-2 print:grid-cols-5"
          >
            <div>
              {#if v.cover}<Figure
                  value={v.cover.value}
                  unit="kg_ha"
                  size="large"
                  working={v.cover}
                  title="Cover of this round"
                />{/if}
              {@render figure(
                `cover${v.cover_a_week_before !== null ? `, a week before ${number(v.cover_a_week_before, 'kg_ha', house.system)}` : ''}${v.cover_kg_dm_head !== null ? `; ${withUnit(v.cover_kg_dm_head, 'kg', house.system, 0)} a head` : ''}`,
              )}
            </div>
            <div>
              {#if v.growth?.growth}<Figure
                  value={v.growth.growth.value}
                  unit={v.growth.growth.unit}
                  size="large"
                  working={v.growth.growth}
                  title="Growth"
                />
              {:else}<span class="text-2xl text-soft">not known</span>{/if}
              {@render figure(
                `growth${walked ? ` on ${walked.paddocks} paddocks, ${withUnit(walked.area_ha, 'ha', house.system, 0)}` : ''}${v.break_even ? `; break-even ${number(v.break_even.value, v.break_even.unit, house.system)}` : ''}${v.growth_band ? `; likely ${number(v.growth_band.low_kg_dm_ha_day, 'kg_ha_day', house.system)} to ${number(v.growth_band.high_kg_dm_ha_day, 'kg_ha_day', house.system)}${v.growth_band.by === 'last_year' ? ' by last year’s walks' : ' by its curves'}` : ''}`,
              )}
            </div>
            <div>
              {#if v.days_ahead}<Figure
                  value={v.days_ahead.value}
                  unit="day"
                  size="large"
                  working={v.days_ahead}
                  title="Days ahead"
                />{/if}
              {@render figure(
                v.weeks_back
                  ? 'ahead, if nothing grew'
                  : `ahead if nothing grows; ${v.days_ahead_with_growth === null ? 'more than 8 weeks' : withUnit(v.days_ahead_with_growth, 'day', house.system, 0)} with growth`,
              )}
            </div>
            <div>
              {#if v.rotation_length}<Figure
                  value={v.rotation_length.value}
                  unit="day"
                  size="large"
                  decimals={0}
                  working={v.rotation_length}
                  title="Rotation length"
                />{/if}
              {#if v.rotation_advised}<p class="text-sm text-soft">
                  rotation, advised <Figure
                    value={v.rotation_advised.value}
                    unit="day"
                    decimals={0}
                    working={v.rotation_advised}
                    title="Rotation advised"
                  />
                </p>{:else}{@render figure('rotation')}{/if}
            </div>
            <div>
              {#if v.stocking_rate}<Figure
                  value={v.stocking_rate.value}
                  unit={v.stocking_rate.unit}
                  size="large"
                  working={v.stocking_rate}
                  title="Stocking rate"
                />{/if}
              {@render figure(
                `${v.weeks_back ? 'stocked then' : 'as in Stock'}, on ${withUnit(v.area_ha, 'ha', house.system, 1)} in the round`,
              )}
            </div>
          </div>
          {#if v.says.length}
            <p class="mt-3 text-[17px]">
              {#each v.says as s, i (i)}{i ? ' ' : ''}<span class={s.text.startsWith('A gap') ? 'font-bold' : ''}
                  ><Reason reason={s} />.</span
                >{/each}
              {#if v.entry_target}{v.says.length ? ' ' : ''}<span class="text-soft"
                  >The first in the queue is to stand at <Figure
                    value={v.entry_target.value}
                    unit="kg_ha"
                    working={v.entry_target}
                    title="Target of the first"
                  />.</span
                >{/if}
            </p>
          {/if}
          {#each v.breaks as b (b)}<p class="mt-1 text-sm text-now-ink">
              {b}
              {#if b.includes('another method')}<a
                  class="no-print inline-flex min-h-8 items-center font-semibold text-tarn underline"
                  href="#/f/{params.farm}/walk?part=Calibrations">Restate what was measured</a
                >{/if}
            </p>{/each}
          <div class="mt-2">
            <Bars
              bind:this={bars}
              {rows}
              mobs={mobs.data}
              tried={changed}
              {above}
              {selected}
              onselect={(paddock) => address.show({ paddock: selected === paddock ? '' : paddock })}
              onstep={step}
              onplace={sort === 'own' && house.may('manager') ? place : undefined}
            />
            {#if sort === 'own' && house.may('manager')}<p class="no-print text-sm text-soft">
                Drag a paddock to its place, or move it by Alt and ↑ ↓. The plan does not follow this order: turns are its own.
              </p>{/if}
            <Refused refusal={ordering.refusal} />
          </div>
          {#if v.apart.length}
            <section class="mt-3" aria-label="Out of the round">
              <h3>Out of the round</h3>
              <ul class="flex flex-wrap gap-x-6">
                {#each v.apart as a (a.paddock_id)}
                  <li>
                    <strong>{a.name}</strong>
                    <span class="text-soft"
                      >{withUnit(a.area_ha, 'ha', house.system, 1)}, {withUnit(a.forage_mass_kg_dm_ha, 'kg_ha', house.system)}: {a.why}</span
                    >
                  </li>
                {/each}
              </ul>
            </section>
          {/if}
          <div class="no-print mt-5 flex flex-wrap items-end gap-3">
            <div class="w-44">
              <Choice
                label="In the order of"
                bind:value={sort}
                options={[
                  { value: 'turn', label: 'their turns' },
                  { value: 'mass', label: 'mass' },
                  { value: 'rest', label: 'rest' },
                  { value: 'ready', label: 'readiness' },
                  { value: 'own', label: 'your own' },
                ]}
              />
            </div>
            <div class="w-44">
              <Choice
                label="Bars from"
                bind:value={() => (above ? 'above' : 'all'), (x) => (above = x === 'above')}
                options={[
                  { value: 'all', label: 'the ground' },
                  { value: 'above', label: 'the residual' },
                ]}
              />
            </div>
            <Button kind="quiet" onclick={() => window.print()}>Print</Button>
            <a
              class="inline-flex min-h-12 items-center px-3 font-semibold text-tarn"
              href="/api/farms/{params.farm}/queue/table?mob_id={v.queues[v.chosen]!.mob_ids[0]}&weeks_back={v.weeks_back}"
              download={named('csv')}>As CSV</a
            >
            <Button kind="quiet" onclick={svg}>Picture as SVG</Button>
            <Button kind="quiet" onclick={() => void png()}>as PNG</Button>
          </div>
          {#if !v.weeks_back}
            {#if decided.data?.decisions.length}<Decisions farm={params.farm} decisions={decided.data.decisions} />{/if}
            {#if fodder.data}<Fodder farm={params.farm} fodder={fodder.data} />{/if}
          {/if}
        </div>
        <Shoulder label="Try something" narrow="below">
          {#if chosen}
            <section aria-label={chosen.name} class="border-b border-line pb-3">
              <h2>{chosen.name}</h2>
              <p>
                <Figure value={chosen.forage_mass_kg_dm_ha} half={chosen.half_width_kg_dm_ha} unit="kg_ha" size="large" />
              </p>
              <p class="text-soft">
                {chosen.sward}, {withUnit(chosen.area_ha, 'ha', house.system)}{chosen.leaves !== null
                  ? `, ${withUnit(chosen.leaves, 'leaf', house.system)}`
                  : ''}. Leave at {number(chosen.residual_kg_dm_ha, 'kg_ha', house.system)}.
              </p>
              {#if chosen.mark}<p>
                  Its mark is <Figure
                    value={chosen.mark.value}
                    unit="kg_ha"
                    working={chosen.mark}
                    title="Mark of {chosen.name}"
                  />.
                </p>{/if}
              <ul class="mt-1 list-disc pl-5">
                {#each chosen.reasons as r, i (i)}<li><Reason reason={r} /></li>{/each}
              </ul>
              <a
                class="inline-flex min-h-12 items-center font-semibold text-tarn"
                href="#/f/{params.farm}/land?paddock={chosen.paddock_id}">See it on Land</a
              >
            </section>
          {/if}
          {#if v.weeks_back}
            <p class="text-lg">
              This is {sayDay(new Date(v.at))}, with what was known then; the turns are those that were taken.
            </p>
            <Button onclick={() => address.show({ back: '' })}>Back to today</Button>
          {:else}
            {#key v.queues[v.chosen]?.mob_ids[0]}<Levers farm={params.farm} view={v} mobs={mobs.data} {trial} />{/key}
          {/if}
        </Shoulder>
      </div>
    {/if}
  {:else}
    <Loading error={queue.error ?? mobs.error} what="the queue" />
  {/if}
</Frame>
