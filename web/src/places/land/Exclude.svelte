<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'
  import { readGround, typedCorners } from './ground'

  interface Props {
    farm: string
    field: Schemas['FieldView']
    draw: (done: (s: GroundShape) => void) => void
    canvas: FarmCanvas | null
    ondone: () => void
  }
  let { farm, field, draw, canvas, ondone }: Props = $props()

  let shape = $state<GroundShape | null>(null)
  let found = $state<Schemas['Feature'] | null>(null)
  let name = $state('wood')
  let corners = $state('')
  let typedProblem = $state('')
  let refusal = $state<Refusal | null>(null)
  let id = newId()

  onMount(() => draw(take))

  async function take(s: GroundShape) {
    shape = s
    canvas?.sketch(s)
    found = await readGround(farm, s)
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
        api.POST('/api/farms/{farm}/fields/{id}/exclusions', {
          params: { path: { farm, id: field.id } },
          body: { id, name, shape },
        }),
      )
      house.say(`The ${name} is out of ${field.name}.`)
      canvas?.sketch(null)
      await refresh()
      ondone()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
      id = newId()
    }
  }
</script>

<h2>Take ground out of {field.name}</h2>
{#if !shape}
  <p>Draw around what is not grazed: pond, wood, rock, yard. Areas and equal parts leave it out.</p>
  <details>
    <summary class="min-h-10 py-2 font-semibold text-tarn">Type the corners instead</summary>
    <TextField label="Corners, a line each: latitude longitude" bind:value={corners} rows={5} error={typedProblem} />
    <div class="mt-2"><Button onclick={typed}>Use these corners</Button></div>
  </details>
{:else}
  {#if found?.problem}<p class="rounded-xl border-2 border-stop bg-stop-wash p-3 text-stop" role="alert">{found.problem}</p>{/if}
  <p class="figure text-[40px] leading-none">{found && !found.problem ? withUnit(found.area_ha, 'ha', house.system) : '…'}</p>
  <TextField label="What is it?" bind:value={name} error={refusal?.at('name')} />
  <Refused {refusal} shown={['name']} />
  <div class="flex flex-wrap gap-3">
    <Button kind="main" disabled={!!found?.problem} onclick={keep}>Take it out</Button>
    <Button onclick={() => ((shape = null), canvas?.sketch(null), draw(take))}>Draw it again</Button>
  </div>
{/if}
