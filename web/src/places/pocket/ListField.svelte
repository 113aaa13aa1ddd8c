<script lang="ts">
  import type { Refusal, Schemas } from '../../api/client'
  import Button from '../../ui/Button.svelte'
  import { house } from '../../ui/house.svelte'
  import Icon from '../../ui/Icon.svelte'
  import KindOfAnimal from './KindOfAnimal.svelte'
  import NumberField from '../../ui/NumberField.svelte'
  import { editable, scale, stored } from '../../ui/units'

  // A list of rows (classes, pairs, paddocks) or of plain readings.
  let { field, rows = $bindable(), refusal }: { field: Schemas['Field']; rows: unknown[]; refusal: Refusal | null } = $props()

  const plain = $derived(field.type === 'numbers')
  const inputs = $derived(
    (field.fields ?? []).filter((f) => f.required || ['supplement_kg_dm', 'substitution', 'previous_kg_dm_ha'].includes(f.key)),
  )
  const symbol = $derived(scale(field.unit, house.system).symbol)
  // svelte-ignore state_referenced_locally
  let text = $state(plain ? (rows as number[]).map((v) => editable(v, field.unit, house.system)).join('  ') : '')

  function readText(t: string) {
    text = t
    rows = t
      .split(/[\s;]+/)
      .filter(Boolean)
      .map((w) => {
        const n = Number(w.replace(',', '.'))
        return Number.isNaN(n) ? w : stored(n, field.unit, house.system)
      })
  }

  type Row = Record<string, unknown>
  const set = (i: number, key: string, v: unknown) => (rows = rows.map((r, k) => (k === i ? { ...(r as Row), [key]: v } : r)))
  const add = () => (rows = [...rows, structuredClone($state.snapshot(rows[rows.length - 1]) ?? {})])
</script>

{#if plain}
  <div class="flex flex-col gap-1">
    <label for="list-{field.key}" class="text-sm font-semibold">{field.label}{symbol ? `, ${symbol}` : ''}</label>
    <textarea
      id="list-{field.key}"
      rows="4"
      class="rounded-lg border border-soft bg-surface px-3 py-2 text-base font-semibold"
      value={text}
      oninput={(e) => readText(e.currentTarget.value)}></textarea>
    <p class="text-sm text-soft">{rows.length} figures, a blank between them.</p>
  </div>
{:else}
  <fieldset class="flex min-w-0 flex-col gap-3">
    <legend class="mb-1 text-sm font-semibold">{field.label}</legend>
    {#each rows as row, i (i)}
      <div class="relative rounded-xl border border-line bg-surface p-3 {rows.length > 1 ? 'pr-11' : ''}">
        <div class="grid grid-cols-2 items-end gap-3 max-md:grid-cols-1">
          {#if inputs.some((f) => f.key === 'live_weight_kg')}
            <div class="col-span-full">
              <KindOfAnimal
                onchoose={(kind) =>
                  (rows = rows.map((r, k) =>
                    k === i
                      ? {
                          ...(r as Row),
                          name: kind.name,
                          live_weight_kg: kind.live_weight_kg.typical,
                          intake_share: kind.intake_share.typical,
                        }
                      : r,
                  ))}
              />
            </div>
          {/if}
          {#each inputs as f (f.key)}
            {#if f.type === 'text'}
              <label class="flex flex-col gap-1 text-sm font-semibold"
                >{f.label}
                <input
                  class="rounded-lg border border-soft bg-surface px-3 py-1.5 text-base font-normal"
                  value={String((row as Row)[f.key] ?? '')}
                  oninput={(e) => set(i, f.key, e.currentTarget.value)}
                />
              </label>
            {:else if f.type === 'yes_no'}
              <label class="flex min-h-10 items-center gap-2"
                ><input
                  type="checkbox"
                  class="size-5 rounded border-soft"
                  checked={!!(row as Row)[f.key]}
                  onchange={(e) => set(i, f.key, e.currentTarget.checked)}
                />{f.label}</label
              >
            {:else}
              <NumberField
                compact
                label={f.label}
                unit={f.unit}
                bind:value={() => ((row as Row)[f.key] as number | null) ?? null, (v) => set(i, f.key, v ?? undefined)}
                error={refusal?.fields.find((p) => p.field === `${field.key}[${i}].${f.key}`)?.message}
              />
            {/if}
          {/each}
          {#if rows.length > 1}
            <button
              type="button"
              class="absolute top-1 right-1 rounded p-2 text-soft hover:text-stop"
              aria-label="Take row {i + 1} out"
              onclick={() => (rows = rows.filter((_, k) => k !== i))}
            >
              <Icon name="close" size={20} />
            </button>
          {/if}
        </div>
      </div>
    {/each}
    <div><Button kind="quiet" onclick={add}>One more</Button></div>
  </fieldset>
{/if}
