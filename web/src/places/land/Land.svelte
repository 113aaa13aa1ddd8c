<script lang="ts">
  import { onMount, untrack } from 'svelte'
  import type { Schemas } from '../../api/client'
  import { useGround, useLand, useMobs, useSwards } from '../../api/queries.svelte'
  import type { FarmCanvas } from '../../map/drawn'
  import FarmMap from '../../map/FarmMap.svelte'
  import type { ColourBy } from '../../map/styles'
  import { address } from '../../ui/address'
  import Frame from '../../ui/Frame.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import Loading from '../../ui/Loading.svelte'
  import Panel from '../../ui/Panel.svelte'
  import Shoulder from '../../ui/Shoulder.svelte'
  import AddField from './AddField.svelte'
  import Divide from './Divide.svelte'
  import FactsTable from './FactsTable.svelte'
  import Fences from './Fences.svelte'
  import Files from './Files.svelte'
  import { redoLand, sayStep, undoLand } from './ground'
  import GroundPanel from './GroundPanel.svelte'
  import LandList from './LandList.svelte'
  import Legend from './Legend.svelte'
  import Measure from './Measure.svelte'
  import PaddockPanel from './PaddockPanel.svelte'
  import Swards from './Swards.svelte'
  import Things from './Things.svelte'

  let { params }: { params: { farm: string } } = $props()

  const land = useLand(() => params.farm)
  const ground = useGround(() => params.farm)
  const mobs = useMobs(() => params.farm)
  const swards = useSwards(() => params.farm)

  const tools = [
    { mode: 'look', icon: 'land', label: 'Look and choose', key: '' },
    { mode: 'draw', icon: 'draw', label: 'Draw a field (F)', key: 'f' },
    { mode: 'divide', icon: 'cut', label: 'Divide (D)', key: '' },
    { mode: 'fences', icon: 'fence', label: 'Fences: corners, split, join (C)', key: 'c' },
    { mode: 'things', icon: 'thing', label: 'Things: water, gates, lanes (X)', key: 'x' },
    { mode: 'measure', icon: 'measure', label: 'Measure (L)', key: 'l' },
    { mode: 'table', icon: 'table', label: 'Table of facts (T)', key: 't' },
    { mode: 'file', icon: 'file', label: 'Bring a file, take one along', key: '' },
    { mode: 'swards', icon: 'walk', label: 'Swards: what grows, and what is known of it', key: '' },
    { mode: 'ground', icon: 'picture', label: 'Background map', key: '' },
  ] as const
  type Mode = (typeof tools)[number]['mode']

  // A farm without land starts with the pencil in hand.
  const mode = $derived(
    (address.get('do') as Mode) || (land.data && !land.data.fields.length && house.may('manager') ? 'draw' : 'look'),
  )
  const selected = $derived(address.get('paddock').split(',').filter(Boolean))
  const choose = (ids: string[], field = ids.length ? fieldId : '') => address.show({ paddock: ids.join(','), field, do: '' })
  const fieldId = $derived(address.get('field'))
  let canvas = $state<FarmCanvas | null>(null)
  let division = $state.raw<Schemas['DivisionView'] | null>(null)
  let direction = $state(0)
  let dropped = $state<File | null>(null)
  let by = $state<ColourBy>('feed')
  let fenceWay = $state<'corners' | 'split' | 'join'>('corners')

  const field = $derived(land.data?.fields.find((f) => f.id === fieldId))
  const paddock = $derived(selected.length === 1 ? land.data?.paddocks.find((p) => p.id === selected[0]) : undefined)
  const shown = $derived(
    house.may('manager') ? tools : tools.filter((t) => ['look', 'measure', 'swards', 'file'].includes(t.mode)),
  )

  function go(next: Mode) {
    address.show({ do: next === 'look' && land.data?.fields.length ? '' : next, ...(next === 'divide' ? { paddock: '' } : {}) })
  }

  // Whichever way the mode was changed, by a tool, a key or the back button: what the one before had drawn is put away,
  // before the next one takes the map up.
  let before: Mode = 'look'
  $effect.pre(() => {
    const now = mode
    if (!canvas || !land.data || now === before) return
    untrack(() => {
      canvas!.tools.stop()
      canvas!.sketch(null)
      division = null
      house.working = null
      if (now === 'divide') {
        if (!field) address.set({ field: land.data!.fields[0]?.id ?? '' })
        canvas!.fit(field?.id ?? land.data!.fields[0]?.id)
      }
      // The table takes room from the map: the farm is fitted into what is left.
      if ((now === 'table') !== (before === 'table')) setTimeout(() => canvas?.fit(), 60)
      before = now
    })
  })
  onMount(() => {
    house.steps = { undo: () => undoLand(params.farm), redo: () => redoLand(params.farm) }
    return () => (house.steps = null)
  })

  function divideOther(field: string) {
    if (field === fieldId) return
    division = null
    address.set({ field })
    canvas?.fit(field)
  }

  function pick(p: string, f: string, more: boolean) {
    if (mode === 'divide') {
      if (f) divideOther(f)
      return
    }
    const chosen = !more || !p ? [p].filter(Boolean) : selected.includes(p) ? selected.filter((s) => s !== p) : [...selected, p]
    address.show({ paddock: chosen.join(','), field: f || (chosen.length ? fieldId : '') })
  }

  function drop(e: DragEvent) {
    e.preventDefault()
    const file = e.dataTransfer?.files[0]
    if (!file || !house.may('manager')) return
    go('file')
    dropped = file
  }

  function pressed(e: KeyboardEvent) {
    if (e.target instanceof Element && e.target.closest('input, textarea, select, dialog')) return
    // On a button Enter is the button's, whatever is being drawn.
    const pressing = (e.key === 'Enter' || e.key === ' ') && e.target instanceof Element && e.target.closest('button, a, summary')
    if (!pressing && canvas?.tools.key(e.key)) {
      e.preventDefault()
      return
    }
    if (!house.keysOn || e.ctrlKey || e.metaKey || e.altKey || !house.may('manager')) return
    const key = e.key.toLowerCase()
    const tool = tools.find((t) => t.key && t.key === key)
    if (tool) {
      if (tool.mode === 'fences') fenceWay = 'corners'
      go(tool.mode)
    } else if (key === 's' || key === 'j') {
      fenceWay = key === 's' ? 'split' : 'join'
      go('fences')
    } else if (e.key === 'Escape' && mode !== 'look') go('look')
    else return
    e.preventDefault()
  }

  const step = (back: boolean) => (back ? house.takeBack() : house.doAgain())
