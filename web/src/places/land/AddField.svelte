<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'
  import { readGround, typedCorners } from './ground'

  interface Props {
    farm: string
    swards: Schemas['Sward'][]
    draw: (done: (s: GroundShape) => void) => void
    canvas: FarmCanvas | null
    ondone: (field: string) => void
  }
  let { farm, swards, draw, canvas, ondone }: Props = $props()

  let shape = $state<GroundShape | null>(null)
  let found = $state<Schemas['Feature'] | null>(null)
  let name = $state('')
  let sward = $state('ryegrass_white_clover')
  let corners = $state('')
  let typedProblem = $state('')
  let confirmed = $state(false)
  let refusal = $state<Refusal | null>(null)
  let id = newId()

  onMount(again)

  function again() {
    shape = found = null
    refusal = null
    canvas?.sketch(null)
    draw(take)
  }

  async function take(s: GroundShape) {
    shape = s
    canvas?.sketch(s)
    try {
      found = await readGround(farm, s)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
    }
  }

  function typed() {
    const read = typedCorners(corners)
    typedProblem = read.problem
    if (read.shape) {
      canvas?.stopDrawing()
      void take(read.shape)
    }
  }

  async function keep() {
    if (!shape) return
    try {
      await ask(
        api.POST('/api/farms/{farm}/fields', {
          params: { path: { farm } },
          body: { id, name, sward_id: sward, shape, confirmed },
        }),
      )
      const made = id
      canvas?.sketch(null)
      await refresh()
      ondone(made)
      house.say(`${name} is on the map.`, () =>
        ask(api.DELETE('/api/farms/{farm}/fields/{id}', { params: { path: { farm, id: made } } })),
      )
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
      id = newId()
    }
  }
</script>

<h2>Draw a field</h2>
{#if !shape}
  <p>
    Click the map at each corner of the fence; click the first corner again to close it. <kbd>Backspace</kbd> takes the last
    corner back, <kbd>Esc</kbd> starts over.
  </p>
  <details>
    <summary class="min-h-10 py-2 font-semibold text-tarn">Type the corners instead</summary>
    <TextField label="Corners, a line each: latitude longitude" bind:value={corners} rows={6} error={typedProblem} />
    <div class="mt-2"><Button onclick={typed}>Use these corners</Button></div>
  </details>
{:else if found?.problem}
  <p class="rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert">{found.problem}</p>
  <Button onclick={again}>Draw it again</Button>
{:else}
  <p class="figure text-[40px] leading-none">{found ? withUnit(found.area_ha, 'ha', house.system) : '…'}</p>
  <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void keep())}>
    <TextField label="Name of the field" bind:value={name} error={refusal?.at('name')} />
    <Choice
      label="What grows there"
      bind:value={sward}
      options={swards.map((s) => ({ value: s.id, label: s.name }))}
      hint="Growth and heights start from this; your own walks replace it."
    />
    <Refused {refusal} bind:confirmed shown={['name']} />
    <div class="flex flex-wrap gap-3">
      <Button kind="main" type="submit">Keep this field</Button>
      <Button onclick={again}>Draw it again</Button>
    </div>
  </form>
{/if}
