<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import type { FarmCanvas, GroundShape } from '../../map/drawn'
  import type { Lonlat } from '../../map/tools'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'
  import { edit } from './ground'
  import Sketch from './Sketch.svelte'

  interface Props {
    farm: string
    land: Schemas['LandView']
    field: Schemas['FieldView'] | undefined
    canvas: FarmCanvas | null
  }
  let { farm, land, field, canvas }: Props = $props()

  const kinds = {
    water: { label: 'Water', kind: 'place', lead: 'Click where stock drink: trough, spring, ford.', name: 'trough' },
    gate: { label: 'Gate', kind: 'place', lead: 'Click the gate on its fence.', name: 'gate' },
    lane: { label: 'Lane', kind: 'line', lead: 'Draw the middle of the lane; click the last place twice.', name: 'lane' },
    fence: { label: 'Fence', kind: 'line', lead: 'Draw the fence; click the last place twice.', name: 'fence' },
    out: { label: 'Not grazed', kind: 'ground', lead: 'Draw around what is not grazed: pond, wood, rock, yard.', name: 'wood' },
    zone: {
      label: 'Other growth',
      kind: 'ground',
      lead: 'Draw around ground that grows more or less than the rest: a slope, a hollow, deep soil.',
      name: 'slope',
    },
  } as const
  type Kind = keyof typeof kinds
  type Drawn = { path: Lonlat[]; shape: GroundShape; found: Schemas['Feature'] | null }

  let kind = $state<Kind | null>(null)
  let drawn = $state<Drawn | null>(null)
  let name = $state('')
  let width = $state<number | null>(4)
  let factor = $state<number | null>(0.8)
  let temporary = $state(false)
  let why = $state('wood')
  const write = new Write()
  const refusal = $derived(write.refusal)

  function start(k: Kind) {
    kind = null
    drawn = null
    write.refusal = null
    name = kinds[k].name
    setTimeout(() => (kind = k))
  }

  function close() {
    kind = null
    canvas?.tools.stop()
    canvas?.sketch(null)
  }

  async function keep() {
    if (!drawn || !kind) return
    const [k, d] = [kind, drawn]
    const went = await edit(write, farm, `${name} is on the map.`, (id): Promise<unknown> => {
      const at = { params: { path: { farm, id: field?.id ?? '' } } }
      if (k === 'out')
        return ask(
          api.POST('/api/farms/{farm}/fields/{id}/exclusions', {
            ...at,
            body: { id, name, kind: why as 'wood', shape: d.shape },
          }),
        )
      if (k === 'zone')
        return ask(
          api.POST('/api/farms/{farm}/fields/{id}/zones', {
            ...at,
            body: { id, name, growth_factor: factor ?? 1, shape: d.shape },
          }),
        )
      return ask(
        api.POST('/api/farms/{farm}/land/marks', {
          params: { path: { farm } },
          body: { id, kind: k, name, path: d.path, temporary, lane_width_m: k === 'lane' ? (width ?? undefined) : undefined },
        }),
      )
    })
    if (went) close()
  }

  const remove = (what: string, work: () => Promise<unknown>) => edit(write, farm, `${what} taken off the map.`, work)
</script>

