<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, Refusal, type Schemas } from '../../api/client'
  import type { FarmCanvas } from '../../map/drawn'
  import type { Lonlat } from '../../map/tools'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import { withUnit } from '../../ui/units'
  import { typedPlaces } from './ground'

  let { farm, canvas }: { farm: string; canvas: FarmCanvas | null } = $props()

  let came = $state<Schemas['MeasuredLine'] | null>(null)
  let problem = $state('')
  let typed = $state('')
  let asking = false
  let next: Lonlat[] | null = null

  // One question under way at a time; the newest line is asked when the answer is in.
  async function look(line: Lonlat[]) {
    next = line
    if (asking || line.length < 2) return
    asking = true
    try {
      while (next && next.length > 1) {
        const asked = next
        next = null
        came = await ask(api.POST('/api/farms/{farm}/land/measure', { params: { path: { farm } }, body: { line: asked } }))
        problem = ''
      }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      problem = error.message
    } finally {
      asking = false
    }
  }

  function again() {
    came = null
    canvas?.sketch(null)
    canvas?.tools.draw(
      'line',
      (path) => {
        canvas?.sketch([{ line: path }])
        void look(path)
      },
      (path) => void look(path),
    )
  }

  function byPlaces() {
    const found = typedPlaces(typed)
    problem = found.problem || (found.path.length < 2 ? 'Two places at least, a line each.' : '')
    if (problem) return
    canvas?.sketch([{ line: found.path }])
    void look(found.path)
  }

  onMount(() => {
    again()
    return () => (canvas?.tools.stop(), canvas?.sketch(null))
  })
</script>

<h2>Measure</h2>
<p>Click along the way; click the last place twice.</p>
{#if problem}<p class="font-semibold text-stop" role="alert">{problem}</p>{/if}
<p class="figure text-[44px] leading-none" role="status">{came ? withUnit(came.length_m, 'm', house.system, 0) : '…'}</p>
{#if came && came.legs_m.length > 1}
  <ol class="text-sm">
    {#each came.legs_m as leg, i (i)}<li class="flex justify-between border-b border-line py-1">
        <span class="text-soft">leg {i + 1}</span><span class="figure">{withUnit(leg, 'm', house.system, 1)}</span>
      </li>{/each}
  </ol>
  <p class="text-soft">
    Closed, it would enclose {withUnit(came.area_ha, 'ha', house.system)}: as much as a square of
    {withUnit(came.square_m, 'm', house.system, 0)} a side.
  </p>
{/if}
<div><Button onclick={again}>Measure again</Button></div>
<details>
  <summary class="min-h-11 cursor-pointer py-2 font-semibold text-tarn">Type the places</summary>
  <label class="block text-sm font-semibold" for="measured-places">A place a line: latitude, longitude</label>
  <textarea id="measured-places" class="mt-1 w-full rounded-lg border border-soft bg-surface" rows="4" bind:value={typed}
  ></textarea>
  <div class="mt-2"><Button onclick={byPlaces}>Measure these</Button></div>
</details>
