<script lang="ts">
  import { createQuery } from '@tanstack/svelte-query'
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import Choice from '../../ui/Choice.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import TextField from '../../ui/TextField.svelte'
  import { withUnit } from '../../ui/units'
  import { edit } from './ground'

  // The ways a field is divided, side by side.
  interface Props {
    farm: string
    field: Schemas['FieldView']
    mob: string
    mobs: Schemas['MobView'][]
    stay: number
    rest: number
  }
  let { farm, field, mob, mobs, stay, rest }: Props = $props()

  const layouts = createQuery(() => ({
    queryKey: ['layouts', farm, field.id, mob, stay, rest],
    queryFn: () =>
      ask(
        api.GET('/api/farms/{farm}/fields/{id}/layouts', {
          params: { path: { farm, id: field.id }, query: { mob, stay, rest } },
        }),
      ),
  }))
  $effect.pre(() => void layouts.data)

  let chosen = $state('')
  let from = $state('')
  let until = $state('')
  let standing = $state<Record<string, string>>({})
  const write = new Write()
  const refusal = $derived(write.refusal)

  const one = $derived(layouts.data?.find((l) => l.id === chosen))
  const asked = $derived(refusal?.fields.some((f) => f.field.endsWith('standing')) ?? false)
  const path = $derived({ farm, id: field.id, layout: chosen })
  const header = $derived({ 'If-Match': one?.version ?? 0 })

  type Row = { label: string; of: (l: Schemas['LayoutView']) => string }
  const rows: Row[] = [
    { label: 'Paddocks', of: (l) => String(l.paddocks.length) },
    { label: 'Mean area', of: (l) => withUnit(l.figures.mean_area.value, 'ha', house.system) },
    { label: 'Area, largest and smallest differ by', of: (l) => withUnit(l.figures.area_spread.value, 'share', house.system, 0) },
    { label: 'Feed, most and least differ by', of: (l) => withUnit(l.figures.feed_spread.value, 'share', house.system, 0) },
    { label: 'Fence inside', of: (l) => withUnit(l.figures.new_fence.value, 'm', house.system, 0) },
    { label: 'To water', of: (l) => (l.figures.to_water ? withUnit(l.figures.to_water.value, 'm', house.system, 0) : '–') },
    { label: 'Rest', of: (l) => (l.figures.rest ? withUnit(l.figures.rest.value, 'day', house.system, 0) : '–') },
  ]
  const when = (l: Schemas['LayoutView']) =>
    l.spans.map((s) => `${s.from.slice(5)} – ${s.until ? s.until.slice(5) : '…'}`).join(', ')

  async function use() {
    const went = await edit(write, farm, `${field.name} is “${one?.name}”${from ? ` from ${from}` : ''}.`, () =>
      ask(
        api.POST('/api/farms/{farm}/fields/{id}/layouts/{layout}/use', {
          params: { path, header },
          body: {
            from: from || undefined,
            until: until || undefined,
            standing: Object.entries(standing).map(([id, part]) => ({ mob_id: id, part: Number(part) })),
          },
        }),
      ),
    )
    if (went) chosen = ''
  }

  async function rename(field: HTMLInputElement) {
    const name = field.value
    const went = await edit(write, farm, `The layout is called “${name}”.`, () =>
      ask(api.PUT('/api/farms/{farm}/fields/{id}/layouts/{layout}', { params: { path, header }, body: { name } })),
    )
    if (!went) field.value = one?.name ?? ''
  }

  async function remove() {
    const went = await edit(write, farm, `“${one?.name}” is off the list.`, () =>
      ask(api.DELETE('/api/farms/{farm}/fields/{id}/layouts/{layout}', { params: { path, header } })),
    )
    if (went) chosen = ''
  }
</script>

{#if layouts.data}
  <div class="plain-scroll overflow-x-auto">
    <table class="w-full text-sm">
      <thead>
        <tr>
          <th class="text-left font-normal text-soft"><span class="sr-only">Figure</span></th>
          {#each layouts.data as l (l.id)}
            <th class="px-1.5 py-1 text-right align-bottom">
              <button
                type="button"
                class="min-h-9 text-right font-semibold underline-offset-4 hover:underline {l.holds ? 'text-tarn' : ''}"
                aria-pressed={chosen === l.id}
                onclick={() => ((chosen = chosen === l.id ? '' : l.id), (write.refusal = null))}>{l.name}</button
              >
              <div class="font-normal text-soft">{l.holds ? 'now' : when(l) || 'kept'}</div>
            </th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each rows as r (r.label)}
          <tr class="border-t border-line">
            <td class="py-1 text-soft">{r.label}</td>
            {#each layouts.data as l (l.id)}<td class="figure px-1.5 text-right whitespace-nowrap">{r.of(l)}</td>{/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#if one && house.may('manager')}
    <div class="mt-3 flex flex-col gap-3 rounded-xl border border-line p-3">
      <form
        class="flex items-end gap-2"
        onsubmit={(e) => (e.preventDefault(), void rename(e.currentTarget.elements.namedItem('name') as HTMLInputElement))}
      >
        <label class="flex min-w-0 flex-1 flex-col gap-1 text-sm font-semibold"
          >Called
          <input
            name="name"
            class="w-full rounded-lg border border-soft bg-surface px-3 py-2 text-base font-semibold"
            value={one.name}
          /></label
        >
        <Button type="submit">Rename</Button>
      </form>
      <div class="grid grid-cols-2 gap-3">
        <TextField label="From" type="date" bind:value={from} error={refusal?.at('from')} />
        <TextField label="Until" type="date" bind:value={until} error={refusal?.at('until')} />
      </div>
      {#if asked}
        {#each mobs.filter((m) => m.paddock_id) as m (m.id)}
          <Choice
            label="{m.name}: in which?"
            value={standing[m.id] ?? ''}
            options={[{ value: '', label: 'not here' }, ...one.paddocks.map((p, i) => ({ value: String(i + 1), label: p.name }))]}
            onchange={(v) => (standing[m.id] = v)}
          />
        {/each}
      {/if}
      <Refused {refusal} shown={['from', 'until']} />
      <div class="flex flex-wrap gap-2">
        <Button kind="main" disabled={one.holds && !from} onclick={use}>Use it</Button>
        <Button disabled={one.holds} onclick={remove}>Delete</Button>
      </div>
    </div>
  {/if}
{/if}