{#if kind}
  {@const k = kinds[kind]}
  <h2>{k.label}{kind === 'out' || kind === 'zone' ? ` in ${field?.name ?? ''}` : ''}</h2>
  {#key kind}
    <Sketch {farm} {canvas} kind={k.kind} lead={k.lead} ondone={(d) => (drawn = d)} />
  {/key}
  {#if drawn}
    <form class="flex flex-col gap-4" onsubmit={(e) => (e.preventDefault(), void keep())}>
      {#if kind === 'out'}
        <Choice
          label="What is it?"
          bind:value={why}
          options={['pond', 'wood', 'rock', 'yard', 'other'].map((v) => ({ value: v, label: v }))}
        />
      {/if}
      <TextField label="Name" bind:value={name} error={refusal?.at('name')} />
      {#if kind === 'lane'}
        <NumberField
          label="Width of the lane"
          unit="m"
          bind:value={width}
          error={refusal?.at('lane_width_m')}
          hint="Its ground is no longer counted as feed."
        />
      {/if}
      {#if kind === 'fence'}
        <label class="flex min-h-11 items-center gap-3"
          ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={temporary} />Temporary</label
        >
        <p class="text-sm text-soft">
          Electric fence: follow the maker's words and local codes, hang warning signs where people pass, keep it clear of power
          lines.
        </p>
      {/if}
      {#if kind === 'zone'}
        <NumberField
          label="Growth against the rest of the field"
          unit="ratio"
          bind:value={factor}
          error={refusal?.at('growth_factor')}
          hint="1 is the same, 0.5 half as much."
        />
      {/if}
      <Refused {refusal} shown={['name', 'lane_width_m', 'growth_factor']} />
      <div class="flex flex-wrap gap-3">
        <Button kind="main" type="submit">Put it on the map</Button>
        <Button onclick={() => start(kind!)}>Draw it again</Button>
      </div>
    </form>
  {/if}
  <div><Button kind="quiet" onclick={close}>Leave it</Button></div>
{:else}
  <h2>Things on the land</h2>
  <div class="grid grid-cols-2 gap-2">
    {#each Object.entries(kinds) as [key, k] (key)}
      <Button disabled={(key === 'out' || key === 'zone') && !field} onclick={() => start(key as Kind)}>{k.label}</Button>
    {/each}
  </div>
  {#if !field}<p class="text-sm text-soft">Pick a field on the map for ground that is not grazed or grows otherwise.</p>{/if}
  <Refused {refusal} />
  <ul class="flex flex-col">
    {#each land.marks as m (m.id)}
      <li class="flex min-h-11 items-center gap-2 border-b border-line">
        <span class="flex-1">{m.name} <span class="text-sm text-soft">{m.kind}{m.temporary ? ', temporary' : ''}</span></span>
        {#if m.path.length > 1}<span class="figure text-sm">{withUnit(m.length_m, 'm', house.system, 0)}</span>{/if}
        <Button
          kind="quiet"
          label="Delete {m.name}"
          onclick={() =>
            remove(m.name, () => ask(api.DELETE('/api/farms/{farm}/land/marks/{id}', { params: { path: { farm, id: m.id } } })))}
          >Delete</Button
        >
      </li>
    {/each}
    {#each land.fields as f (f.id)}
      {#each f.exclusions.filter((x) => x.kind !== 'lane') as x (x.id)}
        <li class="flex min-h-11 items-center gap-2 border-b border-line">
          <span class="flex-1">{x.name} <span class="text-sm text-soft">not grazed, in {f.name}</span></span>
          <span class="figure text-sm">{withUnit(x.area_ha, 'ha', house.system)}</span>
          <Button
            kind="quiet"
            label="Delete {x.name}"
            onclick={() =>
              remove(x.name, () =>
                ask(
                  api.DELETE('/api/farms/{farm}/fields/{id}/exclusions/{part}', {
                    params: { path: { farm, id: f.id, part: x.id } },
                  }),
                ),
              )}>Delete</Button
          >
        </li>
      {/each}
      {#each f.zones as z (z.id)}
        <li class="flex min-h-11 items-center gap-2 border-b border-line">
          <span class="flex-1">{z.name} <span class="text-sm text-soft">grows × {z.growth_factor}, in {f.name}</span></span>
          <span class="figure text-sm">{withUnit(z.area_ha, 'ha', house.system)}</span>
          <Button
            kind="quiet"
            label="Delete {z.name}"
            onclick={() =>
              remove(z.name, () =>
                ask(
                  api.DELETE('/api/farms/{farm}/fields/{id}/zones/{part}', { params: { path: { farm, id: f.id, part: z.id } } }),
                ),
              )}>Delete</Button
          >
        </li>
      {/each}
    {/each}
  </ul>
{/if}
