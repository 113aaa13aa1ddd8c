<script lang="ts">
  import { onMount } from 'svelte'
  import { newId, Refusal, type Schemas } from '../../api/client'
  import { outbox } from '../../api/outbox.svelte'
  import { core } from '../../core/core'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import { now, sayDay } from '../../ui/time.svelte'
  import { editable, number, scale, stored, withUnit } from '../../ui/units'
  import {
    begunBefore,
    closeDraft,
    guessedFirst,
    holdReading,
    inputOf,
    methodNames,
    methodUnits,
    newReading,
    openDraft,
    remember,
    saveDraft,
    type Draft,
    type Method,
  } from './draft.svelte'
  import MeasureSheet from './MeasureSheet.svelte'

  interface Props {
    farm: string
    stops: Schemas['WalkStop'][]
    at: number
    ongo: (i: number) => void
    onleave: () => void
  }
  let { farm, stops, at, ongo, onleave }: Props = $props()

  onMount(() => {
    house.measuring = true
    return () => (house.measuring = false)
  })

  const stop = $derived(stops[at]!)
  // svelte-ignore state_referenced_locally
  let draft = $state<Draft>(openDraft(farm, stops[at]!))
  let typed = $state('')
  let view = $state<Schemas['View'] | null>(null)
  let refusal = $state<Refusal | null>(null)
  let sheet = $state(false)
  let finished = false

  $effect(() => {
    const now = JSON.stringify(draft)
    if (now && !finished) saveDraft(farm, stop.paddock_id, draft)
  })

  // Readings of another day are finished as of then, or let go; today's are not mixed in.
  const before = $derived(begunBefore(draft))
  const mayRead = $derived(!before)
  const beforeDay = $derived(before ? sayDay(new Date(before)) : '')

  function beginAnew() {
    for (let i = draft.readings.length - 1; i >= 0; i--) drop(i)
    closeDraft(farm, stop.paddock_id)
    draft = openDraft(farm, stop)
  }

  const counterWords = ['Counter before the first drop', 'Counter now', 'Drops between']
  const counting = $derived(draft.method === 'plate_counter')
  const counterAt = $derived(draft.counter.findIndex((c) => c === null))
  const guessing = $derived(guessedFirst(draft.method) && !draft.guessed)
  const unit = $derived(guessing ? 'kg_ha' : methodUnits[draft.method])
  const symbol = $derived(scale(unit, house.system).symbol)
  const input = $derived(inputOf(stop, draft))
  const ready = $derived(counting ? counterAt < 0 : draft.readings.length > 0)
  const line = $derived(draft.method === 'stick' ? stop.stick_line : stop.plate_line)

  let turn = 0
  $effect(() => {
    const body = input
    const mine = ++turn
    if (!ready) {
      view = null
      return
    }
    core<Schemas['View']>('measure', body)
      .then((v) => {
        if (mine !== turn) return
        view = v
        refusal = null
      })
      .catch((error: unknown) => {
        if (mine !== turn) return
        view = null
        if (error instanceof Refusal) refusal = error
        else
          refusal = new Refusal(
            0,
            'The sums did not load: open Walk once with a signal. Readings are kept all the same.',
            [],
            false,
          )
      })
  })

  function press(key: string) {
    refusal = null
    if (key === '.') {
      if (!typed.includes('.')) typed += typed ? '.' : '0.'
    } else if (typed.length < 6) typed += key
  }

  function takeBack() {
    if (typed) typed = typed.slice(0, -1)
    else if (counting && draft.counter[0] !== null) {
      const last = counterAt < 0 ? 2 : counterAt - 1
      draft.counter[last] = null
    } else if (draft.readings.length) drop(draft.readings.length - 1)
    else if (draft.guessed) {
      draft.guessed = false
      draft.guess = null
    }
  }

  function drop(i: number) {
    const r = draft.readings[i]!
    holdReading(farm, stop, draft, r, true)
    draft.readings = draft.readings.filter((_, k) => k !== i)
  }

  function keep() {
    const n = Number(typed)
    if (!typed || Number.isNaN(n) || !mayRead) return
    if (guessing) {
      draft.guess = stored(n, 'kg_ha', house.system)
      draft.guessed = true
    } else if (counting) {
      if (counterAt >= 0) draft.counter[counterAt] = n
    } else {
      const r = newReading(stored(n, unit, house.system), draft.zone)
      draft.readings = [...draft.readings, r]
      holdReading(farm, stop, draft, r)
    }
    typed = ''
  }

  function choose(method: Method) {
    if (method === draft.method) return
    // Heights of different methods never meet in one mean.
    for (let i = draft.readings.length - 1; i >= 0; i--) drop(i)
    draft.method = method
    draft.counter = [null, null, null]
    localStorage.setItem('fjell.method', method)
  }

  // The measurement goes to the outbox and on to the farm; without a signal it waits there. What the farm reads back is
  // asked in the round.
  async function finish() {
    if (!view || finished) return // a second tap holds nothing
    finished = true
    const kept = draft.id
    const paddock = stop.paddock_id
    remember('cm_per_count', draft.cm_per_count)
    remember('frame', draft.frame)
    remember('fist_cm', draft.fist_cm)
    await outbox.hold({
      farm,
      id: kept,
      kind: 'measurement',
      body: {
        ...$state.snapshot(input),
        id: kept,
        paddock_id: stop.paddock_id,
        measured_at: draft.as_of ?? now().toISOString(),
        note: draft.note || undefined,
      },
    })
    closeDraft(farm, stop.paddock_id)
    const where = stop.name
    house.say(
      `${where}: ${withUnit(view.mass.value, 'kg_ha', house.system)} ± ${number(view.half_width_kg_dm_ha, 'kg_ha', house.system)} kept.`,
      () => outbox.takeBack(farm, 'measurement', kept, paddock),
    )
    if (at + 1 < stops.length) ongo(at + 1)
    else onleave()
  }

  function addPhoto(blob: Blob) {
    draft.photos++
    void outbox.hold({
      farm,
      id: newId(),
      kind: 'photo',
      body: { stop: draft.id, paddock: stop.paddock_id, taken_at: now().toISOString(), blob },
    })
  }

  function keyed(e: KeyboardEvent) {
    const el = e.target as HTMLElement
    if (el.closest('input, select, textarea') || sheet) return
    if (/^[0-9]$/.test(e.key)) press(e.key)
    else if (e.key === '.' || e.key === ',') press('.')
    else if (e.key === 'Backspace') takeBack()
    else if (e.key === 'Enter') {
      if (el.closest('button')) return
      keep()
    } else return
    e.preventDefault()
  }

  const high = $derived(Math.max(...draft.readings.map((r) => r.value), 1))
  const mean = $derived(view && !counting ? (view.sample.mean / high) * 100 : null)
  const far = $derived(
    (view?.sample.outliers ?? []).filter((i) => draft.readings[i] && !draft.kept.includes(draft.readings[i].id)),
  )
  const firstFar = $derived(far[0])
  const ask = $derived(
    guessing
      ? 'Guess first: what stands here?'
      : counting
        ? counterAt >= 0
          ? counterWords[counterAt]!
          : 'All three are in'
        : draft.method === 'eye' || draft.method === 'plain'
          ? `Figure ${draft.readings.length + 1}`
          : `Reading ${draft.readings.length + 1}`,
  )
  const keys = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '.', '0']
  const done = $derived(ready && !typed && view !== null && (mayRead || !!draft.as_of))
