<script lang="ts">
  import { api, ask, newId, Refusal, type Schemas } from '../../api/client'
  import { refresh } from '../../api/queries.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { isoDay, longDay, now } from '../../ui/time.svelte'
  import { number, withUnit } from '../../ui/units'

  interface Props {
    farm: string
    field: Schemas['FieldView']
    fields: Schemas['FieldView'][]
    mobs: Schemas['MobView'][]
    direction: number
    division: Schemas['DivisionView'] | null
    onfield: (id: string) => void
    ondone: () => void
  }
  let { farm, field, fields, mobs, direction = $bindable(), division = $bindable(), onfield, ondone }: Props = $props()

  let parts = $state(4)
  let leastWidth = $state<number | null>(12)
  let layoutName = $state('summer')
  let names = $state<string[]>([])
  let takePieces = $state(false)
  let standing = $state<Record<string, string>>({})
  let refusal = $state<Refusal | null>(null)
  let kept = $state<Refusal | null>(null)
  let asking = false
  let again = false

  // One question under way at a time; the newest wish is asked when the answer is in.
  async function look() {
    if (asking) {
      again = true
      return
    }
    asking = true
    do {
      again = false
      try {
        division = await ask(
          api.POST('/api/farms/{farm}/fields/{id}/divide', {
            params: { path: { farm, id: field.id } },
            body: { parts, direction_degrees: direction, least_width_m: leastWidth ?? undefined },
          }),
        )
        refusal = null
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        refusal = error
        division = null
      }
    } while (again)
    asking = false
  }

  $effect(() => {
    void [parts, direction, leastWidth, field.id]
    takePieces = false
    void look()
  })

  const rename = (i: number) => names[i] ?? division?.parts[i]?.name ?? ''
  const standingHere = $derived(mobs.filter((m) => division?.mobs_standing.includes(m.id)))

  async function keep() {
    if (!division) return
    const id = newId()
    const of = field.id
    try {
      await ask(
        api.POST('/api/farms/{farm}/fields/{id}/layouts', {
          params: { path: { farm, id: field.id } },
          body: {
            id,
            name: layoutName,
            names: division.parts.map((_, i) => rename(i)),
            parts,
            direction_degrees: direction,
            least_width_m: leastWidth ?? undefined,
            take_pieces: takePieces || undefined,
            standing: standingHere.map((m) => ({ mob_id: m.id, part: Number(standing[m.id] ?? 0) })),
          },
        }),
      )
      const said = `${field.name} has ${parts} paddocks from today.`
      await refresh()
      ondone()
      house.say(said, () =>
        ask(api.DELETE('/api/farms/{farm}/fields/{id}/layouts/{layout}', { params: { path: { farm, id: of, layout: id } } })),
      )
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      kept = error
    }
  }
</script>

<div>
  <p class="text-sm text-soft">Divide into equal grazeable areas</p>
  <div class="flex items-baseline justify-between gap-2">
    <h2 class="!text-2xl">{field.name}</h2>
    <span class="text-soft">{withUnit(division?.grazeable_ha ?? field.area_ha, 'ha', house.system)}</span>
  </div>
