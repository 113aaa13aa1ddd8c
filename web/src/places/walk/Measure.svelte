<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { now } from '../../ui/time.svelte'
  import { editable, number, scale, stored, withUnit } from '../../ui/units'

  type Stop = Schemas['WalkStop']
  type Method = 'plate' | 'stick' | 'clip' | 'plain'

  interface Props {
    farm: string
    stops: Stop[]
    at: number
    ongo: (i: number) => void
    onleave: () => void
  }
  let { farm, stops, at, ongo, onleave }: Props = $props()

  const names: Record<Method, string> = { plate: 'Plate', stick: 'Height and cover', clip: 'Clip', plain: 'By eye' }
  const units: Record<Method, string> = { plate: 'cm', stick: 'cm', clip: 'g', plain: 'kg_ha' }

  onMount(() => {
    house.measuring = true
    return () => (house.measuring = false)
  })

  const stop = $derived(stops[at]!)
  const draftKey = $derived(`fjell.walk.${farm}.${stops[at]!.paddock_id}`)

  interface Draft {
    id: string
    method: Method
    readings: number[]
    guess: number | null
    guessed: boolean
    cover: number | null
    dry: number | null
    frame: number | null
  }
  let draft = $state<Draft>(load())
  let typed = $state('')
  let view = $state<Schemas['MeasureView'] | null>(null)
  let refusal = $state<Refusal | null>(null)
  let confirmed = $state(false)
  let settings = $state(false)
  let busy = $state(false)

  // What was read stays in the browser until the paddock is done: closing the page loses nothing.
  function load(): Draft {
    const method = (localStorage.getItem('fjell.method') as Method) || 'plate'
    const fresh: Draft = {
      id: newId(),
      method: method === 'plate' && !stop.plate_fits ? 'stick' : method,
      readings: [],
      guess: null,
      guessed: false,
      cover: 0.85,
      dry: null,
      frame: null,
    }
    try {
      return { ...fresh, ...(JSON.parse(localStorage.getItem(draftKey) ?? '{}') as Partial<Draft>) }
    } catch {
      return fresh
    }
  }
  $effect(() => {
    localStorage.setItem(draftKey, JSON.stringify(draft))
  })

  const unit = $derived(draft.guessed ? units[draft.method] : 'kg_ha')
  const symbol = $derived(scale(unit, house.system).symbol)
  const input = $derived({
    paddock_id: stop.paddock_id,
    method: draft.method,
    readings: [...draft.readings],
    canopy_cover: draft.method === 'stick' ? (draft.cover ?? undefined) : undefined,
    dry_matter_share: draft.method === 'clip' ? (draft.dry ?? undefined) : undefined,
    quadrat_m2: draft.method === 'clip' ? (draft.frame ?? undefined) : undefined,
  })

  let turn = 0
  $effect(() => {
    const body = input
    const mine = ++turn
    if (!body.readings.length) {
      view = null
      refusal = null
      return
    }
    void ask(api.POST('/api/farms/{farm}/measure', { params: { path: { farm } }, body }))
      .then((v) => {
        if (mine !== turn) return
        view = v
        refusal = null
      })
      .catch((error: unknown) => {
        if (mine === turn && error instanceof Refusal) {
          refusal = error
          view = null
        }
      })
  })

  function press(key: string) {
    refusal = refusal?.unusual ? null : refusal
    if (key === 'back') typed = typed.slice(0, -1)
    else if (key === '.') {
      if (!typed.includes('.')) typed += typed ? '.' : '0.'
    } else if (typed.length < 6) typed += key
  }

  function takeBack() {
    if (typed) press('back')
    else if (draft.readings.length) draft.readings = draft.readings.slice(0, -1)
    else if (draft.guessed) {
      draft.guessed = false
      draft.guess = null
    }
  }

  function keep() {
    const n = Number(typed)
    if (!typed || Number.isNaN(n)) return
    if (!draft.guessed) {
      draft.guess = stored(n, 'kg_ha', house.system)
      draft.guessed = true
    } else draft.readings = [...draft.readings, stored(n, unit, house.system)]
    typed = ''
  }

  function choose(method: Method) {
    if (method === draft.method) return
    // Heights of different methods never meet in one mean.
    draft.method = method
    draft.readings = []
    localStorage.setItem('fjell.method', method)
    settings = method === 'clip'
  }

  async function finish() {
    busy = true
    try {
      await ask(
        api.POST('/api/farms/{farm}/measurements', {
          params: { path: { farm } },
          body: { id: draft.id, ...input, guess_kg_dm_ha: draft.guess ?? undefined, measured_at: now().toISOString(), confirmed },
        }),
      )
      localStorage.removeItem(draftKey)
      const kept = draft.id
      house.say(`${stop.name}: ${view ? withUnit(view.mass.value, 'kg_ha', house.system) : 'kept'}.`, () =>
        ask(api.DELETE('/api/farms/{farm}/measurements/{id}', { params: { path: { farm, id: kept } } })),
      )
      await refresh()
      const next = at + 1
      if (next < stops.length) ongo(next)
      else onleave()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
      draft.id = newId()
    } finally {
      busy = false
    }
  }

  function keyed(e: KeyboardEvent) {
    const el = e.target as HTMLElement
    if (el.closest('input, select, textarea')) return
    if (/^[0-9]$/.test(e.key)) press(e.key)
    else if (e.key === '.' || e.key === ',') press('.')
    else if (e.key === 'Backspace') takeBack()
    else if (e.key === 'Enter') keep()
    else return
    e.preventDefault()
  }

  const high = $derived(Math.max(...draft.readings, 1))
  const far = $derived(new Set(view?.sample.outliers ?? []))
  const keys = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '.', '0']
