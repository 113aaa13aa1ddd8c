<script lang="ts">
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import { withUnit } from '../../ui/units'
  import { readFile } from './ground'

  interface Props {
    farm: string
    swards: Schemas['Sward'][]
    canvas: FarmCanvas | null
    file: File | null
    ondone: () => void
  }
  let { farm, swards, canvas, file, ondone }: Props = $props()

  const most = 20 * 1024 * 1024
  let found = $state<(Schemas['Feature'] & { take: boolean; id: string; refused?: string })[]>([])
  let refusal = $state<Refusal | null>(null)
  let sward = $state('ryegrass_white_clover')
  let busy = $state(false)
  let confirmed = $state(false)

  $effect(() => {
    if (file) void read(file)
  })

  async function read(f: File) {
    found = []
    refusal = null
    if (f.size > most) {
      refusal = new Refusal(413, `The file has ${Math.round(f.size / 1024 / 1024)} MB; at most 20 MB can be read.`, [], false)
      return
    }
    try {
      found = (await readFile(farm, await f.text())).map((x) => ({ ...x, take: !x.problem, id: newId() }))
      const first = found.find((x) => !x.problem)
      if (first) canvas?.sketch(first.shape as GroundShape)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refusal = error
    }
  }

  async function keep() {
    busy = true
    refusal = null
    const made: string[] = []
    for (const f of found.filter((x) => x.take)) {
      try {
        await ask(
          api.POST('/api/farms/{farm}/fields', {
            params: { path: { farm } },
            body: { id: f.id, name: f.name, sward_id: sward, shape: f.shape, confirmed },
          }),
        )
        made.push(f.id)
        f.take = false
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        f.refused = error.message
        f.id = newId()
        refusal = error
      }
    }
    busy = false
    if (made.length)
      house.say(`${made.length} ${made.length === 1 ? 'field' : 'fields'} brought in.`, () =>
        Promise.all(made.map((id) => ask(api.DELETE('/api/farms/{farm}/fields/{id}', { params: { path: { farm, id } } })))),
      )
    await refresh()
    if (!refusal) ondone()
  }
</script>

<h2>Bring a file</h2>
<p>A GeoJSON file in WGS 84, at most 20 MB. Drop it on the map or choose it here; nothing is written until you say so.</p>
<label class="flex flex-col gap-1 font-semibold"
  >File
  <input
    type="file"
    accept=".geojson,.json,application/geo+json"
    class="rounded-lg border border-soft bg-surface p-2 font-normal"
    onchange={(e) => e.currentTarget.files?.[0] && void read(e.currentTarget.files[0])}
  />
</label>
{#if found.length}
  <Choice label="What grows there" bind:value={sward} options={swards.map((s) => ({ value: s.id, label: s.name }))} />
  <ul class="flex flex-col gap-2">
    {#each found as f (f.id)}
      <li class="rounded-xl border border-line p-3">
        <div class="flex items-center gap-3">
          <input
            type="checkbox"
            class="size-6 rounded border-soft"
            disabled={!!f.problem}
            bind:checked={f.take}
            aria-label="Take {f.name}"
          />
          <input
            class="min-w-0 flex-1 rounded-lg border border-soft bg-surface px-2 py-1"
            bind:value={f.name}
            aria-label="Name"
            onfocus={() => canvas?.sketch(f.shape as GroundShape)}
          />
          <span class="figure">{f.problem ? '' : withUnit(f.area_ha, 'ha', house.system)}</span>
        </div>
        {#if f.problem || f.refused}<p class="mt-2 text-sm font-semibold text-stop">{f.problem || f.refused}</p>{/if}
      </li>
    {/each}
  </ul>
{/if}
<Refused {refusal} bind:confirmed />
{#if found.some((f) => f.take)}
  <Button kind="main" disabled={busy} onclick={keep}
    >Make {found.filter((f) => f.take).length} {found.filter((f) => f.take).length === 1 ? 'field' : 'fields'}</Button
  >
{/if}
