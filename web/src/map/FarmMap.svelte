<script lang="ts">
  import { onMount } from 'svelte'
  import type { Schemas } from '../api/client'
  import { house } from '../ui/house.svelte'
  import type { FarmCanvas } from './drawn'
  import type { ColourBy } from './styles'

  interface Props {
    farm?: string
    land: Schemas['LandView']
    ground?: Schemas['GroundView'] | null
    mobs?: Schemas['MobView'][]
    routes?: { mob: string; from: string; to: string }[]
    selected?: string[]
    by?: ColourBy
    division?: Schemas['DivisionView'] | null
    divided?: string
    still?: boolean
    onpick?: (paddock: string, field: string, more: boolean) => void
    onturn?: (direction: number) => void
    canvas?: FarmCanvas | null
  }
  let {
    farm = '',
    land,
    ground = null,
    mobs = [],
    routes = [],
    selected = [],
    by = 'feed',
    division = null,
    divided = '',
    still = false,
    onpick = () => {},
    onturn = () => {},
    canvas = $bindable(null),
  }: Props = $props()

  let box: HTMLDivElement

  onMount(() => {
    let gone = false
    // The map library is a chunk of its own: places that only mention a map do not wait for it.
    void import('./drawn').then(async ({ FarmCanvas }) => {
      await document.fonts.ready
      if (gone) return
      canvas = new FarmCanvas(
        box,
        still,
        (p, f, more) => onpick(p, f, more),
        (d) => onturn(d),
      )
      if (house.farm) canvas.lookAt(house.farm.longitude, house.farm.latitude)
    })
    return () => {
      gone = true
      canvas?.dispose()
      canvas = null
    }
  })

  $effect(() => {
    void house.theme
    canvas?.show({ farm, land, ground, mobs, routes, selected, by, system: house.system })
  })
  $effect(() => {
    canvas?.preview(division, divided)
  })
</script>

<!-- An application takes the keyboard: the map moves by its keys. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  bind:this={box}
  class="farm-map h-full w-full bg-[var(--paper)]"
  tabindex={still ? undefined : 0}
  role={still ? 'img' : 'application'}
  aria-label={still
    ? 'Small map of the farm, darker is more feed'
    : 'Map of the farm, darker is more feed. Arrows move it, plus and minus bring it nearer and farther. Every tool beside it works without the map.'}
></div>

<style>
  .farm-map :global(.ol-scale-line) {
    position: absolute;
    right: 14px;
    bottom: 14px;
    left: auto;
    padding: 4px 10px 8px;
    border-radius: 8px;
    background: var(--surface);
  }
  .farm-map :global(.ol-scale-line-inner) {
    border: 2px solid var(--ink);
    border-top: none;
    color: var(--ink);
    font-size: 13px;
    text-align: center;
  }
  .farm-map :global(.ol-viewport:focus-visible) {
    outline: 3px solid var(--tarn);
  }
</style>