</script>

<svelte:window onkeydown={keyed} />

<div class="mx-auto flex h-full w-full max-w-[560px] flex-col bg-page" data-keypad>
  <div class="flex min-h-0 flex-1 flex-col gap-2 overflow-auto px-4 pt-3">
    <header class="flex items-center justify-between gap-3">
      <button
        type="button"
        class="flex min-h-12 items-center gap-1 rounded-lg pr-3 font-semibold text-tarn"
        onclick={() => (at ? ongo(at - 1) : onleave())}><Icon name="back" size={22} />Back</button
      >
      <span class="text-sm text-soft">{at + 1} of {stops.length}</span>
      <span class="flex">
        <button
          type="button"
          class="flex min-h-12 items-center rounded-lg px-3 font-semibold text-tarn"
          disabled={at + 1 >= stops.length}
          onclick={() => ongo(at + 1)}>Next<Icon name="on" size={22} /></button
        >
        <button type="button" class="flex min-h-12 items-center rounded-lg pl-3 font-semibold text-tarn" onclick={onleave}
          >Leave</button
        >
      </span>
    </header>
    <div class="flex items-baseline justify-between gap-3">
      <h1>{stop.name}</h1>
      <button
        type="button"
        class="min-h-10 rounded-lg px-2 font-semibold text-tarn underline underline-offset-4"
        aria-expanded={settings}
        onclick={() => (settings = !settings)}>{names[draft.method]}</button
      >
    </div>
    {#if settings}
      <div class="flex flex-col gap-3 rounded-xl border border-line bg-surface p-3">
        <div class="grid grid-cols-2 gap-2">
          {#each Object.entries(names) as [m, label] (m)}
            <Button pressed={draft.method === m} disabled={m === 'plate' && !stop.plate_fits} onclick={() => choose(m as Method)}
              >{label}</Button
            >
          {/each}
        </div>
        {#if !stop.plate_fits}<p class="text-sm text-soft">
            A plate does not read {stop.sward_name}: its bunches hold it up.
          </p>{/if}
        {#if draft.method === 'plate'}
          <p class="text-sm text-soft">
            Straight down, leaf and not seed head. {number(stop.slope_kg_per_cm, 'kg_ha_cm', house.system)} a {symbol} and {withUnit(
              stop.intercept_kg,
              'kg_ha',
              house.system,
            )}, from the sward's reference line.
          </p>
        {:else if draft.method === 'stick'}
          <p class="text-sm text-soft">
            Height where the hand feels the leaves push back. Below {withUnit(stop.stop_height_cm, 'cm', house.system)} it counts as
            stubble.
          </p>
          <NumberField compact label="Canopy cover" unit="share" bind:value={draft.cover} error={refusal?.at('canopy_cover')} />
        {:else if draft.method === 'clip'}
          <div class="grid grid-cols-2 gap-3">
            <NumberField
              compact
              label="Dry-matter share"
              unit="share"
              bind:value={draft.dry}
              error={refusal?.at('dry_matter_share')}
            />
            <NumberField compact label="Frame" unit="m2" bind:value={draft.frame} error={refusal?.at('quadrat_m2')} />
          </div>
        {:else}
          <p class="text-sm text-soft">A figure you already have, or your eye's. It carries ± 25 % of its own.</p>
        {/if}
        <Button kind="main" onclick={() => (settings = false)}>Measure</Button>
      </div>
    {/if}

    {#if house.notice}
      <p class="flex items-center gap-3 text-sm font-semibold text-tarn" role="status">
        {house.notice.text}
        {#if house.notice.undo}
          <button
            type="button"
            class="min-h-8 px-1 underline underline-offset-4"
            onclick={() => void house.takeBack().then(refresh)}>Undo</button
          >
        {/if}
      </p>
    {/if}
    <p class="text-soft">
      {#if !draft.guessed}Guess first: what stands here?{:else}Reading {draft.readings.length + 1} · your guess {draft.guess ===
        null
          ? 'left out'
          : number(draft.guess, 'kg_ha', house.system)}{/if}
    </p>
    <p class="flex items-baseline gap-2" aria-live="polite">
      <span class="text-[84px] leading-none font-bold tracking-tight {typed ? '' : 'text-line'}">{typed || '0'}</span><span
        class="text-2xl text-soft">{symbol}</span
      >
      {#if !draft.guessed}
        <button
          type="button"
          class="ml-auto min-h-12 px-2 font-semibold text-tarn underline underline-offset-4"
          onclick={() => (draft.guessed = true)}>No guess</button
        >
      {/if}
    </p>

    {#if draft.readings.length}
      <ul class="flex h-12 shrink-0 items-end gap-1" aria-label="Readings">
        {#each draft.readings as r, i (i)}
          <li
            class="min-w-0 flex-1 rounded-t-sm {far.has(i) ? 'border-2 border-dashed border-stop' : 'bg-[var(--feed-2)]'}"
            style:max-width="28px"
            style:height="{Math.max(6, (r / high) * 100)}%"
          >
            <span class="sr-only">{editable(r, unit, house.system)} {symbol}{far.has(i) ? ', far from the rest' : ''}</span>
          </li>
        {/each}
      </ul>
    {/if}
    {#if far.size}
      <p class="flex items-center justify-between gap-3 font-semibold text-stop">
        <span>{[...far].map((i) => editable(draft.readings[i]!, unit, house.system)).join(', ')}: far from the rest. Keep?</span>
        <button
          type="button"
          class="min-h-11 px-2 underline underline-offset-4"
          onclick={() => (draft.readings = draft.readings.filter((_, i) => !far.has(i)))}>Drop</button
        >
      </p>
    {/if}
    {#if view}
      <p class="text-base whitespace-nowrap">
        mean <strong>{withUnit(view.sample.mean, view.unit, house.system)}</strong> →
        <strong class="text-xl"
          >{number(view.mass.value, 'kg_ha', house.system)} ± {number(view.half_width_kg_dm_ha, 'kg_ha', house.system)}</strong
        >
        <span class="text-soft">{scale('kg_ha', house.system).symbol}</span>
      </p>
      <p>
        {#if view.sample.n < view.readings_advised && view.more_for_ten_percent === null}<strong
            >{view.readings_advised - view.sample.n} more</strong
          > are advised.
        {:else if view.more_for_ten_percent}<strong>{view.more_for_ten_percent} more</strong> for a mean within ± 10 %.
        {:else}Enough for ± 10 % of the mean.{/if}
        <span class="text-soft">{view.advice}</span>
      </p>
    {/if}
    <Refused {refusal} bind:confirmed shown={settings ? ['canopy_cover', 'dry_matter_share', 'quadrat_m2'] : []} />
  </div>

  <div class="shrink-0 border-t border-line bg-surface pt-px">
    <div class="grid grid-cols-3" role="group" aria-label="Keypad">
      {#each keys as k (k)}
        <button
          type="button"
          class="min-h-[8.8vh] border-t border-r border-line text-[30px] font-bold active:bg-tarn-wash"
          onclick={() => press(k)}>{k}</button
        >
      {/each}
      <button
        type="button"
        class="min-h-[8.8vh] border-t border-line text-base font-semibold active:bg-tarn-wash"
        onclick={takeBack}>take back</button
      >
    </div>
    <div class="flex">
      {#if draft.readings.length && !typed}
        <button
          type="button"
          class="min-h-[72px] flex-1 bg-tarn text-xl font-bold text-on-tarn disabled:opacity-60"
          disabled={busy || !view || (refusal?.unusual && !confirmed)}
          onclick={finish}>Done here: {view ? number(view.mass.value, 'kg_ha', house.system) : '…'}</button
        >
      {:else}
        <button
          type="button"
          class="min-h-[72px] flex-1 bg-tarn text-xl font-bold text-on-tarn disabled:opacity-60"
          disabled={!typed}
          onclick={keep}
        >
          {!draft.guessed
            ? typed
              ? `Guess ${typed}`
              : 'Type your guess'
            : typed
              ? `Keep ${typed} and step on`
              : 'Type a reading'}
        </button>
      {/if}
    </div>
  </div>
</div>
