<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
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

  let way = $state<'draw' | 'walk'>('draw')
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

<h2>{way === 'draw' ? 'Draw a field' : 'Walk the fence'}</h2>
{#if way === 'draw'}
  <Sketch
    bind:this={sketch}
    {farm}
    {canvas}
    kind="ground"
    lead="Click the map at each corner of the fence; click the first corner again to close it. It snaps to corners and fences that are there."
    ondone={(d) => (shape = d?.shape ?? null)}
  />
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
    {#if way === 'draw'}<Button onclick={() => turn('walk')}>Walk the fence instead</Button>
    {:else}<Button onclick={() => turn('draw')}>Draw on the map instead</Button>{/if}
    <Button onclick={onfile}>Bring a file</Button>
  </div>
{/if}
