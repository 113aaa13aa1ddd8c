<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { edit } from './ground'
  import Sketch from './Sketch.svelte'
  import WalkFence from './WalkFence.svelte'

  interface Props {
    farm: string
    swards: Schemas['Sward'][]
    canvas: FarmCanvas | null
    onfile: () => void
    ondone: (field: string) => void
  }
  let { farm, swards, canvas, onfile, ondone }: Props = $props()

  let way = $state<'draw' | 'walk' | 'size'>('draw')
  let size = $state<number | null>(null)
  const laying = new Write()
  let shape = $state<GroundShape | null>(null)
  let name = $state('')
  let sward = $state('ryegrass_white_clover')
  const write = new Write()
  const refusal = $derived(write.refusal)
  let sketch = $state<ReturnType<typeof Sketch> | null>(null)

  function turn(to: typeof way) {
    way = to
    shape = null
    write.refusal = null
    canvas?.sketch(null)
  }

  // Ground of which only the size is known: a square in the middle of the map, to be given its shape later.
  const lay = () =>
    laying.send(
      () => {
        const [longitude, latitude] = canvas!.inView()
        const query = { area_ha: size ?? 0, longitude, latitude }
        return ask(api.GET('/api/farms/{farm}/land/square', { params: { path: { farm }, query } }))
      },
      {
        then: (square) => {
          shape = square as GroundShape
          canvas?.sketch([{ shape: shape! }], true)
        },
      },
    )

  async function keep() {
    const ground = shape
    if (!ground) return
    const made = write.id()
    const went = await edit(write, farm, `${name} is on the map.`, (id) =>
      ask(
        api.POST('/api/farms/{farm}/fields', {
          params: { path: { farm } },
          body: { id, name, sward_id: sward, shape: ground, confirmed: write.confirmed },
        }),
      ),
    )
    if (!went) return
    canvas?.sketch(null)
    ondone(made)
  }
</script>

<h2>{{ draw: 'Draw a field', walk: 'Walk the fence', size: 'A field by its size' }[way]}</h2>
{#if way === 'draw'}
  <Sketch
    bind:this={sketch}
    {farm}
    {canvas}
    kind="ground"
    lead="Click the map at each corner of the fence; click the first corner again to close it. It snaps to corners and fences that are there."
    ondone={(d) => (shape = d?.shape ?? null)}
  />
{:else if way === 'size'}
  <p>A square of that size is laid in the middle of the map. Move its corners under Fences when you know where they are.</p>
  <NumberField label="Size of the field" unit="ha" bind:value={size} error={laying.at('area_ha')} />
  <Refused refusal={laying.refusal} shown={['area_ha']} />
  <div><Button onclick={() => void lay()} disabled={!size || laying.busy}>Lay it there</Button></div>
{:else}
  <WalkFence {farm} {canvas} ondone={(s) => (shape = s)} />
{/if}
{#if shape}
  <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <TextField label="Name of the field" bind:value={name} error={refusal?.at('name')} />
    <Choice
      label="What grows there"
      bind:value={sward}
      options={swards.map((s) => ({ value: s.id, label: s.name }))}
      hint="Growth and heights start from this; your own walks replace it."
    />
    <Refused {refusal} bind:confirmed={write.confirmed} shown={['name']} />
    <div class="flex flex-wrap gap-3">
      <Button kind="main" type="submit">Keep this field</Button>
      {#if way === 'draw'}<Button onclick={() => sketch?.again()}>Draw it again</Button>{/if}
    </div>
  </form>
{:else}
  <div class="mt-auto flex flex-wrap gap-2 border-t border-line pt-4">
    {#if way !== 'draw'}<Button onclick={() => turn('draw')}>Draw on the map</Button>{/if}
    {#if way !== 'walk'}<Button onclick={() => turn('walk')}>Walk the fence</Button>{/if}
    {#if way !== 'size'}<Button onclick={() => turn('size')}>Only its size is known</Button>{/if}
    <Button onclick={onfile}>Bring a file</Button>
  </div>
{/if}
