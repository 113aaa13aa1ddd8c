<script lang="ts">
  import { push, router } from 'svelte-spa-router'
  import type { Schemas } from '../../api/client'
  import { useLand, useMobs, useReference } from '../../api/queries.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import FarmMap from '../../map/FarmMap.svelte'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import AddField from './AddField.svelte'
  import BringFile from './BringFile.svelte'
  import Divide from './Divide.svelte'
  import Exclude from './Exclude.svelte'
  import LandList from './LandList.svelte'
  import PaddockPanel from './PaddockPanel.svelte'

  let { params }: { params: { farm: string } } = $props()

  type Mode = 'look' | 'draw' | 'file' | 'divide' | 'exclude'

  const land = useLand(() => params.farm)
  const mobs = useMobs(() => params.farm)
  const reference = useReference()
  let mode = $state<Mode>('look')
  let selected = $state('')
  let fieldId = $state('')
  let canvas = $state<FarmCanvas | null>(null)
  let division = $state<Schemas['DivisionView'] | null>(null)
  let direction = $state(0)
  let dropped = $state<File | null>(null)

  const field = $derived(land.data?.fields.find((f) => f.id === fieldId))
  const paddock = $derived(land.data?.paddocks.find((p) => p.id === selected))

  function go(next: Mode) {
    canvas?.stopDrawing()
    canvas?.sketch(null)
    division = null
    house.working = null
    if (next === 'divide' || next === 'exclude') {
      fieldId ||= land.data?.fields[0]?.id ?? ''
      if (!fieldId) return
      selected = ''
      canvas?.fit(fieldId)
    }
    mode = next
  }

  $effect(() => {
    if (router.querystring?.includes('do=divide') && land.data) {
      go('divide')
      void push(`/f/${params.farm}/land`)
    }
  })
  // A farm without land starts with the pencil in hand.
  let started = false
  $effect(() => {
    if (started || !land.data || !canvas) return
    started = true
    if (!land.data.fields.length && house.may('manager')) mode = 'draw'
  })

  function pick(p: string, f: string) {
    if (mode !== 'look') return
    selected = p
    fieldId = f
  }

  function drop(e: DragEvent) {
    e.preventDefault()
    const file = e.dataTransfer?.files[0]
    if (!file || !house.may('manager')) return
    go('file')
    dropped = file
  }

  const draw = (done: (s: GroundShape) => void) => canvas?.draw(done)
  const tools = [
    { mode: 'look', icon: 'land', label: 'Look and choose' },
    { mode: 'draw', icon: 'draw', label: 'Draw a field' },
    { mode: 'file', icon: 'file', label: 'Bring a file' },
    { mode: 'divide', icon: 'cut', label: 'Divide (D)' },
    { mode: 'exclude', icon: 'hole', label: 'Take ground out' },
  ] as const
</script>

<svelte:window onkeydown={(e) => canvas?.drawKey(e.key) && e.preventDefault()} />

<Frame farm={params.farm} current="land">
  {#if land.data}
    <div class="flex min-h-0 flex-1 max-md:flex-col">
      <div
        class="relative min-h-0 min-w-0 flex-1 max-md:min-h-[46vh]"
        ondragover={(e) => e.preventDefault()}
        ondrop={drop}
        role="presentation"
      >
        <FarmMap
          land={land.data}
          mobs={mobs.data ?? []}
          {selected}
          {division}
          divided={mode === 'divide' ? fieldId : ''}
          onpick={pick}
          onturn={(d) => (direction = d)}
          bind:canvas
        />
        <h1 class="sr-only">Land</h1>
        {#if house.may('manager')}
          <div
            class="absolute top-4 left-4 flex flex-col overflow-hidden rounded-xl border border-line bg-surface shadow-sm"
            role="toolbar"
            aria-label="Tools"
            aria-orientation="vertical"
          >
            {#each tools as t (t.mode)}
              <button
                type="button"
                class="flex size-12 items-center justify-center {mode === t.mode
                  ? 'bg-tarn text-on-tarn'
                  : 'text-ink hover:bg-tarn-wash'}"
                title={t.label}
                aria-label={t.label}
                aria-pressed={mode === t.mode}
                disabled={(t.mode === 'divide' || t.mode === 'exclude') && !land.data.fields.length}
                onclick={() => go(t.mode)}><Icon name={t.icon} /></button
              >
            {/each}
            <button
              type="button"
              class="flex size-12 items-center justify-center text-ink hover:bg-tarn-wash"
              title="See it all"
              aria-label="See it all"
              onclick={() => canvas?.fit()}><Icon name="zoom" /></button
            >
          </div>
        {/if}
        {#if land.data.fields.length && mode !== 'divide'}
          <div class="absolute bottom-3.5 left-4 flex items-center gap-2 rounded-lg bg-surface px-3 py-2 text-sm max-md:hidden">
            less feed
            <span class="flex overflow-hidden rounded"
              >{#each [0, 1, 2, 3, 4] as i (i)}<span class="h-3.5 w-6" style:background="var(--feed-{i})"></span>{/each}</span
            >
            more
          </div>
        {/if}
      </div>
      <Shoulder label="Land">
        {#if mode === 'draw'}
          <AddField
            farm={params.farm}
            swards={reference.data?.swards ?? []}
            {draw}
            {canvas}
            ondone={(id) => ((fieldId = id), go('look'))}
          />
        {:else if mode === 'file'}
          <BringFile
            farm={params.farm}
            swards={reference.data?.swards ?? []}
            {canvas}
            file={dropped}
            ondone={() => ((dropped = null), go('look'), canvas?.fit())}
          />
        {:else if mode === 'divide' && field}
          <Divide
            farm={params.farm}
            {field}
            fields={land.data.fields}
            mobs={mobs.data ?? []}
            bind:direction
            bind:division
            onfield={(id) => ((fieldId = id), canvas?.fit(id))}
            ondone={() => go('look')}
          />
        {:else if mode === 'exclude' && field}
          <Exclude farm={params.farm} {field} {draw} {canvas} ondone={() => go('look')} />
        {:else if paddock && reference.data}
          {#key paddock.id + paddock.version}
            <PaddockPanel
              farm={params.farm}
              {paddock}
              field={land.data.fields.find((f) => f.id === paddock.field_id)!}
              mobs={mobs.data ?? []}
              swards={reference.data.swards}
              ondivide={() => ((fieldId = paddock.field_id), go('divide'))}
              onclose={() => (selected = '')}
            />
          {/key}
        {:else}
          <LandList land={land.data} onpick={(p, f) => ((selected = p), (fieldId = f))} onadd={() => go('draw')} />
        {/if}
      </Shoulder>
    </div>
  {:else}
    <Loading error={land.error} what="the land" />
  {/if}
</Frame>