</div>
{#if fields.length > 1}
  <Choice label="Field" value={field.id} options={fields.map((f) => ({ value: f.id, label: f.name }))} onchange={onfield} />
{/if}
<div class="flex items-center gap-4">
  <button
    type="button"
    class="size-12 rounded-xl border-2 border-tarn text-2xl font-bold text-tarn disabled:opacity-40"
    aria-label="One fewer"
    disabled={parts <= 1}
    onclick={() => parts--}>−</button
  >
  <output class="figure w-14 text-center text-[44px] leading-none" aria-label="Paddocks">{parts}</output>
  <button
    type="button"
    class="size-12 rounded-xl border-2 border-tarn text-2xl font-bold text-tarn disabled:opacity-40"
    aria-label="One more"
    disabled={parts >= 400}
    onclick={() => parts++}>+</button
  >
  <span class="text-soft"
    >paddocks of<br /><strong class="text-ink"
      >{division ? withUnit(division.grazeable_ha / parts, 'ha', house.system) : '…'}</strong
    ></span
  >
</div>
<label class="flex flex-col gap-1 text-sm font-semibold"
  >How many
  <input type="range" min="1" max="40" bind:value={parts} class="w-full accent-[var(--tarn)]" />
</label>
<label class="flex flex-col gap-1 text-sm font-semibold"
  ><span class="flex justify-between"
    ><span>Direction of the fences</span><span>{number(direction, '', house.system, 0)}° from north</span></span
  >
  <input type="range" min="0" max="179.5" step="0.5" bind:value={direction} class="w-full accent-[var(--tarn)]" />
</label>

{#if refusal}
  <Refused {refusal} />
{/if}
{#if division}
  {#if !division.whole}
    <div class="rounded-xl border-2 border-now bg-now-wash p-3 text-now-ink" role="alert">
      <p>{division.parts.filter((p) => p.pieces > 1).length} of these would lie in several pieces (hatched).</p>
      {#if division.whole_nearest_degrees !== null}
        <div class="mt-2">
          <Button onclick={() => (direction = division!.whole_nearest_degrees!)}
            >Turn to {number(division.whole_nearest_degrees, '', house.system, 0)}°: all whole</Button
          >
        </div>
      {:else}<p>No direction keeps them all whole.</p>{/if}
      <label class="mt-2 flex min-h-11 items-center gap-3"
        ><input type="checkbox" class="size-5 rounded border-soft" bind:checked={takePieces} />Take it anyway</label
      >
    </div>
  {/if}
  <dl class="grid grid-cols-[1fr_auto] gap-y-1.5">
    <dt class="text-soft">New fence</dt>
    <dd class="figure text-right">{withUnit(division.new_fence_m, 'm', house.system)}</dd>
    <dt class="text-soft">Narrowest</dt>
    <dd class="figure text-right">{withUnit(Math.min(...division.parts.map((p) => p.width_m)), 'm', house.system)}</dd>
  </dl>
  <table class="w-full text-sm">
    <thead class="text-left text-soft"
      ><tr
        ><th class="py-1 font-normal">Paddock</th><th class="text-right font-normal">Area</th><th class="text-right font-normal"
          >Fence</th
        ></tr
      ></thead
    >
    <tbody>
      {#each division.parts as p, i (i)}
        <tr class="border-t border-line">
          <td class="py-1 pr-2"
            ><input
              class="w-full rounded-md border border-transparent bg-transparent px-1 py-1 font-semibold hover:border-soft focus:border-tarn"
              aria-label="Name of paddock {i + 1}"
              value={rename(i)}
              oninput={(e) => (names[i] = e.currentTarget.value)}
            /></td
          >
          <td class="text-right whitespace-nowrap">{withUnit(p.area_ha, 'ha', house.system)}</td>
          <td class="pl-3 text-right whitespace-nowrap">{withUnit(p.fence_m, 'm', house.system)}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#each standingHere as m (m.id)}
    <Choice
      label="{m.name} stand in {field.name}: in which now?"
      value={standing[m.id] ?? ''}
      options={[{ value: '', label: 'choose…' }, ...division.parts.map((_, i) => ({ value: String(i + 1), label: rename(i) }))]}
      onchange={(v) => (standing[m.id] = v)}
    />
  {/each}
  <TextField
    label="Name of this layout"
    bind:value={layoutName}
    error={kept?.at('name')}
    hint="Holds from {longDay(now())}; records keep pointing to the paddocks that were."
    id="layout-{isoDay(now())}"
  />
  <details>
    <summary class="min-h-9 py-1 text-sm font-semibold text-tarn">Least width</summary>
    <NumberField
      label="No paddock narrower than"
      unit="m"
      bind:value={leastWidth}
      hint="Narrower than this stock cannot spread out."
    />
  </details>
  <Refused refusal={kept} shown={['name']} />
{/if}
<div class="flex flex-wrap gap-3">
  {#if house.may('manager')}
    <Button kind="main" disabled={!division || (!division.whole && !takePieces)} onclick={keep}>Keep as “{layoutName}”</Button>
  {/if}
  <Button onclick={ondone}>Leave as it is</Button>
</div>