</script>

<svelte:window onkeydown={keyed} />

<div
  class="relative mx-auto flex h-full w-full max-w-[560px] flex-col overflow-hidden bg-page low:max-w-none low:flex-row"
  data-keypad
>
  <div class="flex min-h-0 min-w-0 flex-1 flex-col px-4 pt-1 low:overflow-y-auto">
    <header class="flex items-center justify-between">
      <button
        type="button"
        class="flex min-h-12 items-center gap-1 rounded-lg pr-3 font-semibold text-tarn"
        onclick={() => (at ? ongo(at - 1) : onleave())}><Icon name="back" size={22} />Back</button
      >
      <span class="text-sm text-soft">{at + 1} of {stops.length}</span>
      <span class="flex">
        <a
          href="#/f/{farm}/emergency"
          class="grid size-12 place-items-center text-soft"
          aria-label="Help"
          title="Whom to call, where, what to shut first"><Icon name="help" size={22} /></a
        >
        <button
          type="button"
          class="flex min-h-12 items-center rounded-lg px-3 font-semibold text-tarn disabled:opacity-40"
          disabled={at + 1 >= stops.length}
          onclick={() => ongo(at + 1)}>Next<Icon name="on" size={22} /></button
        >
        <button type="button" class="flex min-h-12 items-center rounded-lg pl-3 font-semibold text-tarn" onclick={onleave}
          >Leave</button
        >
      </span>
    </header>
    <div class="flex items-start justify-between gap-3">
      <div class="min-w-0">
        <h1 class="truncate text-[28px]!">{stop.name}</h1>
        <p class="truncate text-[15px] text-soft">
          {[
            methodNames[draft.method],
            line?.calibration_id ? line.name : '',
            draft.guess === null ? '' : `your guess ${number(draft.guess, 'kg_ha', house.system)}`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </p>
      </div>
      <p
        class="shrink-0 pt-1 text-right text-sm leading-tight {outbox.reached ? 'text-soft' : 'font-semibold text-now-ink'}"
        role="status"
      >
        {#if !outbox.reached}no signal<br />{outbox.waiting} held here, safe{:else if outbox.waiting}sending {outbox.waiting}{:else if draft.readings.length}all
          sent{/if}
      </p>
    </div>
    {#if stop.zones.length && !guessing && !counting}
      <div class="mt-1 flex gap-2 overflow-x-auto" role="group" aria-label="Zone of the paddock">
        {#each stop.zones as z, i (z.name)}
          <button
            type="button"
            class="min-h-11 rounded-full border-2 px-4 text-[15px] font-semibold whitespace-nowrap {draft.zone === i
              ? 'border-tarn bg-tarn text-on-tarn'
              : 'border-line bg-surface text-ink'}"
            aria-pressed={draft.zone === i}
            onclick={() => (draft.zone = i)}>{z.name} · {draft.readings.filter((r) => r.zone === i).length}</button
          >
        {/each}
      </div>
    {/if}
    <div class="flex min-h-0 flex-1 flex-col justify-evenly gap-1 py-1">
      <div>
        <div class="flex items-center justify-between gap-2">
          <p class="text-base text-soft">{ask}</p>
          <button
            type="button"
            class="flex min-h-12 shrink-0 items-center gap-1.5 rounded-xl border-2 border-tarn bg-surface px-3 font-semibold text-tarn"
            onclick={() => (sheet = true)}
            ><Icon name="more" size={20} />Method, note{#if draft.photos || draft.note || draft.wet || draft.frosty}<span
                class="size-2.5 rounded-full bg-now"><span class="sr-only">something is noted</span></span
              >{/if}</button
          >
        </div>
        <p class="flex items-baseline gap-2">
          <span
            class="{typed.length > 4
              ? 'text-[84px]'
              : 'text-[116px]'} low:text-[64px] leading-[0.95] font-bold tracking-tight {typed ? '' : 'text-line'}"
            >{typed || '0'}</span
          ><span class="text-2xl text-soft">{symbol}</span>
          {#if guessing && !typed}
            <button
              type="button"
              class="ml-auto min-h-12 rounded-lg px-3 font-semibold text-tarn underline underline-offset-4"
              onclick={() => (draft.guessed = true)}>No guess</button
            >
          {/if}
        </p>
      </div>
      {#if draft.readings.length && !counting}
        <ul class="relative flex h-14 shrink-0 items-end gap-[3px]" aria-label="Readings">
          {#each draft.readings as r, i (r.id)}
            <li
              class="min-w-0 flex-1 rounded-t-[3px] {far.includes(i) ? 'border-2 border-dashed border-stop' : ''}"
              style:background-color={far.includes(i) ? 'transparent' : r.zone % 2 ? 'var(--feed-3)' : 'var(--feed-2)'}
              style:max-width="26px"
              style:height="{Math.max(8, (r.value / high) * 100)}%"
            >
              <span class="sr-only"
                >{editable(r.value, unit, house.system)} {symbol}{far.includes(i) ? ', far from the rest' : ''}</span
              >
            </li>
          {/each}
          {#if mean !== null && !stop.zones.length}<li
              aria-hidden="true"
              class="pointer-events-none absolute inset-x-0 border-t-2 border-dotted border-ink/50"
              style:bottom="{mean}%"
            ></li>{/if}
        </ul>
      {/if}
      {#if counting && draft.counter[0] !== null}
        <p class="text-base">
          {#each counterWords as w, i (w)}{#if draft.counter[i] !== null}<span class="mr-4 whitespace-nowrap text-soft"
                >{w.split(' ')[0]} <strong class="text-ink">{draft.counter[i]}</strong></span
              >{/if}{/each}
        </p>
      {/if}
      {#if before && !draft.as_of}
        <div class="rounded-xl bg-now-wash px-3 pt-2 text-now-ink" role="alert">
          <p class="font-semibold">
            {draft.readings.length}
            {draft.readings.length === 1 ? 'reading' : 'readings'} of {beforeDay}. Today's would make another mean.
          </p>
          <span class="flex gap-4">
            <button
              type="button"
              class="min-h-12 font-semibold underline underline-offset-4"
              onclick={() => (draft.as_of = before)}>Finish as of {beforeDay}</button
            >
            <button type="button" class="min-h-12 font-semibold underline underline-offset-4" onclick={beginAnew}
              >Begin anew</button
            >
          </span>
        </div>
      {:else if refusal}
        <p class="font-semibold text-stop" role="alert">{refusal.message}</p>
      {:else if firstFar !== undefined}
        <p class="flex items-center justify-between gap-2 rounded-xl bg-stop-wash pl-3 font-semibold text-stop" role="alert">
          <span>{editable(draft.readings[firstFar]!.value, unit, house.system)} {symbol}: far from the rest</span>
          <span class="flex shrink-0">
            <button
              type="button"
              class="min-h-12 px-3 underline underline-offset-4"
              onclick={() => (draft.kept = [...draft.kept, draft.readings[firstFar]!.id])}>Keep</button
            >
            <button type="button" class="min-h-12 px-3 underline underline-offset-4" onclick={() => drop(firstFar)}>Drop</button>
          </span>
        </p>
      {:else if view}
        <p class="text-[17px] leading-snug whitespace-nowrap" role="status">
          {#if view.unit === 'cm'}mean <strong>{withUnit(view.sample.mean, view.unit, house.system)}</strong> →{/if}
          <strong class="text-[22px]"
            >{number(view.mass.value, 'kg_ha', house.system)} ± {number(view.half_width_kg_dm_ha, 'kg_ha', house.system)}</strong
          >
          <span class="text-soft">{scale('kg_ha', house.system).symbol}</span>
        </p>
        <p class="text-[15px] leading-snug">
          {#if view.hand && view.hand.sides_with !== undefined && draft.fists}{view.hand.sentence}
          {:else if view.warnings.length}<span class="font-semibold text-now-ink">{view.warnings[0]}</span>
          {:else if view.more_advised && !view.more_for_ten_percent}<strong>{view.more_advised} more</strong>
            are advised. {view.advice}
          {:else if view.more_for_ten_percent}<strong>{view.more_for_ten_percent} more</strong> for ± 10 %. {view.advice}
          {:else}<strong>Enough</strong> for ± 10 % of the mean.{/if}
          {#if view.sample.standard_deviation && view.unit === 'cm'}<span class="text-soft"
              >Spread {withUnit(view.sample.standard_deviation, view.unit, house.system)}.</span
            >{/if}
        </p>
      {:else if guessing && house.notice}
        <p class="flex items-center justify-between gap-2 text-[15px] font-semibold text-tarn" role="status">
          <span>{house.notice.text}</span>
          {#if house.notice.undo}<button
              type="button"
              class="min-h-12 px-3 underline underline-offset-4"
              onclick={() => void house.takeBack()}>Undo</button
            >{/if}
        </p>
      {:else if guessing}
        <p class="text-[15px] leading-snug text-soft">Say yours first; then you see what Fjell reckons, and who was nearer.</p>
      {:else if !stop.mass.guessed && !draft.readings.length && draft.guess !== null}
        <p class="text-[15px] leading-snug text-soft">
          Fjell reckons <strong class="text-ink"
            >{number(stop.mass.forage_mass_kg_dm_ha, 'kg_ha', house.system)} ± {number(
              stop.mass.half_width_kg_dm_ha,
              'kg_ha',
              house.system,
            )}</strong
          >. Now measure: straight down, leaf and not seed head.
        </p>
      {:else if draft.method.startsWith('plate')}
        <p class="text-[15px] leading-snug text-soft">
          Straight down, not rolled. Leaf, not seed head. Keep off {stop.avoid.slice(0, 3).join(', ')}.
        </p>
      {:else if draft.method === 'stick'}
        <p class="text-[15px] leading-snug text-soft">
          Where the hand feels the leaves push back: never the tallest leaf, never the seed head.
        </p>
      {/if}
    </div>
  </div>

  <div class="shrink-0 border-t border-line bg-surface low:flex low:w-[46%] low:flex-col low:border-t-0 low:border-l">
    <div class="grid grid-cols-3 low:min-h-0 low:flex-1" role="group" aria-label="Keypad">
      {#each keys as k (k)}
        <button
          type="button"
          class="min-h-[9.6vh] border-b border-r border-line text-[32px] font-bold active:bg-tarn-wash low:min-h-12"
          onclick={() => press(k)}>{k}</button
        >
      {/each}
      <button
        type="button"
        class="min-h-[9.6vh] border-b border-line text-lg font-semibold active:bg-tarn-wash low:min-h-12"
        onclick={takeBack}>take back</button
      >
    </div>
    {#if done}
      <button type="button" class="min-h-20 w-full low:min-h-14 bg-tarn text-xl font-bold text-on-tarn" onclick={finish}
        >Done here: {number(view!.mass.value, 'kg_ha', house.system)}</button
      >
    {:else}
      <button
        type="button"
        class="min-h-20 w-full low:min-h-14 text-xl font-bold {typed ? 'bg-tarn text-on-tarn' : 'bg-sunken text-soft'}"
        disabled={!typed || !mayRead}
        onclick={keep}
        >{guessing
          ? typed
            ? `Guess ${typed}`
            : 'Type your guess'
          : typed
            ? counting
              ? `Keep ${typed}`
              : `Keep ${typed} and step on`
            : 'Type a reading'}</button
      >
    {/if}
  </div>
  {#if sheet}
    <MeasureSheet {stop} bind:draft {refusal} onmethod={choose} onphoto={addPhoto} onclose={() => (sheet = false)} />
  {/if}
</div>
