<script lang="ts">
  import { onMount } from 'svelte'
  import { Refusal, type Schemas } from '../../api/client'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import type { Lonlat } from '../../map/tools'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'
  import { readGround, typedPlaces } from './ground'

  // One way to draw: by clicks on the map or by typing places. Ground is read by the server as it is drawn.
  interface Props {
    farm: string
    canvas: FarmCanvas | null
    kind: 'ground' | 'line' | 'place'
    lead: string
    ondone: (drawn: { path: Lonlat[]; shape: GroundShape; found: Schemas['Feature'] | null } | null) => void
  }
  let { farm, canvas, kind, lead, ondone }: Props = $props()

  let drawn = $state(false)
  let found = $state<Schemas['Feature'] | null>(null)
  let text = $state('')
  let problem = $state('')

  onMount(() => {
    again()
    return () => canvas?.tools.stop()
  })

  export function again() {
    drawn = false
    found = null
    problem = ''
    ondone(null)
    canvas?.sketch(null)
    canvas?.tools.draw(kind, (path, shape) => void take(path, shape))
  }

  async function take(path: Lonlat[], shape: GroundShape) {
    drawn = true
    if (kind !== 'ground') {
      canvas?.sketch(kind === 'line' ? [{ line: path }] : [{ point: path[0] }])
      ondone({ path, shape, found: null })
      return
    }
    canvas?.sketch([{ shape }])
    try {
      found = await readGround(farm, shape)
      problem = found.problem
      if (!problem) ondone({ path, shape, found })
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      problem = error.message
    }
  }

  const least = $derived({ ground: 3, line: 2, place: 1 }[kind])

  function typed() {
    const read = typedPlaces(text)
    problem = read.problem
    if (problem) return
    if (read.path.length < least) {
      problem = { ground: 'Ground needs at least three corners.', line: 'A line has two ends.', place: 'Type one place.' }[kind]
      return
    }
    canvas?.tools.stop()
    void take(read.path, kind === 'ground' ? [[[...read.path, read.path[0]!]]] : [])
  }
</script>

{#if !drawn}
  <p>{lead}</p>
  {#if kind !== 'place'}
    <p class="text-sm text-soft">
      <kbd>Backspace</kbd> takes the last corner back, <kbd>Enter</kbd> ends it, <kbd>Esc</kbd> starts over.
    </p>
  {/if}
  <details>
    <summary class="min-h-10 py-2 font-semibold text-tarn"
      >{kind === 'place' ? 'Type the place instead' : 'Type the corners instead'}</summary
    >
    <TextField
      label={kind === 'place' ? 'Latitude longitude' : 'Corners, a line each: latitude longitude'}
      bind:value={text}
      rows={kind === 'place' ? 1 : 6}
      error={problem}
    />
    <div class="mt-2"><Button onclick={typed}>{kind === 'place' ? 'Use this place' : 'Use these corners'}</Button></div>
  </details>
{:else if problem}
  <p class="rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert">{problem}</p>
  <Button onclick={again}>Draw it again</Button>
{:else if kind === 'ground'}
  <div>
    <p class="figure text-[40px] leading-none">{found ? withUnit(found.area_ha, 'ha', house.system) : '…'}</p>
    {#if found}
      <p class="mt-1 text-sm text-soft">
        as much as {withUnit(found.square_m, 'm', house.system, 0)} × {withUnit(found.square_m, 'm', house.system, 0)}
      </p>
    {/if}
  </div>
{/if}