</script>

<svelte:window onkeydown={pressed} />

<Frame farm={params.farm} current="land">
  {#if land.data}
    <div class="flex min-h-0 flex-1 max-md:flex-col">
      <div
        class="relative min-h-0 min-w-0 max-md:min-h-[52vh] max-md:flex-none {mode === 'table'
          ? 'w-[42%]'
          : 'flex-1'} max-md:w-full"
        ondragover={(e) => e.preventDefault()}
        ondrop={drop}
        role="presentation"
      >
        <FarmMap
          farm={params.farm}
          land={land.data}
          ground={ground.data ?? null}
          mobs={mobs.data ?? []}
          {selected}
          {by}
          {division}
          divided={mode === 'divide' ? fieldId : ''}
          onpick={pick}
          onturn={(d) => (direction = d)}
          bind:canvas
        />
        <h1 class="sr-only">Land</h1>
        <div
          class="absolute top-4 left-4 flex flex-col overflow-hidden rounded-xl border border-line bg-surface shadow-sm max-md:top-auto max-md:right-3 max-md:bottom-3 max-md:left-3 max-md:flex-row max-md:overflow-x-auto"
          role="toolbar"
          aria-label="Tools"
          aria-orientation="vertical"
        >
          {#each shown as t (t.mode)}
            <button
              type="button"
              class="flex size-12 shrink-0 items-center justify-center {mode === t.mode
                ? 'bg-tarn text-on-tarn'
                : 'text-ink hover:bg-tarn-wash'} {t.mode === 'table' ? 'max-md:hidden' : ''}"
              title={t.label}
              aria-label={t.label}
              aria-pressed={mode === t.mode}
              disabled={t.mode === 'divide' && !land.data.fields.length}
              onclick={() => go(t.mode)}><Icon name={t.icon} /></button
            >
          {/each}
          <button
            type="button"
            class="flex size-12 shrink-0 items-center justify-center text-ink hover:bg-tarn-wash"
            title="See it all"
            aria-label="See it all"
            onclick={() => canvas?.fit()}><Icon name="zoom" /></button
          >
          {#each [['nearer', 'Nearer (+)', 1], ['farther', 'Farther (−)', -1]] as const as [icon, label, by] (icon)}
            <button
              type="button"
              class="flex size-12 shrink-0 items-center justify-center text-ink hover:bg-tarn-wash max-md:hidden"
              title={label}
              aria-label={label}
              onclick={() => canvas?.zoom(by)}><Icon name={icon} /></button
            >
          {/each}
        </div>
        {#if house.may('manager')}
          <div
            class="absolute top-4 right-4 flex overflow-hidden rounded-xl border border-line bg-surface shadow-sm"
            role="group"
            aria-label="Undo and redo"
          >
            <button
              type="button"
              class="flex h-12 w-12 items-center justify-center hover:bg-tarn-wash disabled:opacity-35"
              title={land.data.undo ? `Undo: ${sayStep(land.data.undo)}, Ctrl+Z` : 'Nothing to undo'}
              aria-label="Undo on the land"
              disabled={!land.data.undo}
              onclick={() => step(true)}><Icon name="undo" /></button
            >
            <button
              type="button"
              class="flex h-12 w-12 items-center justify-center hover:bg-tarn-wash disabled:opacity-35"
              title={land.data.redo ? `Do again: ${sayStep(land.data.redo)}, Ctrl+Shift+Z` : 'Nothing to do again'}
              aria-label="Do it again on the land"
              disabled={!land.data.redo}
              onclick={() => step(false)}><Icon name="redo" /></button
            >
          </div>
        {/if}
        {#if land.data.fields.length && mode !== 'divide'}<Legend bind:by />{/if}
      </div>
      {#if mode === 'table' && swards.data}
        <FactsTable
          farm={params.farm}
          land={land.data}
          swards={swards.data}
          bind:selected={() => selected, (ids) => address.set({ paddock: ids.join(',') })}
          onclose={() => go('look')}
        />
      {:else}
        <Shoulder label="Land">
          {#if mode === 'draw' && canvas}
            <AddField
              farm={params.farm}
              swards={swards.data ?? []}
              {canvas}
              onfile={() => go('file')}
              ondone={(id) => choose([], id)}
            />
          {:else if mode === 'file'}
            <Files
              farm={params.farm}
              swards={swards.data ?? []}
              {canvas}
              file={dropped}
              ondone={() => ((dropped = null), go('look'), canvas?.fit())}
            />
          {:else if mode === 'divide' && field}
            <Divide
              farm={params.farm}
              {field}
              fields={land.data.fields}
              marks={land.data.marks}
              mobs={mobs.data ?? []}
              bind:direction
              bind:division
              onfield={divideOther}
              ondone={() => go('look')}
            />
          {:else if mode === 'fences' && canvas}
            <Fences farm={params.farm} land={land.data} {canvas} {selected} bind:way={fenceWay} />
          {:else if mode === 'things' && canvas}
            <Things farm={params.farm} land={land.data} {field} {canvas} />
          {:else if mode === 'swards' && swards.data}
            <Swards farm={params.farm} swards={swards.data} />
          {:else if mode === 'measure' && canvas}
            <Measure farm={params.farm} {canvas} />
          {:else if mode === 'ground'}
            <GroundPanel farm={params.farm} ground={ground.data} {canvas} />
          {:else if paddock && swards.data}
            {#key paddock.id + paddock.version}
              <Panel onclose={() => choose([])}>
                <PaddockPanel
                  farm={params.farm}
                  {paddock}
                  field={land.data.fields.find((f) => f.id === paddock.field_id)!}
                  mobs={mobs.data ?? []}
                  swards={swards.data}
                  ondivide={() => (address.set({ field: paddock.field_id }), go('divide'))}
                  onclose={() => choose([])}
                />
              </Panel>
            {/key}
          {:else}
            <LandList land={land.data} onpick={(p, f) => choose([p], f)} onadd={() => go('draw')} />
          {/if}
        </Shoulder>
      {/if}
    </div>
  {:else}
    <Loading error={land.error} what="the land" />
  {/if}
</Frame>
