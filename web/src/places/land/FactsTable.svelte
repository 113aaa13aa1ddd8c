<script lang="ts">
  import { tick } from 'svelte'
  import { many } from '../../ui/many'
  import { api, ask, type Schemas } from '../../api/client'
  import { Write } from '../../api/write.svelte'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Refused from '../../ui/Refused.svelte'
  import Search from '../../ui/Search.svelte'
  import { found, sayFound, Seen } from '../../ui/seen.svelte'
  import { number, scale, stored } from '../../ui/units'
  import { undoLand } from './ground'
  import { facts, type Facts } from './facts'

  // Many paddocks at once: sort, select, fill down, and save all of it or none.
  interface Props {
    farm: string
    land: Schemas['LandView']
    swards: Schemas['Sward'][]
    selected: string[]
    onclose: () => void
  }
  let { farm, land, swards, selected = $bindable(), onclose }: Props = $props()

  type Key = keyof Facts
  interface Column {
    key: Key
    label: string
    width: string
    unit?: string
    options?: { value: string; label: string }[]
  }
  const plain = (...values: string[]) => values.map((v) => ({ value: v, label: v || '–' }))
  const columns = $derived<Column[]>([
    { key: 'name', label: 'Paddock', width: '9.5rem' },
    { key: 'sward_id', label: 'Sward', width: '11rem', options: swards.map((s) => ({ value: s.id, label: s.name })) },
    { key: 'growth_factor', label: 'Grows as usual', width: '6rem', unit: 'share' },
    { key: 'legume_share', label: 'Legume %', width: '5.5rem', unit: 'share' },
    { key: 'slope_degrees', label: 'Slope °', width: '4.5rem', unit: '' },
    { key: 'aspect', label: 'Slope faces', width: '5rem', options: plain('', 'N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW') },
    { key: 'wetness', label: 'Wetness', width: '6rem', options: plain('', 'dry', 'moist', 'wet') },
    { key: 'shade', label: 'Shade', width: '6rem', options: plain('', 'none', 'some', 'plenty') },
    {
      key: 'purpose',
      label: 'Kept for',
      width: '7rem',
      options: [
        { value: 'grazing', label: 'grazing' },
        { value: 'loafing', label: 'resting place' },
        { value: 'reserve', label: 'reserve' },
      ],
    },
    { key: 'closed_for', label: 'Closed for', width: '9rem' },
    { key: 'notes', label: 'Notes', width: '14rem' },
  ])

  let changed = $state<Record<string, Facts>>({})
  let sortBy = $state<Key | 'area' | 'mass'>('name')
  let down = $state(false)
  const write = new Write()
  const refusal = $derived(write.refusal)
  let anchor = -1

  const value = (p: Schemas['PaddockView'], key: Key) => (changed[p.id] ?? facts(p))[key]
  const rank = (p: Schemas['PaddockView']) =>
    sortBy === 'area' ? p.area_ha : sortBy === 'mass' ? p.mass.forage_mass_kg_dm_ha : value(p, sortBy)
  let words = $state('')
  const rows = $derived(
    found(land.paddocks, words, (p) => p.name).toSorted((a, b) => {
      const [x, y] = [rank(a), rank(b)]
      const order =
        typeof x === 'number' && typeof y === 'number'
          ? x - y
          : String(x ?? '').localeCompare(String(y ?? ''), undefined, { numeric: true })
      return down ? -order : order
    }),
  )
  const seen = new Seen(() => rows.length, 37)
  const dirty = $derived(Object.keys(changed))

  function set(id: string, key: Key, to: unknown) {
    const p = land.paddocks.find((x) => x.id === id)
    if (p) changed[id] = { ...(changed[id] ?? facts(p)), [key]: to }
  }

  function typed(c: Column, text: string): unknown {
    if (c.unit === undefined) return text
    const n = Number(text.replace(/\s/g, '').replace(',', '.'))
    return text.trim() === '' || Number.isNaN(n) ? (c.key === 'growth_factor' ? 1 : null) : stored(n, c.unit, house.system)
  }

  const shown = (p: Schemas['PaddockView'], c: Column) => {
    const v = value(p, c.key)
    return c.unit === undefined
      ? String(v ?? '')
      : v === null || v === undefined
        ? ''
        : number(v as number, c.unit, house.system, c.unit === 'share' ? 1 : c.unit === 'ratio' ? 2 : 0)
  }

  function sort(key: typeof sortBy) {
    down = sortBy === key ? !down : false
    sortBy = key
  }

  function select(i: number, e: MouseEvent) {
    const id = rows[i]!.id
    if (e.shiftKey && anchor >= 0) {
      const [a, b] = [Math.min(anchor, i), Math.max(anchor, i)]
      selected = [...new Set([...selected, ...rows.slice(a, b + 1).map((r) => r.id)])]
    } else {
      selected = selected.includes(id) ? selected.filter((s) => s !== id) : [...selected, id]
      anchor = i
    }
  }

  /** Ctrl+D fills a cell's value down: into the chosen rows, or the next one. */
  function fill(i: number, c: Column) {
    const from = value(rows[i]!, c.key)
    const into = selected.length > 1 ? selected : rows[i + 1] ? [rows[i + 1]!.id] : []
    for (const id of into) if (id !== rows[i]!.id) set(id, c.key, from)
    if (selected.length <= 1) void focus(i + 1, c.key)
  }

  async function focus(i: number, key: string) {
    if (i < 0 || i >= rows.length) return
    seen.show(i)
    await tick()
    document.querySelector<HTMLElement>(`[data-cell="${i} ${key}"]`)?.focus()
  }

  function key(e: KeyboardEvent, i: number, c: Column) {
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'd') fill(i, c)
    else if (e.key === 'Enter' || (e.key === 'ArrowDown' && !c.options)) void focus(i + 1, c.key)
    else if (e.key === 'ArrowUp' && !c.options) void focus(i - 1, c.key)
    else return
    e.preventDefault()
  }

  async function save() {
    const n = dirty.length
    await write.send(
      () =>
        ask(
          api.PUT('/api/farms/{farm}/paddocks', {
            params: { path: { farm } },
            body: {
              confirmed: write.confirmed,
              paddocks: dirty.map((id) => {
                const p = land.paddocks.find((x) => x.id === id)!
                return { id, version: p.version, ...changed[id]! }
              }),
            },
          }),
        ),
      { say: `${n} ${n === 1 ? 'paddock' : 'paddocks'} saved.`, undo: () => undoLand(farm), then: () => (changed = {}) },
    )
  }
