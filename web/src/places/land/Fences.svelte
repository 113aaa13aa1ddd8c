<script lang="ts">
  import { onMount, untrack } from 'svelte'
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import type { FarmCanvas } from '../../map/drawn'
  import type { Lonlat } from '../../map/tools'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { edit } from './ground'
  import Sketch from './Sketch.svelte'

  interface Props {
    farm: string
    land: Schemas['LandView']
    canvas: FarmCanvas | null
    selected: string[]
    way: 'corners' | 'split' | 'join'
  }
  let { farm, land, canvas, selected, way = $bindable() }: Props = $props()

  const write = new Write()
  const refusal = $derived(write.refusal)
  let line = $state<Lonlat[] | null>(null)
  let paddock = $state('')
  let other = $state('')
  let round = $state(0)

  const options = $derived([{ value: '', label: 'choose…' }, ...land.paddocks.map((p) => ({ value: p.id, label: p.name }))])
  const beside = $derived(
    options.filter(
      (o) =>
        !o.value ||
        (o.value !== paddock &&
          land.paddocks.find((p) => p.id === o.value)?.field_id === land.paddocks.find((p) => p.id === paddock)?.field_id),
    ),
  )

  $effect(() => {
    paddock = selected[0] ?? untrack(() => paddock)
    other = selected[1] ?? ''
  })
  $effect(() => {
    if (way === 'corners')
      canvas?.tools.editCorners(
        untrack(() => land),
        (at, to) => void corner(at, to),
      )
    else if (way === 'join') canvas?.tools.stop()
    canvas?.sketch(null)
    write.refusal = null
  })
  // Which corner the keys are at, for whoever does not see it.
  let said = $state('')
  $effect(() => {
    if (canvas) canvas.tools.said = (text) => (said = text)
  })
  onMount(() => () => canvas?.tools.stop())

  async function corner(at: Lonlat, to: Lonlat | null) {
    const went = await edit(write, farm, to ? 'The corner moved, with every paddock that has it.' : 'The corner is gone.', (id) =>
      ask(
        api.POST('/api/farms/{farm}/land/corner', {
          params: { path: { farm } },
          body: to ? { id, at, to } : { id, at, remove: true },
        }),
      ),
    )
    if (!went) canvas?.tools.corners(land)
  }

  async function split() {
    const cut = line
    if (!cut) return
    const name = land.paddocks.find((p) => p.id === paddock)?.name ?? ''
    const went = await edit(write, farm, `${name} is split.`, (id) =>
      ask(api.POST('/api/farms/{farm}/land/split', { params: { path: { farm } }, body: { id, paddock_id: paddock, line: cut } })),
    )
    if (!went) return
    line = null
    round++
  }

  async function join() {
    const [a, b] = [paddock, other].map((x) => land.paddocks.find((p) => p.id === x)?.name ?? '')
    const went = await edit(write, farm, `${b} is joined to ${a}.`, (id) =>
      ask(
        api.POST('/api/farms/{farm}/land/merge', {
          params: { path: { farm } },
          body: { id, paddock_id: paddock, with_id: other },
        }),
      ),
    )
    if (went) other = ''
  }
</script>

<h2>Fences</h2>
<div class="grid grid-cols-3 gap-2" role="group" aria-label="What to do">
  <Button pressed={way === 'corners'} onclick={() => (way = 'corners')}>Corners</Button>
  <Button pressed={way === 'split'} onclick={() => (way = 'split')}>Split</Button>
  <Button pressed={way === 'join'} onclick={() => (way = 'join')}>Join</Button>
</div>
{#if said}<p class="text-sm text-soft" role="status">{said}</p>{/if}
{#if way === 'corners'}
  <p>
    Drag a corner. A shared fence is one fence: every paddock and field that has the corner goes with it. Drag a small dot to put
    a new corner there.
  </p>
  <p class="text-sm text-soft">
    By keys: <kbd>N</kbd> and <kbd>P</kbd> choose a corner, arrows move it by a metre, <kbd>Delete</kbd> takes it out.
  </p>
  <Button onclick={() => canvas?.tools.removeChosen() || house.say('Tap a corner first.')}>Take the chosen corner out</Button>
  <Refused {refusal} />
{:else if way === 'split'}
  <Choice label="Paddock" bind:value={paddock} {options} />
  {#key round}
    <Sketch
      {farm}
      {canvas}
      kind="line"
      lead="Draw the new fence from one side across to another; click the last place twice."
      ondone={(d) => (line = d?.path ?? null)}
    />
  {/key}
  <Refused {refusal} />
  <p class="text-sm text-soft">The larger part keeps the name and the records; what stands is carried over.</p>
  <div class="flex flex-wrap gap-3">
    <Button kind="main" disabled={!line || !paddock} onclick={() => void split()}>Split it</Button>
    {#if line}<Button onclick={() => ((line = null), round++)}>Draw it again</Button>{/if}
  </div>
{:else}
  <p>Pick two neighbours here, or on the map with Shift.</p>
  <Choice label="The paddock that stays" bind:value={paddock} {options} />
  <Choice label="Joined to it" bind:value={other} options={beside} />
  <Refused {refusal} />
  <p class="text-sm text-soft">The first keeps its name and records; the records of the other stay its own.</p>
  <div>
    <Button kind="main" disabled={!paddock || !other} onclick={() => void join()}>Take the fence between them away</Button>
  </div>
{/if}