</script>

<section
  class="flex min-h-0 min-w-0 flex-1 flex-col border-l border-line bg-surface max-md:border-t max-md:border-l-0"
  aria-label="Facts of the paddocks"
>
  <header class="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2.5">
    <h2 class="flex-1 whitespace-nowrap">Facts of {many(land.paddocks.length, 'paddock')}</h2>
    <div class="w-44"><Search bind:words said={sayFound(rows.length)} /></div>
    <span class="text-sm text-soft"
      >{selected.length > 1 ? `${selected.length} chosen: Ctrl+D fills them` : 'Ctrl+D fills down'}</span
    >
    <Button kind="main" disabled={!dirty.length} onclick={save}>Save {dirty.length || ''}</Button>
    {#if dirty.length}<Button onclick={() => (changed = {})}>Drop</Button>{/if}
    <a class="font-semibold text-tarn underline-offset-4 hover:underline" href="/api/farms/{farm}/land/export/csv" download
      >.csv</a
    >
    <Button kind="quiet" onclick={onclose}>Close</Button>
  </header>
  <div class="px-4"><Refused {refusal} bind:confirmed={write.confirmed} /></div>
  <div class="plain-scroll min-h-0 flex-1 overflow-x-auto" {@attach seen.within}>
    <table class="border-separate border-spacing-0 text-sm" aria-rowcount={rows.length + 1}>
      <thead>
        <tr>
          <th class="sticky top-0 left-0 z-20 w-9 border-b border-line bg-surface"><span class="sr-only">Chosen</span></th>
          {#each columns as c, k (c.key)}
            <th
              class="sticky top-0 border-b border-line bg-surface p-0 text-left {k === 0 ? 'left-9 z-20' : 'z-10'}"
              aria-sort={sortBy === c.key ? (down ? 'descending' : 'ascending') : 'none'}
              ><button
                type="button"
                class="w-full px-2 py-2 text-left font-semibold whitespace-nowrap hover:text-tarn"
                onclick={() => sort(c.key)}>{c.label}{sortBy === c.key ? (down ? ' ↓' : ' ↑') : ''}</button
              ></th
            >
            {#if k === 0}
              {#each [['area', scale('ha', house.system).symbol], ['mass', scale('kg_ha', house.system).symbol]] as [key, label] (key)}
                <th class="sticky top-0 z-10 border-b border-line bg-surface p-0 text-right"
                  ><button type="button" class="px-2 py-2 font-semibold hover:text-tarn" onclick={() => sort(key as 'area')}
                    >{label}{sortBy === key ? (down ? ' ↓' : ' ↑') : ''}</button
                  ></th
                >
              {/each}
            {/if}
          {/each}
        </tr>
      </thead>
      <tbody>
        {#if seen.before}<tr aria-hidden="true" style:height="{seen.before}px"></tr>{/if}
        {#each rows.slice(seen.from, seen.to) as p, k (p.id)}
          {@const i = seen.from + k}
          {@const on = selected.includes(p.id)}
          <tr aria-rowindex={i + 2} class="h-[37px] {on ? 'bg-tarn-wash' : changed[p.id] ? 'bg-now-wash' : ''}">
            <td class="sticky left-0 z-10 border-b border-line bg-surface px-2"
              ><input
                type="checkbox"
                class="size-5 rounded border-soft"
                checked={on}
                aria-label="Choose {p.name}"
                onclick={(e) => select(i, e)}
              /></td
            >
            {#each columns as c, k (c.key)}
              <td class="border-b border-line p-0 {k === 0 ? 'sticky left-9 z-10 bg-surface' : ''}">
                {#if c.options}
                  <select
                    data-cell="{i} {c.key}"
                    aria-label="{c.label} of {p.name}"
                    class="w-full border-0 bg-transparent py-1.5 pr-7 pl-2 text-sm"
                    style:width={c.width}
                    value={shown(p, c)}
                    onchange={(e) => set(p.id, c.key, e.currentTarget.value)}
                    onkeydown={(e) => key(e, i, c)}
                  >
                    {#each c.options as o (o.value)}<option value={o.value}>{o.label}</option>{/each}
                  </select>
                {:else}
                  <input
                    data-cell="{i} {c.key}"
                    aria-label="{c.label} of {p.name}"
                    class="border-0 bg-transparent px-2 py-1.5 text-sm {k === 0 ? 'font-semibold' : ''} {c.unit !== undefined
                      ? 'text-right'
                      : ''}"
                    style:width={c.width}
                    value={shown(p, c)}
                    onchange={(e) => set(p.id, c.key, typed(c, e.currentTarget.value))}
                    onkeydown={(e) => key(e, i, c)}
                  />
                {/if}
              </td>
              {#if k === 0}
                <td class="figure border-b border-line px-2 text-right">{number(p.area_ha, 'ha', house.system)}</td>
                <td class="figure border-b border-line px-2 text-right"
                  >{number(p.mass.forage_mass_kg_dm_ha, 'kg_ha', house.system)}</td
                >
              {/if}
            {/each}
          </tr>
        {/each}
        {#if seen.after}<tr aria-hidden="true" style:height="{seen.after}px"></tr>{/if}
      </tbody>
    </table>
  </div>
</section>
